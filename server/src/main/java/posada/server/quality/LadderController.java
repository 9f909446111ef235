package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.util.Base64;
import java.util.Set;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.formats.display.JpegFile;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** A part of a picture at rising quality, from one progressive render. */
@RestController
class LadderController {
  private static final Set<Pass> BEAUTY = Set.of(Pass.BEAUTY);
  private static final float QUALITY = 0.92f;

  /** Samples of the first rung; each next one has twice as many. */
  private static final int FIRST = 4;

  /** Up to this many samples the viewer goes before the batch. */
  private static final int URGENT_SAMPLES = 16;

  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;
  private final ViewerStreams streams;

  LadderController(
      ShotService shots,
      SceneService scenes,
      SceneLibrary library,
      RenderThreads pool,
      ViewerStreams streams) {
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.pool = pool;
    this.streams = streams;
  }

  /**
   * A rung.
   *
   * @param samples of each pixel
   * @param noise {@link posada.core.trace.FrameReport#noise} of the part
   * @param seconds that the part took so far
   * @param frameSeconds that a whole frame would take, if all of it were as dear as this part
   * @param plain a JPEG in base64
   * @param clean likewise, denoised
   */
  record Rung(
      int samples,
      double noise,
      double seconds,
      double frameSeconds,
      int width,
      int height,
      String plain,
      String clean) {}

  /** The part of the picture: shares of its width and height from the top left corner. */
  private record Part(double x, double y, double width, double height) {
    Crop of(int w, int h) {
      int left = (int) Math.floor(x * w), top = (int) Math.floor(y * h);
      if (!(x >= 0 && y >= 0 && width > 0 && height > 0) || left >= w || top >= h) {
        throw new IllegalArgumentException(
            "the part must lie in the picture: 0 .. 1 across and down (got %s, %s, %s, %s)"
                .formatted(x, y, width, height));
      }
      return new Crop(
          left,
          top,
          Math.max(1, Math.min(w - left, (int) Math.round(width * w))),
          Math.max(1, Math.min(h - top, (int) Math.round(height * h))),
          true);
    }
  }

  /** Sends a {@code rung} for each; or {@code failed} with a sentence. */
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
      @RequestParam(defaultValue = "512") int most) {
    Shot s = shots.find(id);
    RenderDocument d = shots.document(s, layer);
    int w = s.scaledWidth(), h = s.scaledHeight();
    Crop part = new Part(x, y, width, height).of(w, h);
    Sampling own = d.recipe().sampling();
    Sampling even =
        new Sampling(most, most, false, own.noiseThreshold(), 0, own.seed(), own.seedPerFrame());
    RenderSettings settings =
        d.settings().with(part).with(BEAUTY).with(even).with(new Denoising(true, 1));
    return streams.open(
        viewer,
        s.name(),
        (out, stop) -> {
          FrameRenderer r = renderer(s, d, frame, settings, stop);
          if (r != null) {
            climb(r, most, w * (double) h / (part.width() * (double) part.height()), out, stop);
          }
        });
  }

  private FrameRenderer renderer(
      Shot s, RenderDocument d, int frame, RenderSettings settings, Stop stop)
      throws ImportException {
    return library
        .get(scenes.revision(s.revisionId()), d)
        .frame(
            s.camera(),
            new FrameRate(shots.productionOf(s).frameRate()).moment(frame),
            s.scaledWidth(),
            s.scaledHeight(),
            settings,
            pool.workers(),
            stop,
            null);
  }

  private void climb(FrameRenderer r, int most, double parts, ViewerStreams.Sender out, Stop stop)
      throws ViewerStreams.ViewerGone {
    long taken = 0;
    for (int n = Math.min(FIRST, most); ; n = Math.min(2 * n, most)) {
      long start = System.nanoTime();
      try (RenderThreads.Watched first = n <= URGENT_SAMPLES ? pool.watch() : () -> {}) {
        if (!r.advance(n, pool.workers(), stop)) {
          return;
        }
      }
      taken += System.nanoTime() - start;
      FrameImage plain = r.soFar(), clean = r.image(BEAUTY, pool.workers(), stop);
      if (clean == null) {
        return;
      }
      double seconds = taken / 1e9;
      out.send(
          "rung",
          new Rung(
              n,
              r.noise(),
              seconds,
              seconds * parts,
              plain.width(),
              plain.height(),
              jpeg(plain),
              jpeg(clean)));
      if (n == most) {
        return;
      }
    }
  }

  private static String jpeg(FrameImage image) {
    return Base64.getEncoder()
        .encodeToString(JpegFile.encode(ViewTransform.beauty(image, 0, false), QUALITY));
  }
}
