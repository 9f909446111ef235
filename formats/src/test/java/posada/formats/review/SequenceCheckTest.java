package posada.formats.review;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.review.Fault;
import posada.formats.exr.ExrCompression;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;

/** Folders as they come from elsewhere: two sequences, a gap, an empty file, a damaged one. */
class SequenceCheckTest {
  @TempDir Path folder;

  private void frame(String name, float light) throws Exception {
    frame(name, light, null);
  }

  private void frame(String name, float light, FrameRate rate) throws Exception {
    List<FrameImage.Channel> all = new ArrayList<>();
    for (String c : List.of("R", "G", "B")) {
      float[] v = new float[64];
      Arrays.fill(v, light);
      all.add(new FrameImage.Channel(c, FrameImage.Precision.HALF, v));
    }
    byte[] exr =
        ExrWriter.encode(
            new FrameImage(8, 8, all),
            new ExrHeader(rate, 1, Map.of()),
            ExrCompression.ZIP,
            Workers.CALLER);
    Files.write(folder.resolve(name), exr);
  }

  private static SequenceCheck check(SequenceFolder.Sequence s) {
    return SequenceCheck.of(s, null, Workers.CALLER, Stop.NEVER, n -> {});
  }

  @Test
  void eachSequenceIsCheckedByItself() throws Exception {
    for (int f = 1; f <= 8; f++) {
      if (f != 3) {
        frame("sky.%04d.exr".formatted(f), 0.1f * f);
      }
    }
    for (int f = 10; f <= 12; f++) {
      frame("car_%d.exr".formatted(f), 0.05f * f);
    }
    Files.write(folder.resolve("sky.0005.exr"), new byte[0]);
    byte[] whole = Files.readAllBytes(folder.resolve("sky.0007.exr"));
    Files.write(folder.resolve("sky.0007.exr"), Arrays.copyOf(whole, whole.length / 2));
    Files.writeString(folder.resolve("notes.txt"), "none of them");
    List<SequenceFolder.Sequence> found = SequenceFolder.find(folder);
    assertEquals(
        List.of("car_##.exr", "sky.####.exr"),
        found.stream().map(SequenceFolder.Sequence::name).toList());
    assertEquals(List.of(), check(found.get(0)).faults());
    SequenceCheck sky = check(found.get(1));
    assertEquals(List.of(1, 2, 4, 6, 8), sky.frames());
    assertEquals(5, sky.curves().noise().length);
    assertEquals(
        List.of("MISSING [3]", "DAMAGED [5]", "DAMAGED [7]"),
        sky.faults().stream().map(f -> f.kind() + " " + f.frames()).toList());
    Fault empty = sky.faults().get(1);
    assertEquals("It cannot be read: the file is empty.", empty.text());
  }

  @Test
  void anotherRateAndAnotherPaddingAreTold() throws Exception {
    for (int f = 1; f <= 5; f++) {
      String name = f == 4 ? "a.004.exr" : "a.%04d.exr".formatted(f);
      frame(name, 0.1f * f, new FrameRate(f == 2 ? 25 : 24));
    }
    SequenceFolder.Sequence s = SequenceFolder.find(folder).get(0);
    assertEquals("a.####.exr", s.name());
    assertEquals(
        List.of(
            "RATE [2] Its header says 25 frames a second, the others 24.",
            "PADDING [4] It is called a.004.exr, the others a.####.exr."),
        check(s).faults().stream().map(f -> f.kind() + " " + f.frames() + " " + f.text()).toList());
  }

  @Test
  void framesThatShouldBeThereAreMissedAtTheEndsToo() throws Exception {
    for (int f = 2; f <= 4; f++) {
      frame("%d.exr".formatted(f), 0.1f * f);
    }
    SequenceFolder.Sequence s = SequenceFolder.find(folder).get(0);
    List<Fault> all =
        SequenceCheck.of(s, List.of(1, 2, 3, 4, 5, 6), Workers.CALLER, Stop.NEVER, n -> {})
            .faults();
    assertEquals(List.of(List.of(1), List.of(5, 6)), all.stream().map(Fault::frames).toList());
  }

  @Test
  void aFolderWithoutPicturesIsTold() {
    String why =
        assertThrows(IllegalArgumentException.class, () -> SequenceFolder.find(folder))
            .getMessage();
    assertTrue(why.startsWith("there is no sequence in"), why);
  }
}
