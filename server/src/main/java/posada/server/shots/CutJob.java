package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import posada.server.app.Pushed;

/**
 * Quick pictures of several shots that are being drawn, or were.
 *
 * @param done frames that are drawn
 * @param total frames of all of it
 * @param seconds that it has taken so far
 * @param problem a sentence, if it failed; else null
 */
@Pushed("cut")
public record CutJob(
    long id,
    long productionId,
    CutWish.Form form,
    PreviewJob.State state,
    int done,
    int total,
    double seconds,
    int width,
    int height,
    @Schema(types = {"string", "null"}) String problem)
    implements NewestJobs.Job<CutJob> {
  @Override
  public long owner() {
    return productionId;
  }

  @Override
  public CutJob at(PreviewJob.State now, int frames, double after) {
    return new CutJob(id, productionId, form, now, frames, total, after, width, height, null);
  }

  @Override
  public CutJob failed(String why) {
    return new CutJob(
        id, productionId, form, PreviewJob.State.FAILED, done, total, seconds, width, height, why);
  }
}
