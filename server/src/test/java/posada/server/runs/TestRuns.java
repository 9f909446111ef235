package posada.server.runs;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;
import posada.formats.settings.RenderDocument;

/** Runs for tests: number 7, of two frames of 64 x 64 pixels. */
public final class TestRuns {
  private TestRuns() {}

  /**
   * @param settings JSON, over one sample and one EXR for all passes
   */
  public static RunStrand run(Path folder, RunState state, String settings, List<Bake> bakes) {
    String little =
        "{\"recipe\": {\"sampling\": {\"most\": 1}}, \"passes\": {\"wanted\": [\"beauty\"]}}";
    RenderDocument d =
        Documents.read(
            Documents.over(Documents.object(little), Documents.object(settings)),
            RenderDocument.class);
    StrandDocument s =
        new StrandDocument(
            StrandDocument.SCHEMA,
            "p",
            "s",
            1,
            "sha",
            "s.glb",
            "shot",
            "eye",
            "1-2",
            24,
            64,
            64,
            d,
            1,
            "2026-01-01");
    return new RunStrand(
        7,
        1,
        1,
        Run.Kind.BATCH,
        1,
        1L,
        2L,
        "shot",
        "main",
        1,
        s.frames(),
        state,
        0,
        s,
        null,
        folder.toString(),
        Instant.EPOCH,
        null,
        2,
        2,
        0,
        0,
        0,
        0,
        0,
        null,
        null,
        null,
        0,
        List.of(),
        bakes);
  }

  /** Returns a frame of that run as a task. */
  public static Task frame(int frame) {
    return new Task(100 + frame, 7, Task.Kind.FRAME, null, frame, frame, 1);
  }

  /** Returns its light as a task. */
  public static Task light() {
    return new Task(100, 7, Task.Kind.BAKE, null, null, null, 1);
  }
}
