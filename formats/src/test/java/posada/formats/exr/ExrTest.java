package posada.formats.exr;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.formats.Tools.run;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.MethodSource;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.image.ViewTransform;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.formats.display.DisplayFile;
import posada.formats.display.PngFile;

/** EXR and PNG files as Debian's exrheader and oiiotool read them, and as we read them back. */
class ExrTest {
  @TempDir Path folder;

  private static FrameImage picture(int w, int h) {
    Random random = new Random(w * 31L + h);
    float[][] planes = new float[5][w * h];
    for (float[] p : planes) {
      for (int i = 0; i < p.length; i++) {
        p[i] = random.nextFloat() * (i % 7 == 0 ? 900 : 1);
      }
    }
    return new FrameImage(
        w,
        h,
        List.of(
            new Channel("R", Precision.HALF, planes[0]),
            new Channel("G", Precision.HALF, planes[1]),
            new Channel("B", Precision.HALF, planes[2]),
            new Channel("A", Precision.HALF, planes[3]),
            new Channel("depth.Z", Precision.FLOAT, planes[4])));
  }

  private Path write(FrameImage image, ExrHeader header) throws IOException {
    return Files.write(folder.resolve("f.exr"), ExrWriter.encode(image, header));
  }

  @Test
  void debiansExrheaderReadsEveryAttribute() throws Exception {
    ExrHeader h =
        new ExrHeader(new FrameRate(24000 / 1001.0), 49, Map.of("posadaShot", "valley-wide"));
    String out = run("exrheader", write(picture(40, 37), h).toString());
    for (String want :
        List.of(
            "zip, multi-scanline blocks",
            "R, 16-bit floating-point",
            "depth.Z, 32-bit floating-point",
            "(0 0) - (39 36)",
            "24000/1001",
            "00:00:02:01",
            "posadaShot (type string): \"valley-wide\"",
            "red   (0.64 0.33)")) {
      assertTrue(out.contains(want), want + "\n" + out);
    }
  }

  @Test
  void debiansOiiotoolSeesTheSamePixels() throws Exception {
    FrameImage image = picture(33, 50);
    String out = run("oiiotool", "--info", "--dumpdata", write(image, ExrHeader.NONE).toString());
    assertTrue(out.contains("33 x   50, 5 channel"), out.lines().findFirst().orElse(""));
    String pixel = out.lines().filter(l -> l.contains("Pixel (7, 20)")).findFirst().orElseThrow();
    String[] v = pixel.substring(pixel.indexOf("):") + 2).strip().split("\\s+");
    int i = 20 * 33 + 7;
    for (int c = 0; c < 3; c++) {
      float half = Half.toFloat(Half.fromFloat(image.channels().get(c).data()[i]));
      assertEquals(half, Float.parseFloat(v[c]), 1e-4 * half + 1e-6);
    }
  }

  /** A picture that shrinks: smooth parts, flat parts and some noise. */
  private static FrameImage smooth(int w, int h) {
    Random random = new Random(w + h);
    float[][] planes = new float[3][w * h];
    for (int i = 0; i < w * h; i++) {
      int x = i % w, y = i / w;
      planes[0][i] = x < w / 3 ? 0 : (float) Math.sin(x * 0.1) * y;
      planes[1][i] = y / 8 * 0.25f;
      planes[2][i] = x * 1e-3f + random.nextInt(3) * 1e-4f;
    }
    return new FrameImage(
        w,
        h,
        List.of(
            new Channel("R", Precision.HALF, planes[0]),
            new Channel("Y", Precision.HALF, planes[1]),
            new Channel("depth.Z", Precision.FLOAT, planes[2])));
  }

  static List<FrameImage> pictures() {
    return List.of(picture(33, 50), smooth(1, 1), smooth(300, 70), smooth(17, 129), smooth(64, 64));
  }

  @ParameterizedTest
  @MethodSource("pictures")
  void whatOthersWriteIsReadBack(FrameImage image) throws Exception {
    Path ours = write(image, ExrHeader.NONE);
    for (String how : List.of("none", "rle", "zip", "zips", "piz")) {
      Path theirs = folder.resolve(how + ".exr");
      run("oiiotool", ours.toString(), "--compression", how, "-o", theirs.toString());
      FrameImage back = ExrReader.read(theirs);
      for (Channel c : ExrReader.read(ours).channels()) {
        assertArrayEquals(c.data(), back.find(c.name()), how + " " + c.name());
      }
    }
  }

  @ParameterizedTest
  @MethodSource("pictures")
  void whatWeWriteIsReadByOthers(FrameImage image) throws Exception {
    Path zip = write(image, ExrHeader.NONE);
    FrameImage back = ExrReader.read(zip);
    for (ExrCompression how : ExrCompression.values()) {
      if (!how.written()) {
        continue;
      }
      Path file = folder.resolve(how.label() + ".exr");
      byte[] bytes = ExrWriter.encode(image, ExrHeader.NONE, how, Workers.CALLER);
      Files.write(file, bytes);
      String said = run("exrheader", file.toString());
      assertTrue(said.contains("compression"), said);
      run("oiiotool", "--diff", zip.toString(), file.toString());
      for (Channel c : ExrReader.read(file).channels()) {
        assertArrayEquals(back.find(c.name()), c.data(), how.label());
      }
    }
  }

  @Test
  void longNamesOfChannelsAreFlagged() throws Exception {
    for (String name :
        List.of("light-" + "a".repeat(23) + ".R", "light-" + "a".repeat(40) + ".R")) {
      float[] d = {1, 2, 3, 4};
      Path file =
          write(
              new FrameImage(2, 2, List.of(new Channel(name, Precision.HALF, d))), ExrHeader.NONE);
      assertTrue(run("exrheader", file.toString()).contains(name + ","));
      boolean flagged = (Files.readAllBytes(file)[5] & 4) != 0;
      assertEquals(name.length() > 31, flagged);
      assertArrayEquals(d, ExrReader.read(file).find(name));
    }
  }

  @Test
  void aRegionIsADataWindowInTheFullFrame() throws Exception {
    FrameImage part = smooth(20, 10);
    FrameImage image =
        new FrameImage(
            20, 10, new FrameImage.Window(-3, 37, 64, 40), part.channels(), Map.of("a", "b"));
    Path file = write(image, ExrHeader.NONE);
    String said = run("exrheader", file.toString());
    assertTrue(said.contains("dataWindow (type box2i): (-3 37) - (16 46)"), said);
    assertTrue(said.contains("displayWindow (type box2i): (0 0) - (63 39)"), said);
    FrameImage back = ExrReader.read(file);
    assertEquals(image.window(), back.window());
    FrameImage full = back.full();
    assertEquals(back.find("Y")[2 * 20 + 5], full.find("Y")[39 * 64 + 2]);
    assertEquals(0, full.find("Y")[39 * 64 + 17]);
    // Others put it in the same place.
    Path theirs = folder.resolve("full.exr");
    run("oiiotool", file.toString(), "--croptofull", "-o", theirs.toString());
    assertArrayEquals(full.find("depth.Z"), ExrReader.read(theirs).find("depth.Z"));
  }

  @Test
  void halvesRoundLikeTheStandard() {
    assertEquals(0x3c00, Half.fromFloat(1) & 0xffff);
    assertEquals(0x3c00, Half.fromFloat(1 + 0x1p-11f) & 0xffff, "a tie goes to even");
    assertEquals(0x3c01, Half.fromFloat(1 + 0x1.8p-11f) & 0xffff);
    assertEquals(0x0001, Half.fromFloat(0x1p-24f) & 0xffff);
    assertEquals(0x7bff, Half.fromFloat(1e10f) & 0xffff);
    for (int i = 0; i < 65536; i++) {
      float f = Half.toFloat((short) i);
      if (Float.isFinite(f)) {
        assertEquals(f, Half.toFloat(Half.fromFloat(f)));
      }
    }
  }

  @Test
  void damageIsAnErrorThatNamesTheFile() throws Exception {
    byte[] whole = ExrWriter.encode(picture(40, 40), ExrHeader.NONE);
    Random random = new Random(5);
    for (int i = 0; i < 600; i++) {
      byte[] bad = whole.clone();
      if (i % 3 == 0) {
        bad = java.util.Arrays.copyOf(bad, random.nextInt(bad.length));
      } else {
        for (int k = 0; k < 4; k++) {
          bad[random.nextInt(i % 3 == 1 ? 400 : bad.length)] = (byte) random.nextInt(256);
        }
      }
      byte[] given = bad;
      try {
        ExrReader.read("bad.exr", given, null);
      } catch (IOException e) {
        assertTrue(e.getMessage().startsWith("bad.exr"), e.getMessage());
      }
    }
    var e = assertThrows(IOException.class, () -> ExrReader.read("a.exr", new byte[40], null));
    assertTrue(e.getMessage().contains("a.exr"));
  }

  @Test
  void pngCarriesItsTextsAndSrgbValues() throws Exception {
    float[] grey = {0.21404114f, 0.0031308f, 1, 0};
    FrameImage image =
        new FrameImage(
            2,
            2,
            List.of(
                new Channel("R", Precision.HALF, grey),
                new Channel("G", Precision.HALF, grey),
                new Channel("B", Precision.HALF, grey),
                new Channel("A", Precision.HALF, new float[] {1, 1, 1, 1})));
    for (int bits : new int[] {8, 16}) {
      Path file = folder.resolve(bits + ".png");
      Files.write(
          file,
          PngFile.encode(
              ViewTransform.beauty(image, 0, false), bits, Map.of("posadaShot", "ümlaut")));
      assertEquals("ümlaut", PngFile.texts(file).get("posadaShot"));
      String out = run("oiiotool", "--info", "-v", file.toString());
      assertTrue(out.contains(bits == 8 ? "uint8 png" : "uint16 png"), out);
      String data = run("oiiotool", "--info", "--dumpdata", file.toString());
      String want = bits == 8 ? "128" : "32768";
      assertTrue(
          data.lines()
              .anyMatch(
                  l ->
                      l.contains("Pixel (0, 0)") && (l.contains(" " + want) || l.contains("0.50"))),
          data);
      assertEquals(0.21404114f, DisplayFile.linear(file).find("R")[0], 0.003);
    }
  }
}
