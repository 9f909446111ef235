package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import posada.server.app.Pushed;

/**
 * A preview of a shot that is being drawn, or was.
 *
 * @param done frames that are written
 * @param total frames of the film
 * @param seconds that it has taken so far
 * @param problem a sentence, if it failed; else null
 */
@Pushed("preview")
public record PreviewJob(
    long id,
    long shotId,
    State state,
    int done,
    int total,
    double seconds,
    int width,
    int height,
    @Schema(types = {"string", "null"}) String problem)
    implements NewestJobs.Job<PreviewJob> {
  @Override
  public long owner() {
    return shotId;
  }

  /** What has become of it. */
  public enum State {
    DRAWING,
    READY,
    STOPPED,
    FAILED
  }

  @Override
  public PreviewJob at(State now, int frames, double after) {
    return new PreviewJob(id, shotId, now, frames, total, after, width, height, null);
  }

  @Override
  public PreviewJob failed(String why) {
    return new PreviewJob(id, shotId, State.FAILED, done, total, seconds, width, height, why);
  }
}
