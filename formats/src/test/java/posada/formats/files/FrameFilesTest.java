package posada.formats.files;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.FileAlreadyExistsException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.FrameImage.Precision;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.trace.Pass;
import posada.formats.exr.ExrHeader;

class FrameFilesTest {
  @TempDir Path folder;

  private FrameFiles files(FileFormat... formats) {
    return new FrameFiles(
        folder,
        new NamePattern("{pass}/{camera}.{frame:4}"),
        List.of(formats),
        Set.of(Pass.BEAUTY),
        Map.of("camera", "eye"),
        new FrameRate(24),
        true);
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
    f.write(3, picture(), Map.of(ExrHeader.FINGERPRINT, "abc"), false);
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

  @Test
  void refusesPassesThatAFormatCannotHold() {
    var e =
        assertThrows(
            IllegalArgumentException.class,
            () ->
                new FrameFiles(
                    folder,
                    new NamePattern("x.{frame}"),
                    List.of(FileFormat.PNG8),
                    Set.of(Pass.BEAUTY, Pass.DEPTH),
                    Map.of(),
                    new FrameRate(24),
                    true));
    assertTrue(e.getMessage().contains("exr"), e.getMessage());
    assertThrows(IllegalArgumentException.class, () -> files(FileFormat.PNG8, FileFormat.PNG16));
  }
}
