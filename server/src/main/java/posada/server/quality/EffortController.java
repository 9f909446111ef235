package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.assembly.MapOver;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.RayKind;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.ObjectMap;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.server.app.RenderThreads;
import posada.server.quality.TrialPictures.Subject;
import posada.server.shots.PicturePart;
import posada.server.shots.Shot;

/** Where the rays and the time of a frame go, and where it is noisy. */
@RestController
class EffortController {
  /** Longest side of the picture that is looked at, pixels. */
  private static final int LONGEST = 320;

  /** Samples of the first round, which warms up, and of the one that is measured. */
  private static final int WARM = 2, MEASURED = 16;

  private static final int PLACES = 5;

  private final TrialPictures pictures;
  private final RenderThreads pool;

  EffortController(TrialPictures pictures, RenderThreads pool) {
    this.pictures = pictures;
    this.pool = pool;
  }

  /**
   * What rays of one kind come to.
   *
   * @param rays of a pixel with all its samples
   * @param share of the frame's time, 0 .. 1
   */
  record Kind(RayKind kind, double rays, double share) {}

  /**
   * An object that takes much of the time, or has much of the noise.
   *
   * @param object its name, or that of many alike, {@code pine-*}; null for what is behind all
   * @param material of it; null if it has several or none
   * @param glass true if light passes through that
   * @param share of all of it, 0 .. 1
   * @param pixels share of the picture's pixels
   * @param part where most of it is
   */
  record Spot(
      @Schema(types = {"string", "null"}) String object,
      @Schema(types = {"string", "null"}) String material,
      boolean glass,
      double share,
      double pixels,
      PicturePart part) {}

  /**
   * Where it goes.
   *
   * @param samples of the recipe, most of a pixel
   * @param sentence what the settings say of rays before anything is rendered
   * @param seconds that a frame takes with them, by what was measured
   * @param timeMap the picture with the time of each pixel laid over it, a JPEG in base64
   * @param noiseMap likewise its noise
   */
  record Effort(
      int samples,
      String sentence,
      double seconds,
      List<Kind> kinds,
      List<Spot> slow,
      List<Spot> noisy,
      int width,
      int height,
      String timeMap,
      String noiseMap) {}

  /** Measures where the rays and the time of a frame go, in a small picture. */
  @GetMapping("/api/shots/{id}/effort")
  Effort effort(
      @PathVariable long id, @RequestParam int frame, @RequestParam(required = false) Long layer)
      throws ImportException {
    Subject s = pictures.subject(id, layer, frame);
    Shot.Size size = s.shot().within(LONGEST);
    int w = size.width(), h = size.height();
    RenderSettings own = s.document().settings();
    RenderSettings few =
        own.with(EnumSet.of(Pass.BEAUTY, Pass.TIME))
            .with((Crop) null)
            .with(Denoising.OFF)
            .with(TrialPictures.even(own.sampling(), WARM + MEASURED));
    RenderScene scene = pictures.scene(s);
    try (RenderThreads.Watched first = pool.watch()) {
      FrameRenderer r = pictures.renderer(s, scene, w, h, few, Stop.NEVER);
      r.advance(WARM, pool.workers(), Stop.NEVER);
      r.measure();
      long start = System.nanoTime();
      r.advance(WARM + MEASURED, pool.workers(), Stop.NEVER);
      double seconds = (System.nanoTime() - start) / 1e9;
      ObjectMap map =
          ObjectMap.of(scene, s.shot().camera(), s.moment(), w, h, few, pool.workers(), Stop.NEVER);
      FrameImage image = r.image(few.passes().wanted(), pool.workers(), Stop.NEVER);
      // The machine does other things now and then, which pixels are not to be blamed for.
      float[] time = MapOver.calm(image.find(Pass.TIME.channels(few.passes()).get(0)), w, h);
      float[] noise = r.noises();
      ObjectNames named = new ObjectNames(scene.scene());
      int most = own.sampling().most();
      double pixels = s.shot().scaledWidth() * (double) s.shot().scaledHeight();
      return new Effort(
          most,
          own.rays().sentence(),
          seconds * pixels / (w * (double) h) * most / MEASURED,
          kinds(r.spent(), most / (double) MEASURED / (w * (double) h)),
          named.spots(time, map, PLACES),
          named.spots(noise, map, PLACES),
          w,
          h,
          TrialPictures.jpeg(MapOver.of(image, time)),
          TrialPictures.jpeg(MapOver.of(image, noise)));
    }
  }

  private static List<Kind> kinds(Map<RayKind, FrameRenderer.Spent> spent, double times) {
    double all = spent.values().stream().mapToLong(FrameRenderer.Spent::nanoseconds).sum();
    List<Kind> kinds = new ArrayList<>();
    spent.forEach(
        (k, s) -> kinds.add(new Kind(k, s.rays() * times, s.nanoseconds() / Math.max(1, all))));
    return kinds;
  }
}
