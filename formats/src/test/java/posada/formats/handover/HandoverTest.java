package posada.formats.handover;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.assembly.Picture;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.settings.Pass;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.files.FileFormat;
import posada.formats.files.FrameFiles;
import posada.formats.review.Footage;
import posada.formats.settings.Documents;
import tools.jackson.databind.JsonNode;

class HandoverTest {
  @TempDir Path folder;
  private Path film;

  private Path file(int frame) {
    return folder.resolve("files/pass-wide_main_all.%04d.exr".formatted(frame));
  }

  @BeforeEach
  void write() throws IOException {
    Files.createDirectories(folder.resolve("files"));
    for (int f : List.of(1, 5, 9)) {
      FrameImage p = new Picture(32, 18).image();
      ExrHeader h = new ExrHeader(new FrameRate(24), f, Map.of(ExrHeader.FINGERPRINT, "made" + f));
      Files.write(file(f), ExrWriter.encode(p, h));
    }
    film = Files.write(folder.resolve("cut_v001.mp4"), new byte[] {1, 2, 3});
  }

  private Handover.Item frames() {
    Footage f =
        new Footage(
            "pass-wide main v002",
            List.of(1, 5, 9),
            n -> List.of(new FrameFiles.Part(FileFormat.EXR, Set.of(Pass.BEAUTY), file(n))));
    return new Handover.Item(
        "pass-wide main v002",
        "pass-wide",
        "main",
        2,
        4,
        6,
        f,
        null,
        "approved by Ines",
        List.of("frame 5: It is darker, \"by far\"."));
  }

  private Handover handover(boolean copy) {
    Handover.Item whole =
        new Handover.Item("cut v001", "cut", "", 1, 1, 24, null, film, "put together", List.of());
    return new Handover("Larkspur Line", List.of(frames(), whole), Map.of("night-cut", "{}"), copy);
  }

  private Path out() {
    return folder.resolve("out");
  }

  @ParameterizedTest
  @ValueSource(booleans = {true, false})
  void readsBackWhole(boolean copy) throws IOException {
    handover(copy).write(out(), Stop.NEVER, x -> {});
    HandoverCheck c = HandoverCheck.of(out(), Stop.NEVER);
    assertEquals(List.of(), c.problems());
    assertEquals(4, c.files());
    Manifest m = Documents.read(out().resolve(Manifest.NAME), Manifest.class);
    Manifest.Sequence q = m.sequences().get(0);
    assertEquals("1-9x4", q.frames());
    assertEquals("made5", q.files().get(1).fingerprint());
    assertEquals("is the picture", q.passes().get(0).combine());
    String said = Files.readString(out().resolve(Handover.README));
    assertTrue(said.contains("OPEN FINDINGS") && said.contains("approved by Ines"), said);
    assertTrue(said.contains("every 4. frame was rendered"), said);
    assertTrue(said.contains("did not look at it by itself"), "nobody checked the film");
    assertFalse(said.contains("the checks found nothing"), said);
    List<String> table = Files.readAllLines(out().resolve(Handover.TABLE));
    assertEquals(5, table.size());
    assertTrue(Files.size(out().resolve(Handover.SHEET)) > 100);
  }

  /** Nothing lands on another's files, wherever the folder is unpacked. */
  @Test
  void whatIsCalledAlikeIsKeptApart() throws IOException {
    Path other = Files.createDirectories(folder.resolve("other"));
    Path shouted = Files.write(other.resolve("CUT_v001.mp4"), new byte[] {4, 5});
    List<Handover.Item> items =
        List.of(
            frames(),
            frames(),
            new Handover.Item("cut v001", "cut", "", 1, 1, 24, null, film, "", List.of()),
            new Handover.Item("CUT v001", "CUT", "", 1, 1, 24, null, shouted, "", List.of()));
    Map<String, String> stacks = Map.of("a/b", "{}", "a-b", "[]", "A-B", "{}");
    new Handover("Larkspur Line", items, stacks, true).write(out(), Stop.NEVER, x -> {});
    assertEquals(List.of(), HandoverCheck.of(out(), Stop.NEVER).problems());
    Manifest m = Documents.read(out().resolve(Manifest.NAME), Manifest.class);
    List<String> paths = new ArrayList<>(m.stacks());
    m.sequences().forEach(q -> q.files().forEach(f -> paths.add(f.path())));
    assertEquals(
        3 + 3 + 3 + 2, paths.stream().map(p -> p.toLowerCase(Locale.ROOT)).distinct().count());
    for (String p : paths) {
      assertTrue(Files.isRegularFile(out().resolve(p)), p);
    }
  }

  /** Each image is one frame long at the rate of the sequence. */
  @Test
  void theTimelineNamesEveryFrame() throws IOException {
    handover(true).write(out(), Stop.NEVER, x -> {});
    JsonNode clip =
        Documents.object(out().resolve(Handover.TIMELINE)).at("/tracks/children/0/children/0");
    assertEquals("Clip.2", clip.get("OTIO_SCHEMA").asString());
    JsonNode media = clip.at("/media_references/DEFAULT_MEDIA");
    assertEquals("ImageSequenceReference.1", media.get("OTIO_SCHEMA").asString());
    assertEquals("pass-wide_main_all.", media.get("name_prefix").asString());
    assertEquals(".exr", media.get("name_suffix").asString());
    assertEquals(1, media.get("start_frame").asInt());
    assertEquals(4, media.get("frame_step").asInt());
    assertEquals(4, media.get("frame_zero_padding").asInt());
    assertEquals(24, media.get("rate").asDouble());
    assertEquals(3, clip.at("/source_range/duration/value").asDouble());
    assertEquals(6, clip.at("/source_range/duration/rate").asDouble());
  }

  /** What is rendered beyond the cut is there, and not in the clip. */
  @Test
  void handlesAreOutsideTheClip() throws IOException {
    new Handover("Larkspur Line", List.of(frames().withHandles(1, 0)), Map.of(), true)
        .write(out(), Stop.NEVER, x -> {});
    JsonNode clip =
        Documents.object(out().resolve(Handover.TIMELINE)).at("/tracks/children/0/children/0");
    JsonNode there = clip.at("/media_references/DEFAULT_MEDIA/available_range");
    assertEquals(3, there.at("/duration/value").asDouble());
    double first = there.at("/start_time/value").asDouble();
    assertEquals(first + 1, clip.at("/source_range/start_time/value").asDouble());
    assertEquals(2, clip.at("/source_range/duration/value").asDouble());
  }

  @Test
  void whatIsMissingOrOtherIsFound() throws IOException {
    handover(true).write(out(), Stop.NEVER, x -> {});
    Path copied = out().resolve("sequences/pass-wide/main/v002");
    Files.delete(copied.resolve("pass-wide_main_all.0005.exr"));
    byte[] b = Files.readAllBytes(copied.resolve("pass-wide_main_all.0009.exr"));
    b[b.length - 1]++;
    Files.write(copied.resolve("pass-wide_main_all.0009.exr"), b);
    Files.delete(out().resolve(Handover.TIMELINE));
    List<String> problems = HandoverCheck.of(out(), Stop.NEVER).problems();
    assertEquals(3, problems.size(), problems.toString());
    assertTrue(problems.get(0).contains("0005.exr is missing"), problems.get(0));
    assertTrue(problems.get(1).contains("0009.exr is not what was handed over"), problems.get(1));
    assertTrue(problems.get(2).contains("cut.otio is missing"), problems.get(2));
  }

  @Test
  void whatIsThereIsNotTouchedAndWhatIsCutOffIsNoHandover() throws IOException {
    Files.createDirectories(out());
    Files.writeString(out().resolve("mine.txt"), "mine");
    var e = assertThrows(IOException.class, () -> handover(true).write(out(), Stop.NEVER, x -> {}));
    assertTrue(e.getMessage().contains("is not empty"), e.getMessage());
    assertTrue(Files.exists(out().resolve("mine.txt")));
  }

  @Test
  void nothingIsLeftOfWhatIsCutOff() throws IOException {
    Path there = Files.createDirectories(folder.resolve("there")), gone = folder.resolve("gone");
    for (Path into : List.of(there, gone)) {
      AtomicInteger files = new AtomicInteger();
      assertNull(handover(true).write(into, () -> files.get() > 1, x -> files.incrementAndGet()));
      assertEquals(2, files.get());
    }
    assertFalse(Files.exists(gone));
    try (Stream<Path> left = Files.list(there)) {
      assertEquals(0, left.count());
    }
    Files.writeString(there.resolve("cut.otio"), "what a killed server left");
    var not =
        assertThrows(IllegalArgumentException.class, () -> HandoverCheck.of(there, Stop.NEVER));
    assertTrue(not.getMessage().contains("no complete handover"), not.getMessage());
    Handover.discard(there);
    handover(true).write(there, Stop.NEVER, x -> {});
    Handover.discard(there);
    assertEquals(List.of(), HandoverCheck.of(there, Stop.NEVER).problems());
  }
}
