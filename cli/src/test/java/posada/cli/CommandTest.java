package posada.cli;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import posada.core.settings.PassEntry;
import posada.formats.exr.ExrReader;

/** The commands as typed, in this process. */
class CommandTest extends CliCase {
  private int render(String... more) {
    String[] args = new String[more.length + 8];
    String[] first = {
      "render", scene.toString(), "--size", "32x18", "--samples", "2", "--out", folder + "/o"
    };
    System.arraycopy(first, 0, args, 0, 8);
    System.arraycopy(more, 0, args, 8, more.length);
    return Main.run(args);
  }

  @Test
  void infoListsCamerasAndRemarks() {
    assertEquals(0, Main.run("info", scene.toString()));
    assertTrue(
        said.toString().contains("camera    left, perspective, 45.8° vertical field of view"),
        said.toString());
    assertEquals(0, Main.run("info", scene.toString(), "--json"));
    assertTrue(said.toString().contains("\"triangles\" : 1"));
  }

  @Test
  void renderWritesEveryFile() {
    int code =
        render(
            "--camera",
            "left",
            "--frames",
            "3-4",
            "--format",
            "exr,png",
            "--json",
            "--passes",
            "beauty,depth,normal,albedo",
            "--name",
            "{camera}_{pass}.{frame:3}");
    assertEquals(0, code, told.toString());
    for (String f : new String[] {"left_all.003.exr", "left_beauty.004.png"}) {
      assertTrue(Files.exists(folder.resolve("o").resolve(f)), f);
    }
    assertEquals(2, said.toString().lines().count());
  }

  @Test
  void unknownThingsAreAnsweredWithThoseThatExist() {
    assertEquals(Main.USAGE, render("--camera", "middle"));
    assertTrue(told.toString().contains("left, right"), told.toString());
    assertEquals(Main.USAGE, render());
    assertEquals(Main.USAGE, render("--camera", "left", "--passes", "beaty"));
    assertTrue(told.toString().contains("beauty, diffuse-direct, "));
    assertEquals(Main.USAGE, render("--camera", "left", "--sample", "4"));
    assertTrue(told.toString().contains("--samples"));
    assertEquals(Main.USAGE, render("--camera", "left", "--format", "bmp"));
    assertTrue(told.toString().contains("exr, png, png16"));
    assertEquals(Main.USAGE, Main.run("info", folder.resolve("gone.glb").toString()));
  }

  @Test
  void refusesOneNameForSeveralFramesAndFilesThatAreThere() {
    assertEquals(Main.USAGE, render("--camera", "left", "--frames", "1-2", "--name", "still"));
    assertTrue(told.toString().contains("{frame:4}"));
    assertFalse(Files.exists(folder.resolve("o")));
    assertEquals(0, render("--camera", "left", "--frames", "1"));
    assertEquals(Main.USAGE, render("--camera", "left", "--frames", "1"));
    assertTrue(told.toString().contains("--overwrite"));
    assertEquals(0, render("--camera", "left", "--frames", "1", "--overwrite"));
  }

  private Path frame(String name) {
    return folder.resolve("o").resolve(name);
  }

  @Test
  void aRegionAloneIsAsLargeAsItSays() throws Exception {
    assertEquals(
        0,
        render("--camera", "left", "--frames", "1", "--format", "png", "--crop", "4,2,10x6"),
        told.toString());
    var image = javax.imageio.ImageIO.read(frame("left_beauty.0001.png").toFile());
    assertEquals("10x6", image.getWidth() + "x" + image.getHeight());
    assertEquals(Main.USAGE, render("--camera", "left", "--frames", "2", "--crop", "30,2,10x6"));
    assertTrue(told.toString().contains("10x6"), told.toString());
    assertEquals(Main.USAGE, render("--camera", "left", "--frames", "2", "--crop", "wide"));
  }

  @Test
  void anExposureIsGivenOrMetered() throws Exception {
    String[] names = {"plain", "double", "metered"};
    String[][] options = {{}, {"--exposure", "1"}, {"--exposure", "meter"}};
    float[] mean = new float[3];
    for (int k = 0; k < 3; k++) {
      List<String> all = new ArrayList<>(List.of("--camera", "left", "--frames", "1"));
      all.addAll(List.of("--name", names[k], "--bounces", "1"));
      all.addAll(List.of(options[k]));
      assertEquals(0, render(all.toArray(String[]::new)), told.toString());
      for (float v : ExrReader.read(frame(names[k] + ".exr")).find("G")) {
        mean[k] += v;
      }
    }
    assertEquals(2 * mean[0], mean[1], 1e-3 * mean[1]);
    Matcher stops = Pattern.compile("exposure (\\S+) stops, as metered").matcher(told.toString());
    assertTrue(stops.find(), told.toString());
    assertEquals(Math.pow(2, Double.parseDouble(stops.group(1))), mean[2] / mean[0], 0.01);
    String said = ExrReader.texts(frame("metered.exr")).get("posadaExposure");
    assertEquals(stops.group(1), said);
    for (String wrong : List.of("bright", "40", "NaN")) {
      assertEquals(Main.USAGE, render("--camera", "left", "--frames", "1", "--exposure", wrong));
      assertTrue(told.toString().contains(wrong), told.toString());
    }
    render("--camera", "left", "--frames", "1", "--name", "white", "--exposure", "12");
    assertTrue(told.toString().contains("% of the picture is clipped"), told.toString());
  }

  @Test
  void anEstimateRendersNothing() {
    assertEquals(0, render("--camera", "left", "--estimate"), told.toString());
    assertTrue(said.toString().contains("MB"), said.toString());
    assertFalse(Files.exists(folder.resolve("o")));
  }

  @Test
  void settingsComeFromAFileAndOptionsWin() throws Exception {
    Path file =
        Files.writeString(
            folder.resolve("s.json"),
            "{\"recipe\": {\"sampling\": {\"most\": 8, \"least\": 1, \"seed\": 4}},"
                + " \"background\": false}");
    assertEquals(
        0,
        render("--camera", "left", "--frames", "1", "--json", "--settings", file.toString()),
        told.toString());
    assertTrue(said.toString().contains("\"samplesSpent\":1152"), said.toString());
    Files.writeString(file, "{\"recipe\": {\"sampling\": {\"mots\": 8}}}");
    assertEquals(
        Main.USAGE, render("--camera", "left", "--frames", "2", "--settings", file.toString()));
    assertTrue(told.toString().contains("mots"), told.toString());
  }

  @Test
  void noiseAndTimeEndAFrameEarlyAndItSaysSo() {
    assertEquals(
        0,
        render("--camera", "left", "--frames", "1", "--noise", "0.5", "--json"),
        told.toString());
    assertTrue(said.toString().contains("\"shareClean\":1"), said.toString());
    assertEquals(
        Main.USAGE, render("--camera", "left", "--frames", "2", "--noise", "-1"), told.toString());
    assertEquals(
        Main.USAGE, render("--camera", "left", "--frames", "2", "--limit", "-3"), told.toString());
  }

  @Test
  void environmentClipsAndThePictureSoFar() throws Exception {
    Path sofar = folder.resolve("sofar.png");
    assertEquals(
        0,
        render("--camera", "left", "--frames", "1", "--progress-image", sofar.toString()),
        told.toString());
    assertEquals(32, javax.imageio.ImageIO.read(sofar.toFile()).getWidth());
    assertEquals(Main.USAGE, render("--camera", "left", "--frames", "2", "--clips", "walk"));
    assertTrue(told.toString().contains("walk"), told.toString());
    Path no = Files.writeString(folder.resolve("no.exr"), "this is no picture");
    assertEquals(
        Main.FAILED, render("--camera", "left", "--frames", "2", "--environment", no.toString()));
    assertTrue(told.toString().contains("no.exr"), told.toString());
  }

  @Test
  void passesAreThoseOfTheCatalogueAndOfTheDocs() throws Exception {
    assertEquals(0, Main.run("passes", "--table"));
    String docs = Files.readString(Path.of("../docs/passes.md"));
    assertTrue(docs.contains(PassesCommand.table()), "docs/passes.md: bin/posada passes --table");
    for (PassEntry p : PassEntry.all()) {
      String picture = "passes/" + p.name() + ".jpg";
      assertTrue(docs.contains(picture), picture);
      assertTrue(Files.exists(Path.of("../docs", picture)), picture);
    }
    Path settings =
        Files.writeString(
            folder.resolve("p.json"),
            "{\"passes\": {\"wanted\": [\"light-groups\"], \"lightGroups\":"
                + " {\"air\": [\"environment\"]}, \"occlusionRadius\": 2}}");
    String file = settings.toString();
    assertEquals(
        0, render("--camera", "left", "--frames", "1", "--settings", file), told.toString());
    assertEquals(
        Set.of("light-air", "light-rest"),
        ExrReader.read(folder.resolve("o/left_light-groups.0001.exr")).channels().stream()
            .map(c -> c.name().substring(0, c.name().indexOf('.')))
            .collect(Collectors.toSet()));
    assertEquals(
        Main.USAGE,
        render("--camera", "left", "--frames", "2", "--passes", "beauty,dept"),
        told.toString());
    assertTrue(told.toString().contains("dept"), told.toString());
  }

  @Test
  void whatWasWrittenIsCleanedLater() throws Exception {
    assertEquals(0, render("--camera", "left", "--denoise", "picture", "--name", "now.{frame:4}"));
    assertEquals(0, render("--camera", "left", "--denoise", "guides", "--name", "raw.{frame:4}"));
    Path raw = folder.resolve("o/raw.0001.exr");
    Path clean = folder.resolve("clean");
    assertEquals(0, Main.run("denoise", "--out", clean.toString(), raw.toString()));
    var now = ExrReader.read(folder.resolve("o/now.0001.exr"));
    var later = ExrReader.read(clean.resolve("raw.0001.exr"));
    assertEquals(now.channels().size(), later.channels().size());
    assertArrayEquals(now.find("G"), later.find("G"), 2e-3f);
    assertEquals("1.0", ExrReader.texts(clean.resolve("raw.0001.exr")).get("posadaDenoised"));
    assertEquals(2, Main.run("denoise", "--out", clean.toString(), raw.toString()));
    assertTrue(told.toString().contains("--overwrite"), told.toString());
    Path unguided = folder.resolve("o/now.0001.exr");
    assertEquals(2, Main.run("denoise", "--out", folder + "/x", unguided.toString()));
    assertTrue(told.toString().contains("render with the pass guides"), told.toString());
    assertEquals(2, render("--camera", "left", "--denoise", "much"));
    assertTrue(told.toString().contains("off, picture, guides and both"), told.toString());
  }

  @Test
  void lightIsBakedReadAndUsed() throws Exception {
    Path light = folder.resolve("two.light");
    String[] bake = {
      "bake", scene.toString(), "--camera", "left", "--size", "32x18", "--out", light.toString()
    };
    assertEquals(0, Main.run(bake), told.toString());
    assertTrue(said.toString().contains("camera left, 32 x 18, frames 1"), said.toString());
    assertEquals(0, Main.run("info", light.toString()));
    assertEquals(2, Main.run(bake));
    assertTrue(told.toString().contains("--overwrite"), told.toString());
    assertEquals(0, render("--camera", "left", "--light", light.toString()));
    Path wants =
        Files.writeString(
            folder.resolve("w.json"), "{\"recipe\": {\"irradiance\": {\"use\": true}}}");
    assertEquals(2, render("--camera", "left", "--settings", wants.toString()));
    assertTrue(told.toString().contains("bake it with posada bake"), told.toString());
    int code = render("--camera", "left", "--light", light.toString(), "--bounces", "1");
    assertEquals(2, code);
    assertTrue(
        told.toString().contains("two.light does not fit: setting bounces is not as it was baked"),
        told.toString());
  }

  private int preview(String... more) {
    List<String> args =
        new ArrayList<>(
            List.of("preview", scene.toString(), "--camera", "left", "--size", "200x120"));
    args.addAll(List.of(more));
    return Main.run(args.toArray(new String[0]));
  }

  @Test
  void aPreviewIsAFilmOrASequence() throws Exception {
    Path film = folder.resolve("two.mp4");
    assertEquals(0, preview("--frames", "1-4", "--out", film.toString()), told.toString());
    assertTrue(told.toString().contains("4 of 4 frames"), told.toString());
    assertTrue(Files.size(film) > 500);
    assertEquals(2, preview("--frames", "1-4", "--out", film.toString()));
    assertTrue(told.toString().contains("--overwrite"), told.toString());
    Path recipe = Files.writeString(folder.resolve("p.json"), "{\"every\": 2, \"scale\": 50}");
    Path still = folder.resolve("still");
    String[] sequence = {"--frames", "1-4", "--recipe", recipe.toString(), "--out"};
    assertEquals(0, preview(with(sequence, still.toString())), told.toString());
    try (var files = Files.list(still)) {
      assertEquals(
          List.of("left_preview.0001.png", "left_preview.0003.png"),
          files.map(f -> f.getFileName().toString()).sorted().toList());
    }
    BufferedImage bare = ImageIO.read(still.resolve("left_preview.0001.png").toFile());
    assertEquals(100, bare.getWidth());
    Path told2 = folder.resolve("told");
    String[] all = {
      "--burn-ins", "frame,timecode,shot,camera,layer,lens,date", "--watermark", "LL"
    };
    assertEquals(0, preview(with(with(sequence, told2.toString()), all)), told.toString());
    BufferedImage marked = ImageIO.read(told2.resolve("left_preview.0001.png").toFile());
    assertTrue(differ(bare, marked, 0, 0, 50, 20), "nothing at the top left");
    assertTrue(differ(bare, marked, 50, 0, 100, 20), "nothing at the top right");
    assertTrue(differ(bare, marked, 0, 45, 50, 60), "nothing at the bottom left");
    assertTrue(differ(bare, marked, 60, 45, 100, 60), "nothing at the bottom right");
    assertTrue(differ(bare, marked, 40, 22, 60, 38), "no watermark");
    BufferedImage later = ImageIO.read(told2.resolve("left_preview.0003.png").toFile());
    assertTrue(differ(marked, later, 60, 45, 100, 60), "the frame's number stands still");
    assertEquals(2, preview("--style", "sketch", "--out", film.toString()));
    assertTrue(told.toString().contains("one of shaded, clay, outlined, depth"), told.toString());
  }

  private static String[] with(String[] first, String... more) {
    List<String> all = new ArrayList<>(List.of(first));
    all.addAll(List.of(more));
    return all.toArray(new String[0]);
  }

  private static boolean differ(BufferedImage a, BufferedImage b, int x0, int y0, int x1, int y1) {
    for (int y = y0; y < y1; y++) {
      for (int x = x0; x < x1; x++) {
        if (a.getRGB(x, y) != b.getRGB(x, y)) {
          return true;
        }
      }
    }
    return false;
  }
}
