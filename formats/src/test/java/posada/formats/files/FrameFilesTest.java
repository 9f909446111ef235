package posada.formats.files;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.formats.Tools.run;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.function.Executable;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.EnumSource;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.formats.display.DisplayFile;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrReader;

class FrameFilesTest {
  private static final String NAMES = "{pass}/{camera}.{frame:4}";
  private static final Delivery DELIVERY =
      new Delivery(List.of(FileFormat.EXR), NAMES, ExrCompression.ZIP, false, 92, null);
  @TempDir Path folder;

  private FrameFiles files(FileFormat... formats) {
    return files(Set.of(Pass.BEAUTY), true, DELIVERY, formats);
  }

  private FrameFiles files(
      Set<Pass> passes, boolean skyShown, Delivery delivery, FileFormat... formats) {
    return new FrameFiles(
        folder,
        delivery.as(List.of(formats)),
        PassSettings.BEAUTY.with(passes),
        Map.of("camera", "eye"),
        new FrameRate(24),
        skyShown);
  }

  private static FrameImage picture() {
    return new FrameImage(
        1,
        1,
        List.of("R", "G", "B", "A").stream()
            .map(n -> new Channel(n, Precision.HALF, new float[] {0.5f}))
            .toList());
  }

  @Test
  void aFrameIsCompleteWhenAllItsFilesAreThereAndItsOwn() throws Exception {
    FrameFiles f = files(FileFormat.EXR, FileFormat.PNG16);
    assertFalse(f.complete(3, "abc"));
    f.write(3, picture(), null, Map.of(ExrHeader.FINGERPRINT, "abc"), false, Workers.CALLER);
    assertTrue(Files.exists(folder.resolve("beauty/eye.0003.exr")));
    assertTrue(f.complete(3, "abc"));
    assertFalse(f.complete(3, "other"));
    Files.delete(folder.resolve("beauty/eye.0003.png"));
    assertFalse(f.complete(3, "abc"));
  }

  @Test
  void leavesAPublishedFileAloneUnlessAsked() throws Exception {
    Path file = folder.resolve("a.bin");
    AtomicFile.publish(file, new byte[] {1}, false);
    assertThrows(
        FileAlreadyExistsException.class, () -> AtomicFile.publish(file, new byte[] {2}, false));
    assertArrayEquals(new byte[] {1}, Files.readAllBytes(file));
    AtomicFile.publish(file, new byte[] {2}, true);
    assertArrayEquals(new byte[] {2}, Files.readAllBytes(file));
  }

  @Test
  void aFailureLeavesNothingAndNamesTheFile() throws Exception {
    Path taken = Files.createDirectories(folder.resolve("x.exr/inside")).getParent();
    var e = assertThrows(IOException.class, () -> AtomicFile.publish(taken, new byte[9], true));
    assertTrue(e.getMessage().contains("x.exr"), e.getMessage());
    try (var all = Files.list(folder)) {
      assertEquals(1, all.count());
    }
  }

  /** Red, half covered, on the left and blue on the right; 40 x 3 pixels. */
  private static FrameImage halves() {
    float[][] c = new float[4][120];
    for (int i = 0; i < 120; i++) {
      boolean left = i % 40 < 20;
      c[0][i] = left ? 0.25f : 0;
      c[2][i] = left ? 0 : 0.5f;
      c[3][i] = left ? 0.5f : 1;
    }
    List<String> names = List.of("R", "G", "B", "A");
    List<Channel> channels = new ArrayList<>();
    for (int k = 0; k < 4; k++) {
      channels.add(new Channel(names.get(k), Precision.HALF, c[k]));
    }
    return new FrameImage(40, 3, channels);
  }

  @ParameterizedTest
  @EnumSource(FileFormat.class)
  void othersReadEachFormatAndWeKnowOurOwn(FileFormat format) throws Exception {
    boolean alpha = format != FileFormat.JPEG;
    FrameFiles f = files(Set.of(Pass.BEAUTY), !alpha, DELIVERY, format);
    FrameImage image = halves();
    f.write(
        1, image, null, Map.of(ExrHeader.FINGERPRINT, "f1", "note", "ü"), false, Workers.CALLER);
    assertTrue(f.complete(1, "f1"));
    assertFalse(f.complete(1, "f2"));
    Path file = f.paths(1).get(0);
    String info = run("oiiotool", "--info", "-v", file.toString());
    String wanted =
        switch (format) {
          case EXR -> "half openexr";
          case TIFF_FLOAT -> "float tiff";
          case PNG16 -> "uint16 png";
          case TIFF16 -> "uint16 tiff";
          default -> "uint8 ";
        };
    assertTrue(info.contains(wanted), info);
    assertTrue(info.contains((alpha ? "4" : "3") + " channel"), info);
    // What others read, as EXR: premultiplied, and linear where display values are turned back.
    Path exr = folder.resolve("seen.exr");
    List<String> command = new ArrayList<>(List.of("oiiotool", file.toString()));
    command.addAll(List.of("-d", "float"));
    if (format.display()) {
      command.addAll(List.of("--unpremult", "--colorconvert", "sRGB", "linear", "--premult"));
    }
    command.addAll(List.of("-o", exr.toString()));
    run(command.toArray(new String[0]));
    double room = format == FileFormat.JPEG ? 0.05 : 0.006;
    for (FrameImage back : List.of(ExrReader.read(exr), linear(format, file))) {
      for (String c : alpha ? List.of("R", "G", "B", "A") : List.of("R", "G", "B")) {
        for (int i : new int[] {5, 30, 85, 110}) {
          assertEquals(image.find(c)[i], back.find(c)[i], room, c + " at " + i);
        }
      }
    }
  }

  private static FrameImage linear(FileFormat format, Path file) throws Exception {
    return format == FileFormat.EXR ? ExrReader.read(file) : DisplayFile.linear(file);
  }

  @Test
  void aFillStandsBehindWhatIsTransparent() throws Exception {
    Delivery grey =
        new Delivery(
            List.of(FileFormat.EXR), NAMES, ExrCompression.ZIP, false, 92, List.of(0f, 0.2f, 0f));
    FrameFiles f = files(Set.of(Pass.BEAUTY), false, grey, FileFormat.PNG16);
    f.write(1, halves(), null, Map.of(), false, Workers.CALLER);
    FrameImage back = DisplayFile.linear(f.paths(1).get(0));
    assertEquals(0.1, back.find("G")[0], 1e-3);
    assertEquals(0.25, back.find("R")[0], 1e-3);
    assertEquals(0, back.find("G")[30], 1e-3);
  }

  @Test
  void withoutExrEveryPassHasAFileOfItsOwn() throws Exception {
    Set<Pass> wanted = EnumSet.of(Pass.BEAUTY, Pass.EMISSION);
    FrameFiles f = files(wanted, true, DELIVERY, FileFormat.PNG8, FileFormat.TIFF_FLOAT);
    assertEquals(4, f.paths(7).size());
    assertTrue(f.paths(7).contains(folder.resolve("emission/eye.0007.tif")));
    Delivery apart =
        new Delivery(List.of(FileFormat.EXR), NAMES, ExrCompression.RLE, true, 92, null);
    FrameFiles exr = files(wanted, true, apart, FileFormat.EXR);
    FrameImage image = halves();
    List<Channel> more = new ArrayList<>(image.channels());
    for (String c : List.of("R", "G", "B")) {
      more.add(new Channel("emission." + c, Precision.HALF, image.find("R")));
    }
    exr.write(7, new FrameImage(40, 3, more), null, Map.of(), false, Workers.CALLER);
    FrameImage back = ExrReader.read(folder.resolve("emission/eye.0007.exr"));
    assertEquals(3, back.channels().size());
    assertEquals(0.25f, back.find("emission.G")[0]);
    assertEquals(4, ExrReader.read(folder.resolve("beauty/eye.0007.exr")).channels().size());
  }

  @Test
  void refusesWhatAFormatCannotHoldAndNamesThoseThatCan() {
    Delivery d = DELIVERY;
    Set<Pass> depth = EnumSet.of(Pass.BEAUTY, Pass.DEPTH);
    assertRefused(
        () -> files(depth, true, d, FileFormat.PNG8),
        "png cannot hold the pass depth",
        "tiff-float");
    assertRefused(
        () -> files(Set.of(Pass.BEAUTY), false, d, FileFormat.JPEG), "for alpha", "png16, tiff");
    Set<Pass> matte = EnumSet.of(Pass.MATTE_OBJECTS);
    assertRefused(() -> files(matte, true, d, FileFormat.TIFF_FLOAT), "names", "These can: exr");
    assertRefused(
        () -> files(FileFormat.PNG8, FileFormat.PNG16), "two files would share the name", "{pass}");
    Set<Pass> bare = EnumSet.of(Pass.DEPTH);
    assertRefused(
        () -> files(bare, true, d, FileFormat.EXR, FileFormat.PNG8), "add the pass beauty");
    // Beside an EXR the others hold the beauty alone.
    assertEquals(2, files(depth, true, d, FileFormat.EXR, FileFormat.JPEG).paths(1).size());
  }

  private static void assertRefused(Executable what, String... said) {
    var e = assertThrows(IllegalArgumentException.class, what);
    for (String s : said) {
      assertTrue(e.getMessage().contains(s), e.getMessage());
    }
  }
}
