package posada.server.workers;

import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.verifyNoInteractions;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.formats.gltf.ImportException;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.runs.FrameState;
import posada.server.runs.LedgerLine;
import posada.server.runs.Run;
import posada.server.runs.RunRepository;
import posada.server.runs.RunService;
import posada.server.runs.RunSettings;
import posada.server.runs.RunState;
import posada.server.scenes.SettingsDocuments;

class FrameWorkerTest {
  @TempDir Path folder;
  private final RunRepository ledger = mock(RunRepository.class);
  private final RunService runs = mock(RunService.class);
  private final SettingsDocuments documents = mock(SettingsDocuments.class);
  private final EventHub events = mock(EventHub.class);
  private final FrameWorker worker =
      new FrameWorker(ledger, runs, documents, mock(RenderThreads.class), events);

  private Run run() {
    RunSettings s =
        new RunSettings(
            "p",
            "s",
            1,
            "sha",
            "s.glb",
            "shot",
            "eye",
            "1-2",
            24,
            16,
            16,
            1,
            Map.of(),
            List.of("beauty"),
            List.of("exr"),
            RunSettings.PATTERN,
            1,
            "2026-01-01");
    return new Run(
        7,
        1L,
        "shot",
        1,
        RunState.RUNNING,
        s,
        folder.toString(),
        Instant.EPOCH,
        null,
        2,
        0,
        0,
        0,
        null);
  }

  @Test
  void aLateMessageChangesNothing() {
    when(ledger.take(7, 2)).thenReturn(false);
    worker.take("7/2");
    verifyNoInteractions(documents, runs, events);
    verify(ledger, never()).move(anyLong(), anyInt(), any(FrameState.class), any(), any());
  }

  @Test
  void aFailureIsKeptWithItsReasonAndTheRunGoesOn() throws Exception {
    when(ledger.take(7, 2)).thenReturn(true);
    when(ledger.line(7, 2))
        .thenReturn(Optional.of(new LedgerLine(2, FrameState.FAILED, 1, null, "f", null)));
    Run run = run();
    when(runs.find(7)).thenReturn(run);
    when(documents.read("sha", "s.glb", Map.of(), 1))
        .thenThrow(new ImportException("s.glb: the file is gone."));
    worker.take("7/2");
    verify(ledger)
        .move(eq(7L), eq(2), eq(FrameState.FAILED), eq(null), contains("the file is gone"));
    verify(runs).settle(7);
  }
}
