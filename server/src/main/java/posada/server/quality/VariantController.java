package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.util.ArrayList;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.assembly.LayerMerge;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.settings.Crop;
import posada.core.settings.Limits;
import posada.core.settings.Recipe;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.quality.TrialPictures.Subject;
import posada.server.shots.PicturePart;

/** The same part of a picture with several settings, to choose between them. */
@RestController
class VariantController {
  private static final int FIRST = 4;

  /** Most samples, and what samples are spread for if time is the limit. */
  private static final int MOST = 4096;

  private static final double LONGEST = 600;

  private final TrialPictures pictures;
  private final RenderThreads pool;
  private final ViewerStreams streams;

  VariantController(TrialPictures pictures, RenderThreads pool, ViewerStreams streams) {
    this.pictures = pictures;
    this.pool = pool;
    this.streams = streams;
  }

  /**
   * What is to be compared.
   *
   * @param viewer whatever was sent to it ends
   * @param samples that each gets; 0 if they get the same time
   * @param seconds that each gets, if {@code samples} is 0
   * @param recipes 2 to 6
   */
  record Variants(
      String viewer,
      @Schema(types = {"integer", "null"}) Long layerId,
      int frame,
      PicturePart part,
      int samples,
      double seconds,
      List<Recipe> recipes) {
    Variants {
      if (recipes == null || recipes.size() < 2 || recipes.size() > 6) {
        throw new IllegalArgumentException(
            "2 to 6 variants are compared (got %d)"
                .formatted(recipes == null ? 0 : recipes.size()));
      }
      if (part == null || viewer == null) {
        throw new IllegalArgumentException("viewer and part must be given");
      }
      Limits.within("samples", samples, 0, MOST);
      if (samples == 0) {
        Limits.within("seconds", seconds, 0.1, LONGEST);
      }
      recipes = List.copyOf(recipes);
    }
  }

  /**
   * How a variant stands.
   *
   * @param index its place among the recipes
   * @param done true if it gets no more samples
   * @param refused why it cannot be rendered; null if it can
   * @param baking share of its light that is baked, 0 .. 1; null if none is, or all
   * @param bakeSeconds what baking light from this frame took; null if none was
   * @param seconds that the samples of the part took
   * @param frameSeconds likewise of a whole frame, if all of it were as dear
   * @param cut share of the light that the clamp took, 0 .. 1
   * @param light mean luminance over that of the first variant; null before both are there
   * @param apart how far each variant's picture is from it, see {@link LayerMerge#apart}; null for
   *     those that are not there
   * @param data a PNG in base64; null before there is any
   */
  record Variant(
      int index,
      boolean done,
      @Schema(types = {"string", "null"}) String refused,
      @Schema(types = {"number", "null"}) Double baking,
      @Schema(types = {"number", "null"}) Double bakeSeconds,
      int samples,
      double noise,
      double seconds,
      double frameSeconds,
      double cut,
      @Schema(types = {"number", "null"}) Double light,
      List<Double> apart,
      int width,
      int height,
      @Schema(types = {"string", "null"}) String data) {}

  /** Sends a {@code variant} for each state of each; or {@code failed} with a sentence. */
  @ApiResponse(
      responseCode = "200",
      content =
          @Content(
              mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
              schema = @Schema(implementation = Variant.class)))
  @PostMapping(path = "/api/shots/{id}/variants", produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter variants(@PathVariable long id, @RequestBody Variants v) {
    Subject s = pictures.subject(id, v.layerId(), v.frame());
    int w = s.shot().scaledWidth(), h = s.shot().scaledHeight();
    Crop part = v.part().of(w, h);
    return streams.open(
        v.viewer(),
        s.shot().name(),
        (out, stop) -> {
          RenderScene scene = pictures.scene(s);
          double parts = w * (double) h / (part.width() * (double) part.height());
          Comparison c = new Comparison(v, parts, out, stop);
          try (RenderThreads.Watched mine = pool.viewing()) {
            for (int i = 0; i < v.recipes().size() && !stop.asked(); i++) {
              c.begin(i, s, scene, s.document().settings().with(part).with(TrialPictures.BEAUTY));
            }
            while (c.round()) {}
          }
        });
  }

  /** One variant while it is rendered. */
  private static final class Entry {
    private FrameRenderer renderer;
    private Double bakeSeconds;
    private double seconds;
    private boolean done;
    private FrameImage latest;
  }

  private final class Comparison {
    private final Variants wanted;
    private final double parts;
    private final ViewerStreams.Sender out;
    private final Stop stop;
    private final List<Entry> all = new ArrayList<>();

    Comparison(Variants wanted, double parts, ViewerStreams.Sender out, Stop stop) {
      this.wanted = wanted;
      this.parts = parts;
      this.out = out;
      this.stop = stop;
    }

    void begin(int i, Subject s, RenderScene scene, RenderSettings base)
        throws ViewerStreams.ViewerGone {
      Entry e = new Entry();
      all.add(e);
      int most = wanted.samples() > 0 ? wanted.samples() : MOST;
      Recipe recipe = wanted.recipes().get(i);
      Sampling own = recipe.sampling();
      Sampling given =
          new Sampling(
              own.least(),
              most,
              own.adaptive(),
              own.noiseThreshold(),
              0,
              own.seed(),
              own.seedPerFrame(),
              own.pattern());
      RenderSettings settings = base.with(recipe.with(given));
      int w = s.shot().scaledWidth(), h = s.shot().scaledHeight();
      RenderScene lit = scene;
      if (settings.irradiance().use()) {
        List<String> why = scene.changes(pictures.moments(s.shot()), settings);
        if (!why.isEmpty()) {
          e.done = true;
          out.send("variant", bare(i, true, "no baked light: " + why.get(0), null));
          return;
        }
        BakedLight light =
            pictures.bake(
                s,
                scene,
                w,
                h,
                settings,
                done -> out.send("variant", bare(i, false, null, done)),
                stop);
        if (light == null) {
          return;
        }
        e.bakeSeconds = light.info().seconds();
        lit = scene.withBakedLight(light);
      }
      e.renderer = pictures.renderer(s, lit, w, h, settings, stop);
    }

    private Variant bare(int i, boolean done, String refused, Double baking) {
      return new Variant(
          i, done, refused, baking, null, 0, 0, 0, 0, 0, null, List.of(), 0, 0, null);
    }

    /** Gives each variant more samples; returns false if none wants any, or it was stopped. */
    boolean round() throws ViewerStreams.ViewerGone {
      boolean more = false;
      for (int i = 0; i < all.size(); i++) {
        Entry e = all.get(i);
        if (e.done || e.renderer == null) {
          continue;
        }
        int target = target(e);
        long start = System.nanoTime();
        if (!e.renderer.advance(target, pool.workers(), stop)) {
          return false;
        }
        e.seconds += (System.nanoTime() - start) / 1e9;
        e.done = e.renderer.done() || target(e) <= target;
        e.latest = e.renderer.image(TrialPictures.BEAUTY, pool.workers(), stop);
        if (e.latest == null) {
          return false;
        }
        out.send("variant", state(i, e));
        more |= !e.done;
      }
      return more;
    }

    private int target(Entry e) {
      int n = e.renderer.samples();
      int next = Math.max(FIRST, 2 * n);
      if (wanted.samples() > 0) {
        return Math.min(wanted.samples(), next);
      }
      double each = n == 0 ? 0 : e.seconds / n;
      int room = each > 0 ? (int) ((wanted.seconds() - e.seconds) / each) : MOST;
      return Math.min(MOST, Math.min(next, n + Math.max(0, room)));
    }

    private Variant state(int i, Entry e) {
      FrameImage first = all.get(0).latest;
      double own = LayerMerge.light(e.latest);
      Double light = first == null ? null : Double.valueOf(own / LayerMerge.light(first));
      List<Double> apart = new ArrayList<>();
      for (Entry o : all) {
        apart.add(o.latest == null ? null : Double.valueOf(LayerMerge.apart(e.latest, o.latest)));
      }
      return new Variant(
          i,
          e.done,
          null,
          null,
          e.bakeSeconds,
          e.renderer.samples(),
          e.renderer.noise(),
          e.seconds,
          e.seconds * parts,
          e.renderer.report().shareCut(),
          light == null || light.isNaN() || light.isInfinite() ? null : light,
          apart,
          e.latest.width(),
          e.latest.height(),
          TrialPictures.png(e.latest));
    }
  }
}
