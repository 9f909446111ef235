package posada.cli;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.image.BufferedImage;
import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.settings.Pass;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;
import posada.formats.exr.ExrWriter;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * What options do to the files that come out. The camera "right" sees nothing but the environment.
 */
class OptionsTest extends CliCase {
  private static final JsonMapper JSON = new JsonMapper();

  private Path made(String name) {
    return folder.resolve("o").resolve(name);
  }

  private int run(Path from, String line) {
    List<String> args = new ArrayList<>(List.of("render", from.toString()));
    args.addAll(List.of("--size", "16x9", "--out", folder + "/o"));
    args.addAll(line.contains("--samples") ? List.of() : List.of("--samples", "2"));
    args.addAll(List.of("--name", "{pass}.{frame:1}"));
    args.addAll(Arrays.asList(line.split(" ")));
    return Main.run(args.toArray(new String[0]));
  }

  private void render(Path from, String line) {
    assertEquals(0, run(from, line), told.toString());
  }

  private int[] pixels(String file) throws IOException {
    BufferedImage i = ImageIO.read(made(file).toFile());
    return i.getRGB(0, 0, i.getWidth(), i.getHeight(), null, 0, i.getWidth());
  }

  private float[] channel(String file, String name) throws IOException {
    return ExrReader.read(made(file)).find(name);
  }

  /** An even picture of all directions is what a camera sees that sees nothing else. */
  @Test
  void anEnvironmentIsSeen() throws Exception {
    int n = 8 * 4;
    List<Channel> channels = new ArrayList<>();
    for (String c : List.of("R", "G", "B")) {
      float[] v = new float[n];
      Arrays.fill(v, c.equals("R") ? 0.5f : c.equals("G") ? 0.25f : 2);
      channels.add(new Channel(c, Precision.FLOAT, v));
    }
    Path around = folder.resolve("around.exr");
    Files.write(around, ExrWriter.encode(new FrameImage(8, 4, channels), ExrHeader.NONE));
    render(scene, "--camera right --frames 1 --environment " + around);
    for (float r : channel("beauty.1.exr", "R")) {
      assertEquals(0.5f, r, 1e-3f);
    }
    for (float b : channel("beauty.1.exr", "B")) {
      assertEquals(2, b, 4e-3f);
    }
    render(scene, "--camera right --frames 2 --background transparent --environment " + around);
    for (String c : List.of("R", "B", "A")) {
      for (float v : channel("beauty.2.exr", c)) {
        assertEquals(0, v, c);
      }
    }
    assertEquals(Main.FAILED, run(scene, "--camera right --frames 3 --environment " + scene));
    assertTrue(told.toString().contains("two.gltf"), told.toString());
  }

  @Test
  void aColourFillsDisplayFiles() throws Exception {
    render(scene, "--camera right --frames 1 --format png --background #ff8001");
    for (int rgb : pixels("beauty.1.png")) {
      assertEquals(0xffff8001, rgb);
    }
    for (String wrong : List.of("#ff80", "blue")) {
      assertEquals(Main.USAGE, run(scene, "--camera right --frames 2 --background " + wrong));
      assertTrue(told.toString().contains(wrong), told.toString());
    }
  }

  private static long unpacked() throws IOException {
    try (Stream<Path> all = Files.list(Path.of(System.getProperty("java.io.tmpdir")))) {
      return all.filter(p -> p.getFileName().toString().startsWith("posada-scene-")).count();
    }
  }

  /** A packed scene gives the same picture, and leaves nothing behind, not even if it is none. */
  @Test
  void aZipIsUnpackedAndRemoved() throws Exception {
    long before = unpacked();
    render(scene, "--camera left --frames 1 --format png");
    int[] plain = pixels("beauty.1.png");
    Path zip = folder.resolve("two.zip");
    try (var z = new ZipOutputStream(Files.newOutputStream(zip))) {
      z.putNextEntry(new ZipEntry("deeper/two.gltf"));
      z.write(Files.readAllBytes(scene));
    }
    render(zip, "--camera left --frames 1 --format png --overwrite");
    assertArrayEquals(plain, pixels("beauty.1.png"));
    Path empty = Files.write(folder.resolve("empty.zip"), new byte[] {'P', 'K', 5, 6});
    assertFalse(run(empty, "--camera left --frames 2") == 0);
    assertTrue(told.toString().contains("empty.zip"), told.toString());
    assertEquals(before, unpacked());
  }

  @Test
  void aLayerSaysWhoTakesPart() throws Exception {
    Path layer = folder.resolve("layer.json");
    Files.writeString(layer, "{\"layer\": {\"name\":\"none\",\"otherwise\":\"unseen\"}}");
    render(scene, "--camera left --frames 1 --background transparent");
    render(scene, "--camera left --frames 2 --background transparent --layer " + layer);
    float most = 0;
    for (float a : channel("beauty.1.exr", "A")) {
      most = Math.max(most, a);
    }
    assertEquals(1, most);
    for (float a : channel("beauty.2.exr", "A")) {
      assertEquals(0, a);
    }
    Files.writeString(
        layer, "{\"layer\": {\"objects\":[{\"match\":[\"house\"],\"role\":\"seen\"}]}}");
    assertEquals(Main.USAGE, run(scene, "--camera left --frames 3 --layer " + layer));
    assertTrue(told.toString().contains("house"), told.toString());
  }

  @Test
  void lightStandsForAllItsParts() throws Exception {
    render(scene, "--camera left --frames 1 --passes beauty,light --per-pass");
    for (Pass p : Pass.LIGHT_PARTS) {
      assertTrue(Files.exists(made(p.label() + ".1.exr")), p.label());
    }
  }

  /** Debian's own tool tells whether a file is deep. */
  @Test
  void deepFilesAreDeep() throws Exception {
    render(scene, "--camera left --frames 1 --deep");
    List<String> kinds = new ArrayList<>();
    try (Stream<Path> all = Files.list(folder.resolve("o"))) {
      for (Path p : all.toList()) {
        Process e = new ProcessBuilder("exrheader", p.toString()).redirectErrorStream(true).start();
        String text = new String(e.getInputStream().readAllBytes());
        kinds.add(text.contains("deepscanline") ? "deep" : "flat");
      }
    }
    kinds.sort(null);
    assertEquals(List.of("deep", "flat"), kinds);
  }

  @Test
  void timeThatRunsOutIsTold() throws Exception {
    render(scene, "--camera left --frames 1 --samples 4096 --limit 0.001");
    assertTrue(told.toString().contains("out of time at "), told.toString());
    assertTrue(channel("beauty.1.exr", "R").length == 16 * 9);
  }

  /** The scene with its first camera on the move from second 0.5 to 1. */
  private Path moving() throws IOException {
    ObjectNode s = (ObjectNode) JSON.readTree(scene.toFile());
    ByteBuffer b = ByteBuffer.allocate(32).order(ByteOrder.LITTLE_ENDIAN);
    for (float f : new float[] {0.5f, 1, 0, 0, 3, 0, 0, 4}) {
      b.putFloat(f);
    }
    String data = Base64.getEncoder().encodeToString(b.array());
    s.withArray("buffers")
        .addObject()
        .put("byteLength", 32)
        .put("uri", "data:application/octet-stream;base64," + data);
    JsonNode more =
        JSON.readTree(
            """
            {"views":[{"buffer":1,"byteLength":8},{"buffer":1,"byteOffset":8,"byteLength":24}],
             "accessors":[{"bufferView":1,"componentType":5126,"count":2,"type":"SCALAR"},
               {"bufferView":2,"componentType":5126,"count":2,"type":"VEC3"}],
             "animations":[{"name":"back","samplers":[{"input":1,"output":2}],
               "channels":[{"sampler":0,"target":{"node":1,"path":"translation"}}]}]}
            """);
    more.get("views").forEach(s.withArray("bufferViews")::add);
    more.get("accessors").forEach(s.withArray("accessors")::add);
    s.set("animations", more.get("animations"));
    return Files.write(folder.resolve("moving.gltf"), JSON.writeValueAsBytes(s));
  }

  @Test
  void withoutFramesTheAnimationTellsThem() throws Exception {
    Path moving = moving();
    assertEquals(0, Main.run("info", moving.toString(), "--fps", "4"));
    assertTrue(
        said.toString().contains("animation back, 0.500 s, frames 2-4 at 4 fps"), said.toString());
    assertTrue(said.toString().contains("left, perspective, 45.8° vertical field of view, moves"));
    render(moving, "--camera left --fps 4 --format png");
    try (Stream<Path> all = Files.list(folder.resolve("o"))) {
      assertEquals(
          List.of("beauty.2.png", "beauty.3.png", "beauty.4.png"),
          all.map(p -> p.getFileName().toString()).sorted().toList());
    }
  }

  /** Cleaned with those beside, all frames are clean; one frame twice is refused by name. */
  @Test
  void neighboursAreTakenByTheNumbersOfTheirFrames() throws Exception {
    Path moving = moving();
    render(moving, "--camera left --frames 2-4 --fps 4 --denoise guides --passes beauty,guides");
    List<String> args = new ArrayList<>(List.of("denoise"));
    try (Stream<Path> all = Files.list(folder.resolve("o"))) {
      all.filter(p -> p.toString().endsWith(".exr"))
          .map(Path::toString)
          .sorted()
          .forEach(args::add);
    }
    assertEquals(4, args.size(), args.toString());
    List<String> twice = new ArrayList<>(args);
    Path copy = Files.copy(Path.of(args.get(1)), folder.resolve("again.exr"));
    twice.addAll(List.of(copy.toString(), "--out", folder + "/clean"));
    assertEquals(Main.USAGE, Main.run(twice.toArray(new String[0])));
    assertTrue(told.toString().contains("again.exr and "), told.toString());
    assertFalse(Files.exists(folder.resolve("clean")));
    args.addAll(List.of("--neighbours", "--out", folder + "/clean"));
    assertEquals(0, Main.run(args.toArray(new String[0])), told.toString());
    try (Stream<Path> all = Files.list(folder.resolve("clean"))) {
      assertEquals(3, all.count());
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"-0.1", "1.5", "NaN"})
  void amountsOfDenoisingThatAreNoneAreRefused(String amount) {
    String out = folder + "/clean";
    assertEquals(
        Main.USAGE, Main.run("denoise", scene.toString(), "--amount", amount, "--out", out));
    assertTrue(told.toString().contains("0 .. 1 (got " + amount + ")"), told.toString());
  }
}
