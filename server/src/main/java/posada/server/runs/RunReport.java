package posada.server.runs;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import posada.core.plan.Finding;

/**
 * What has become of a run.
 *
 * @param seconds from its start to the end of its last strand; null while it goes on
 * @param renderSeconds of all frames that were rendered
 * @param frames that were asked for
 * @param rendered of them
 * @param saved that were fresh already
 * @param copied that are made from the same as another
 * @param failed that were set aside
 * @param skipped that were left out
 * @param retries attempts beyond the first
 * @param warnings that were read and accepted when it was started
 * @param slowest the frames that took longest
 */
public record RunReport(
    long runId,
    int number,
    @Schema(types = {"number", "null"}) Double seconds,
    double renderSeconds,
    int frames,
    int rendered,
    int saved,
    int copied,
    int failed,
    int skipped,
    int retries,
    List<Finding> warnings,
    List<Slow> slowest) {
  /** A frame and what it took. */
  public record Slow(String shot, String layer, int frame, double seconds) {}
}
