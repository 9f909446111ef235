package posada.server.runs;

import com.fasterxml.jackson.annotation.JsonIgnore;
import com.fasterxml.jackson.annotation.JsonProperty;
import io.swagger.v3.oas.annotations.media.Schema;
import java.time.Instant;
import java.util.List;
import posada.formats.job.Again;
import posada.formats.job.StrandDocument;
import posada.server.app.Pushed;

/**
 * A strand of a run. Its frozen settings are asked for one by one, since there may be very many
 * strands.
 *
 * @param run number of the run
 * @param kind what the run was started for
 * @param frames that were asked for, as a range
 * @param number version of the strand's files
 * @param again how its frames are rendered that were sent back; null if none were
 * @param folder absolute path of the files
 * @param priority strands of the run with a higher one go first
 * @param total frames that were asked for
 * @param planned frames of them that are looked at by now: the others are still being compared
 * @param fresh frames that are finished; likewise failed, skipped
 * @param saved finished frames that were fresh when the run was started
 * @param copied finished frames that are made from the same as another
 * @param secondsPerFrame mean over frames that were rendered here; null before the first
 * @param shareCut what the limit on bright indirect light took of the light of the frame that lost
 *     most, 0 .. 1; null before the first
 * @param failure why nothing could be rendered; null if that is not so
 * @param toFinish things that are still to be made of the frames
 * @param finishes what is made of the frames when all are there
 * @param bakes light that the frames wait for: one, or none if nothing is baked
 */
@Pushed("strand")
public record RunStrand(
    long id,
    long runId,
    int run,
    Run.Kind kind,
    long productionId,
    @Schema(types = {"integer", "null"}) Long shotId,
    @Schema(types = {"integer", "null"}) Long layerId,
    String shot,
    String layer,
    int number,
    String frames,
    RunState state,
    int priority,
    @JsonIgnore StrandDocument settings,
    @JsonIgnore Again again,
    String folder,
    Instant startedAt,
    @Schema(types = {"string", "null"}) Instant endedAt,
    int total,
    int planned,
    int fresh,
    int saved,
    int copied,
    int failed,
    int skipped,
    @Schema(types = {"number", "null"}) Double secondsPerFrame,
    @Schema(types = {"number", "null"}) Double shareCut,
    @Schema(types = {"string", "null"}) String failure,
    int toFinish,
    List<Finish> finishes,
    List<Bake> bakes) {
  @JsonProperty
  @Schema(requiredMode = Schema.RequiredMode.REQUIRED)
  String camera() {
    return settings.camera();
  }

  /** Returns the width of its pictures, pixels. */
  @JsonProperty
  @Schema(requiredMode = Schema.RequiredMode.REQUIRED)
  int width() {
    return settings.width();
  }

  /** Returns their height, pixels. */
  @JsonProperty
  @Schema(requiredMode = Schema.RequiredMode.REQUIRED)
  int height() {
    return settings.height();
  }

  /** Returns the frames of a second. */
  @JsonProperty
  @Schema(requiredMode = Schema.RequiredMode.REQUIRED)
  double frameRate() {
    return settings.frameRate();
  }

  /** Returns the limit on bounced light; 0 for none. */
  @JsonProperty
  @Schema(requiredMode = Schema.RequiredMode.REQUIRED)
  double clamp() {
    return settings.settings().recipe().bounces().indirectClamp();
  }

  /** Returns what was sent back, and how it is rendered again; null if nothing was. */
  @JsonProperty
  @Schema(types = {"string", "null"})
  String sentBack() {
    return again == null ? null : again.note();
  }

  /** Returns the settings that its frames are rendered with. */
  public StrandDocument renderedAs() {
    return again == null ? settings : again.of(settings);
  }

  /** Returns the number of frames that have not come to an end. */
  public int left() {
    return total - fresh - failed - skipped;
  }

  /** Returns the number of frames that were rendered in this run. */
  int rendered() {
    return fresh - saved - copied;
  }

  /** Returns true if the light that the frames wait for stands so. */
  boolean lightIs(FrameState state) {
    return bakes.stream().anyMatch(b -> b.state() == state);
  }

  boolean hasFailure() {
    return failed > 0
        || failure != null
        || lightIs(FrameState.FAILED)
        || finishes.stream().anyMatch(f -> f.state() == FrameState.FAILED);
  }

  /** Returns what it is called in sentences. */
  public String title() {
    return shot + " " + layer + " v" + number;
  }
}
