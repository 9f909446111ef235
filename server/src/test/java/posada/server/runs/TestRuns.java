package posada.server.runs;

import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.Map;

/** Runs for tests: number 7, of two frames of 64 x 64 pixels. */
public final class TestRuns {
  private TestRuns() {}

  public static Run run(
      Path folder,
      RunState state,
      Map<String, Object> settings,
      List<String> passes,
      List<Bake> bakes) {
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
            64,
            64,
            1,
            settings,
            passes,
            List.of("exr"),
            RunSettings.PATTERN,
            1,
            "2026-01-01");
    return new Run(
        7,
        1L,
        "shot",
        1,
        state,
        s,
        folder.toString(),
        Instant.EPOCH,
        null,
        2,
        0,
        0,
        0,
        null,
        null,
        bakes);
  }
}
