package posada.formats.files;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.Primaries;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.formats.exr.ExrReader;
import posada.formats.files.DeliveryColor.Encoding;
import posada.formats.files.DeliveryColor.Space;

/** Files in other colours, bits and groups; Debian's tools say what is in them. */
class DeliveryColorTest {
  @TempDir Path folder;

  private static Delivery delivery(
      List<FileFormat> formats, boolean apart, boolean alpha, DeliveryColor color) {
    Delivery d = Delivery.DEFAULT;
    return new Delivery(
        formats,
        "{pass}",
        d.compression(),
        false,
        apart,
        Delivery.ExrDepth.FLOAT,
        95,
        null,
        alpha,
        color,
        Set.of());
  }

  /** A picture of one colour, half covered, at a depth. */
  private static FrameImage picture(float r, float g, float b) {
    int n = 16 * 16;
    return new FrameImage(
        16,
        16,
        List.of(
            plane("R", n, r),
            plane("G", n, g),
            plane("B", n, b),
            plane("A", n, 1),
            plane("depth.Z", n, 7)));
  }

  private static Channel plane(String name, int n, float v) {
    float[] all = new float[n];
    java.util.Arrays.fill(all, v);
    return new Channel(name, Precision.FLOAT, all);
  }

  private static final PassSettings PASSES =
      PassSettings.BEAUTY.with(Set.of(Pass.BEAUTY, Pass.DEPTH));

  private FrameFiles write(Delivery d, PassSettings passes, float... rgb) throws IOException {
    FrameFiles files = new FrameFiles(folder, d, passes, Map.of(), new FrameRate(24), false);
    files.write(1, picture(rgb[0], rgb[1], rgb[2]), null, Map.of(), true, Workers.CALLER);
    return files;
  }

  private String tool(String... command) throws Exception {
    Process p = new ProcessBuilder(command).redirectErrorStream(true).start();
    String said = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertEquals(0, p.waitFor(), said);
    return said;
  }

  /** White stays white; pure red of BT.709 in ACEScg as ACES' own published matrix has it. */
  @Test
  void acescgIsTheAcademysOwn() throws Exception {
    DeliveryColor c = new DeliveryColor(Encoding.BY_FORMAT, 0, Space.ACESCG);
    write(delivery(List.of(FileFormat.EXR), false, true, c), PassSettings.BEAUTY, 1, 0, 0);
    Path file = folder.resolve("beauty.exr");
    FrameImage red = ExrReader.read(file);
    // AMPAS, aces-dev: sRGB to AP1 with Bradford adaptation, first column.
    assertEquals(0.613097, red.find("R")[0], 1e-4);
    assertEquals(0.070194, red.find("G")[0], 1e-4);
    assertEquals(0.020616, red.find("B")[0], 1e-4);
    assertTrue(ExrReader.primaries(file).near(Primaries.ACESCG));
    String header = tool("exrheader", file.toString());
    assertTrue(header.contains("red   (0.713 0.293)"), header);
    FrameImage back =
        WrittenPicture.read(
            new FrameFiles.Part(FileFormat.EXR, Set.of(Pass.BEAUTY), file), Set.of("R", "G", "B"));
    assertEquals(1, back.find("R")[0], 1e-5);
    assertEquals(0, back.find("G")[0], 1e-5);
    write(delivery(List.of(FileFormat.EXR), false, true, c), PassSettings.BEAUTY, 1, 1, 1);
    float[] white = ExrReader.read(file).find("B");
    assertEquals(1, white[0], 1e-5);
  }

  @ParameterizedTest
  @CsvSource({"PNG16, png", "TIFF16, tif", "JPEG, jpg"})
  void displayP3BearsItsProfile(FileFormat f, String ending) throws Exception {
    DeliveryColor c = new DeliveryColor(Encoding.BY_FORMAT, 0, Space.DISPLAY_P3);
    write(delivery(List.of(f), false, false, c), PassSettings.BEAUTY, 0, 1, 0);
    Path file = folder.resolve("beauty." + ending);
    String info = tool("oiiotool", "--info", "-v", file.toString());
    assertTrue(info.contains("Display P3"), info);
    // sRGB's green is known to be 0.4584, 0.9853, 0.2983 there; JPEG is not exact.
    String values = tool("oiiotool", file.toString(), "--printstats");
    assertTrue(values.contains("30041 64569 19549") || f == FileFormat.JPEG, values);
  }

  @Test
  void lightAndDataGoApart() throws Exception {
    Delivery d = delivery(List.of(FileFormat.EXR), true, false, DeliveryColor.DEFAULT);
    FrameFiles files = write(d, PASSES, 0.5f, 0.25f, 0.125f);
    assertEquals(
        List.of("beauty.exr", "depth.exr"),
        files.paths(1).stream().map(p -> p.getFileName().toString()).toList());
    FrameImage light = ExrReader.read(files.paths(1).get(0));
    assertNull(light.find("A"), "alpha is left out");
    assertNull(light.find("depth.Z"));
    assertArrayEquals(
        new float[] {7}, new float[] {ExrReader.read(files.paths(1).get(1)).find("depth.Z")[0]});
    String header = tool("exrheader", files.paths(1).get(0).toString());
    assertTrue(header.contains("R, 32-bit floating-point"), header);
  }

  @Test
  void anExrCanBeReadyToLookAt() throws Exception {
    DeliveryColor c = new DeliveryColor(Encoding.DISPLAY, 1, Space.REC709);
    Delivery d = delivery(List.of(FileFormat.EXR), false, true, c);
    FrameFiles files = write(d, PassSettings.BEAUTY, 0.1f, 0.25f, 4);
    FrameImage shown = ExrReader.read(files.paths(1).get(0));
    // sRGB of twice the light: IEC 61966-2-1.
    assertEquals(1.055 * Math.pow(0.2, 1 / 2.4) - 0.055, shown.find("R")[0], 1e-5);
    assertEquals(1, shown.find("B")[0], 1e-6);
    FrameFiles.Part part = files.parts(1).get(0);
    assertEquals(0.2, WrittenPicture.read(part, Set.of("R")).find("R")[0], 1e-5);
  }

  @Test
  void whatAFormatCannotHoldIsRefused() {
    DeliveryColor linear = new DeliveryColor(Encoding.SCENE_LINEAR, 0, Space.REC709);
    DeliveryColor p3 = new DeliveryColor(Encoding.BY_FORMAT, 0, Space.DISPLAY_P3);
    refused("png cannot hold", List.of(FileFormat.PNG8), linear);
    refused("tga has no room", List.of(FileFormat.TGA), p3);
    assertThrows(
        IllegalArgumentException.class,
        () -> new DeliveryColor(Encoding.BY_FORMAT, 11, Space.REC709));
  }

  private static void refused(String why, List<FileFormat> formats, DeliveryColor c) {
    String said =
        assertThrows(IllegalArgumentException.class, () -> delivery(formats, false, true, c))
            .getMessage();
    assertTrue(said.startsWith(why), said);
  }
}
