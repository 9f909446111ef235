package posada.server.shots;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import posada.core.assembly.LayerMerge;
import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.parallel.Stop;
import posada.core.review.Look;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.Brightness;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.server.app.RenderThreads;

/** The pictures that one live picture is made of: one layer, or several that are put together. */
final class LiveParts {
  private static final Set<Pass> BEAUTY = Set.of(Pass.BEAUTY);
  private static final Denoising PLAIN = new Denoising(false, 1);

  /** By how much differences are shown larger than they are. */
  private static final float GAIN = 4;

  /** Which of the two pictures that are rendered at once is compared with itself. */
  private static final int OTHER_SEED = 7919;

  private final LivePicture.Request request;
  private final List<RenderScene> scenes;
  private final List<RenderSettings> settings = new ArrayList<>();
  private final List<LayerMerge.How> ways;
  private final RenderThreads pool;
  private final Stop stop;
  private List<FrameRenderer> renderers;

  /**
   * A state of the picture; figures that are not known are NaN.
   *
   * @param apart see {@link LivePicture.Update}
   */
  record State(
      DisplayImage image, double noise, double apart, double noiseApart, Brightness brightness) {}

  LiveParts(LivePicture.Request request, List<RenderScene> scenes, RenderThreads pool, Stop stop) {
    this.request = request;
    this.scenes = new ArrayList<>(scenes);
    this.pool = pool;
    this.stop = stop;
    ways =
        request.shown().merges()
            ? LayerMerge.ways(
                scenes.get(0).scene(), request.layers().stream().map(d -> d.layer()).toList())
            : List.of(LayerMerge.How.OVER);
    for (var d : request.layers()) {
      RenderSettings s = d.settings().with((Crop) null).with(BEAUTY);
      settings.add(request.shown() == LivePicture.Shown.APART ? s.with(PLAIN) : s);
    }
    if (request.shown() == LivePicture.Shown.APART) {
      boolean background = request.layers().stream().anyMatch(d -> d.background());
      RenderSettings whole = settings.get(0).with(Layer.MAIN).with(background);
      this.scenes.add(scenes.get(0));
      this.scenes.add(scenes.get(0));
      settings.add(whole);
      settings.add(whole.with(whole.sampling().most(), whole.sampling().seed() + OTHER_SEED));
    }
  }

  int target() {
    return request.samples();
  }

  /** Begins anew, at a part of the size; false if it was stopped. */
  boolean begin(int part, int samples) {
    renderers = new ArrayList<>();
    for (int i = 0; i < settings.size(); i++) {
      RenderSettings s = settings.get(i);
      int w = Math.max(1, request.width() / part), h = Math.max(1, request.height() / part);
      FrameRenderer r =
          scenes
              .get(i)
              .frame(
                  request.camera(),
                  request.rate().moment(request.frame()),
                  w,
                  h,
                  s.with(samples, s.sampling().seed())
                      .with(request.part() == null ? null : request.part().of(w, h)),
                  pool.workers(),
                  stop,
                  null);
      if (r == null) {
        return false;
      }
      renderers.add(r);
    }
    return true;
  }

  /** Adds samples to all of them; false if it was stopped. */
  boolean advance(int target) {
    for (FrameRenderer r : renderers) {
      if (!r.advance(target, pool.workers(), stop)) {
        return false;
      }
    }
    return true;
  }

  /**
   * Returns the picture so far; null if it was stopped.
   *
   * @param clean true to take the noise out where the recipe asks for it
   */
  State picture(boolean clean) {
    List<FrameImage> all = new ArrayList<>();
    for (FrameRenderer r : renderers) {
      FrameImage i = clean ? r.image(BEAUTY, pool.workers(), stop) : r.soFar();
      if (i == null) {
        return null;
      }
      all.add(request.part() == null ? i.full() : i);
    }
    int n = request.layers().size();
    FrameImage merged = ways.size() == 1 ? all.get(0) : LayerMerge.merge(all.subList(0, n), ways);
    boolean compared = all.size() > n;
    double noise =
        renderers.subList(0, n).stream().mapToDouble(FrameRenderer::noise).max().orElse(Double.NaN);
    DisplayImage shown =
        switch (request.shown()) {
          case BEAUTY, MERGED -> ViewTransform.beauty(merged, 0, false);
          // What is seen behind the objects is no part of their alpha.
          case ALONE ->
              settings.get(0).background()
                  ? ViewTransform.beauty(merged, 0, false)
                  : Look.of(Look.Shown.CHECKERS)
                      .of(
                          merged,
                          request.part() == null ? request.width() / (double) merged.width() : 1);
          case ALPHA -> Look.of(Look.Shown.ALPHA).of(merged);
          case APART ->
              ViewTransform.beauty(LayerMerge.difference(merged, all.get(n), GAIN), 0, false);
        };
    return new State(
        shown,
        noise,
        compared ? LayerMerge.apart(merged, all.get(n)) : Double.NaN,
        compared ? LayerMerge.apart(all.get(n + 1), all.get(n)) : Double.NaN,
        Brightness.of(merged));
  }
}
