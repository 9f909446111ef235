package posada.server.runs;

import io.swagger.v3.oas.annotations.media.Schema;
import java.time.Instant;
import java.util.List;
import posada.formats.job.StrandDocument;
import posada.server.app.Pushed;

/**
 * A strand of a batch that was started.
 *
 * @param batch number that it shares with those that were started with it
 * @param number version of the strand's files
 * @param folder absolute path of the files
 * @param fresh frames that are finished; likewise waiting, rendering, failed, skipped
 * @param secondsPerFrame mean over finished frames that were rendered here; null before the first
 * @param shareCut what the limit on bright indirect light took of the light of the frame that lost
 *     most, 0 .. 1; null before the first
 * @param bakes light that the frames wait for: one, or none if nothing is baked
 */
@Pushed("run")
public record Run(
    long id,
    long productionId,
    int batch,
    @Schema(types = {"integer", "null"}) Long shotId,
    String shot,
    String layer,
    int number,
    RunState state,
    StrandDocument settings,
    String folder,
    Instant startedAt,
    @Schema(types = {"string", "null"}) Instant endedAt,
    int total,
    int fresh,
    int failed,
    int skipped,
    @Schema(types = {"number", "null"}) Double secondsPerFrame,
    @Schema(types = {"number", "null"}) Double shareCut,
    List<Bake> bakes) {
  /** Returns the number of frames that have not come to an end. */
  public int left() {
    return total - fresh - failed - skipped;
  }

  /** Returns true if the light that the frames wait for stands so. */
  boolean lightIs(FrameState state) {
    return bakes.stream().anyMatch(b -> b.state() == state);
  }

  boolean hasFailure() {
    return failed > 0 || lightIs(FrameState.FAILED);
  }
}
