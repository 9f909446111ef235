package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.quality.TrialPictures.Subject;
import posada.server.shots.PicturePart;

/** A part of a picture at rising quality, from one progressive render. */
@RestController
class LadderController {
  /** Samples of the first rung; each next one has twice as many. */
  private static final int FIRST = 4;

  /** Up to this many samples the viewer goes before the batch. */
  private static final int URGENT_SAMPLES = 16;

  /** Samples of a round of the adaptive rung. */
  private static final int ROUND = 16;

  private final TrialPictures pictures;
  private final RenderThreads pool;
  private final ViewerStreams streams;

  LadderController(TrialPictures pictures, RenderThreads pool, ViewerStreams streams) {
    this.pictures = pictures;
    this.pool = pool;
    this.streams = streams;
  }

  /**
   * A rung.
   *
   * @param adaptive true if clean pixels were left alone, as the recipe has it
   * @param samples of each pixel; the mean if it is adaptive
   * @param noise {@link posada.core.trace.FrameReport#noise} of the part
   * @param seconds that the part took so far
   * @param frameSeconds that a whole frame would take, if all of it were as dear as this part
   * @param plain a JPEG in base64
   * @param clean likewise, denoised
   */
  record Rung(
      boolean adaptive,
      int samples,
      double noise,
      double seconds,
      double frameSeconds,
      int width,
      int height,
      String plain,
      String clean) {}

  /**
   * Sends a {@code rung} for each, and one more with the recipe's own threshold if it is adaptive;
   * or {@code failed} with a sentence.
   *
   * @param adaptive true for that one alone
   */
  @ApiResponse(
      responseCode = "200",
      content =
          @Content(
              mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
              schema = @Schema(implementation = Rung.class)))
  @GetMapping(path = "/api/shots/{id}/ladder", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter ladder(
      @PathVariable long id,
      @RequestParam String viewer,
      @RequestParam int frame,
      @RequestParam(required = false) Long layer,
      @RequestParam(defaultValue = "0") double x,
      @RequestParam(defaultValue = "0") double y,
      @RequestParam(defaultValue = "1") double width,
      @RequestParam(defaultValue = "1") double height,
      @RequestParam(defaultValue = "512") int most,
      @RequestParam(defaultValue = "false") boolean adaptive) {
    Subject s = pictures.subject(id, layer, frame);
    int w = s.shot().scaledWidth(), h = s.shot().scaledHeight();
    Crop part = new PicturePart(x, y, width, height).of(w, h);
    RenderSettings settings =
        s.document().settings().with(part).with(TrialPictures.BEAUTY).with(new Denoising(true, 1));
    Sampling own = settings.sampling();
    RenderSettings even = settings.with(TrialPictures.even(own, most));
    return streams.open(
        viewer,
        s.shot().name(),
        (out, stop) -> {
          RenderScene scene = pictures.scene(s);
          Climb c = new Climb(w * (double) h / (part.width() * (double) part.height()), out, stop);
          try (RenderThreads.Watched mine = pool.viewing()) {
            FrameRenderer r = adaptive ? null : pictures.renderer(s, scene, w, h, even, stop);
            if (!adaptive && (r == null || !c.evenly(r, most))) {
              return;
            }
            FrameRenderer a =
                own.adaptive() ? pictures.renderer(s, scene, w, h, settings, stop) : null;
            if (a != null) {
              c.adaptively(a, w, h);
            }
          }
        });
  }

  /** One climb. */
  private final class Climb {
    private final double parts;
    private final ViewerStreams.Sender out;
    private final Stop stop;

    /**
     * @param parts how many such parts make a picture
     */
    Climb(double parts, ViewerStreams.Sender out, Stop stop) {
      this.parts = parts;
      this.out = out;
      this.stop = stop;
    }

    /** Returns false if it was stopped. */
    boolean evenly(FrameRenderer r, int most) throws ViewerStreams.ViewerGone {
      long taken = 0;
      for (int n = Math.min(FIRST, most); ; n = Math.min(2 * n, most)) {
        long start = System.nanoTime();
        try (RenderThreads.Watched first = n <= URGENT_SAMPLES ? pool.watch() : () -> {}) {
          if (!r.advance(n, pool.workers(), stop)) {
            return false;
          }
        }
        taken += System.nanoTime() - start;
        if (!send(r, false, n, taken / 1e9)) {
          return false;
        }
        if (n == most) {
          return true;
        }
      }
    }

    void adaptively(FrameRenderer r, int w, int h) throws ViewerStreams.ViewerGone {
      long start = System.nanoTime();
      FrameImage done =
          r.render(ROUND, pool.workers(), stop, FrameRenderer.Progress.NONE, System::nanoTime);
      if (done != null) {
        double seconds = (System.nanoTime() - start) / 1e9;
        double mean = r.report().samplesSpent() * parts / (w * (double) h);
        send(r, true, (int) Math.round(mean), seconds);
      }
    }

    private boolean send(FrameRenderer r, boolean adaptive, int samples, double seconds)
        throws ViewerStreams.ViewerGone {
      FrameImage plain = r.soFar(), clean = r.image(TrialPictures.BEAUTY, pool.workers(), stop);
      if (clean == null) {
        return false;
      }
      out.send(
          "rung",
          new Rung(
              adaptive,
              samples,
              r.noise(),
              seconds,
              seconds * parts,
              plain.width(),
              plain.height(),
              TrialPictures.jpeg(plain),
              TrialPictures.jpeg(clean)));
      return true;
    }
  }
}
