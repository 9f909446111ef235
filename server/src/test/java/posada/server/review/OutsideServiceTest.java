package posada.server.review;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.timeout;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.server.app.EventHub;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.storage.DataFolder;

class OutsideServiceTest {
  @TempDir Path home;

  private Path film() throws Exception {
    Path film = home.resolve("t.mp4");
    String made = "testsrc2=size=96x64:rate=25:duration=0.4";
    new ProcessBuilder(
            "ffmpeg", "-v", "error", "-f", "lavfi", "-i", made, "-c:v", "libx264", film.toString())
        .start()
        .waitFor();
    return film;
  }

  @Test
  void aFilmIsReadOnWhereTheServerWasKilled() throws Exception {
    Path into = Files.createDirectories(home.resolve("sequences/sequence-1"));
    Files.writeString(into.resolve("frame.000001.jpg"), "as it was");
    Files.writeString(into.resolve("frame.000002.jpg.1.posada-part"), "half");
    Files.createFile(into.resolve("reading"));
    OutsideSequence s =
        new OutsideSequence(
            1, 1, "t", into.toString(), "frame.######.jpg", film() + "", 25, Instant.now());
    Production p = mock(Production.class);
    when(p.id()).thenReturn(1L);
    ProductionService productions = mock(ProductionService.class);
    when(productions.all()).thenReturn(List.of(p));
    OutsideRepository sequences = mock(OutsideRepository.class);
    when(sequences.all(1)).thenReturn(List.of(s));
    when(sequences.find(1)).thenReturn(Optional.of(s));
    DataFolder folder = mock(DataFolder.class);
    when(folder.sequences()).thenReturn(home.resolve("sequences"));
    EventHub events = mock(EventHub.class);
    OutsideService service = new OutsideService(sequences, productions, folder, events);
    service.sweep();
    verify(events, timeout(30_000)).publish(any());
    try (Stream<Path> there = Files.list(into)) {
      List<String> names = there.map(f -> f.getFileName().toString()).sorted().toList();
      assertEquals(10, names.size(), names.toString());
      assertTrue(names.stream().allMatch(n -> n.endsWith(".jpg")), names.toString());
    }
    assertEquals("as it was", Files.readString(into.resolve("frame.000001.jpg")));
    service.close();
  }
}
