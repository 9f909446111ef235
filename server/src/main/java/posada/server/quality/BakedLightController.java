package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Content;
import io.swagger.v3.oas.annotations.media.Schema;
import io.swagger.v3.oas.annotations.responses.ApiResponse;
import java.util.List;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.mvc.method.annotation.SseEmitter;
import posada.core.image.FrameImage;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.plan.BakeCheck;
import posada.core.plan.BakeTime;
import posada.core.settings.Crop;
import posada.core.settings.Moment;
import posada.core.settings.Recipe;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.PointsSeen;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.server.app.RenderThreads;
import posada.server.app.ViewerStreams;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.quality.TrialPictures.Subject;
import posada.server.shots.Shot;

/** Whether baked light can be used for a strand, what it saves, and what to do if it cannot. */
@RestController
class BakedLightController {
  /** Longest side of a trial's pictures, and of that which its light is baked for, pixels. */
  private static final int LONGEST = 400, LONGEST_BAKED = 160;

  /** Most samples of a trial's pictures. */
  private static final int MOST_SAMPLES = 32;

  private final TrialPictures pictures;
  private final BakedLightService service;
  private final RenderThreads pool;
  private final ViewerStreams streams;

  BakedLightController(
      TrialPictures pictures,
      BakedLightService service,
      RenderThreads pool,
      ViewerStreams streams) {
    this.pictures = pictures;
    this.service = service;
    this.pool = pool;
    this.streams = streams;
  }

  /**
   * Whether light can be baked.
   *
   * @param why it cannot, in sentences; none if it can
   * @param movers names of objects that could be put in a layer of their own
   * @param every frames from one that light is baked from to the next, as it is suggested
   */
  record BakedLightUse(List<String> why, List<String> movers, int every) {}

  /** Says whether light can be baked for a shot's layer. */
  @GetMapping("/api/shots/{id}/baked-light")
  BakedLightUse use(@PathVariable long id, @RequestParam(required = false) Long layer)
      throws ImportException {
    List<Moment> moments = pictures.moments(pictures.shot(id));
    Subject s = pictures.subject(id, layer, moments.get(0).frame());
    RenderScene scene = pictures.scene(s);
    RenderSettings settings = s.document().settings();
    BakeCheck c = BakeCheck.of(scene, moments, settings);
    return new BakedLightUse(c.why(), c.movers(), every(s, scene, moments));
  }

  private int every(Subject s, RenderScene scene, List<Moment> moments) {
    return scene.suggestEvery(s.shot().camera(), moments, s.document().settings(), pool.workers());
  }

  /**
   * Leaves what moves out of a shot's layer and makes a layer of its own for it, in one step; both
   * are on wherever the layer is.
   */
  @PostMapping("/api/shots/{id}/movers-apart")
  List<Definition<LayerDocument>> apart(@PathVariable long id, @RequestParam long layer)
      throws ImportException {
    List<Moment> moments = pictures.moments(pictures.shot(id));
    Subject s = pictures.subject(id, layer, moments.get(0).frame());
    RenderScene scene = pictures.scene(s);
    BakeCheck c = BakeCheck.of(scene, moments, s.document().settings());
    return service.apart(s.shot(), layer, c.movers(), scene.scene());
  }

  /** Has the light of a shot's layer baked from every Nth frame; returns its recipe then. */
  @PostMapping("/api/shots/{id}/baked-light")
  Definition<Recipe> bake(
      @PathVariable long id, @RequestParam(required = false) Long layer, @RequestParam int every) {
    return service.bake(pictures.shot(id), layer, every);
  }

  /** How far a trial's bake is: share of it, 0 .. 1. */
  record Baking(double share) {}

  /**
   * What a trial found.
   *
   * @param samples of each pixel of both pictures
   * @param bakeSeconds what baking small from this frame took
   * @param strandBakeSeconds what baking the strand's light takes, about, every {@code every}-th
   *     frame
   * @param points how many there are
   * @param secondsWithout of the picture, without baked light
   * @param noiseWithout likewise its noise
   * @param secondsWith of the picture, in baked light
   * @param noiseWith likewise its noise
   * @param secondsToSameNoise of the picture in baked light, until it is as clean as without
   * @param without PNG in base64; with and dots, which is transparent but for the points, likewise
   */
  record BakedTrial(
      int samples,
      double bakeSeconds,
      double strandBakeSeconds,
      int every,
      int points,
      double secondsWithout,
      double noiseWithout,
      double secondsWith,
      double noiseWith,
      double secondsToSameNoise,
      int width,
      int height,
      String without,
      String with,
      String dots) {}

  /** Events of a trial, for the description of what is sent. */
  record BakedTrialEvents(Baking baking, BakedTrial tried) {}

  /**
   * Bakes light small and renders a frame with and without. Sends {@code baking} now and then and
   * {@code tried} at the end; or {@code failed} with a sentence.
   */
  @ApiResponse(
      responseCode = "200",
      content =
          @Content(
              mediaType = MediaType.TEXT_EVENT_STREAM_VALUE,
              schema = @Schema(implementation = BakedTrialEvents.class)))
  @GetMapping(
      path = "/api/shots/{id}/baked-light/trial",
      produces = MediaType.TEXT_EVENT_STREAM_VALUE)
  SseEmitter trial(
      @PathVariable long id,
      @RequestParam String viewer,
      @RequestParam int frame,
      @RequestParam(required = false) Long layer) {
    Subject s = pictures.subject(id, layer, frame);
    return streams.open(
        viewer,
        s.shot().name(),
        (out, stop) -> {
          try (RenderThreads.Watched mine = pool.viewing()) {
            new Trial(s, out, stop).run(pictures.scene(s));
          }
        });
  }

  private final class Trial {
    private final Subject subject;
    private final ViewerStreams.Sender out;
    private final Stop stop;
    private final int width, height;

    Trial(Subject subject, ViewerStreams.Sender out, Stop stop) {
      this.subject = subject;
      this.out = out;
      this.stop = stop;
      Shot.Size size = subject.shot().within(LONGEST);
      width = size.width();
      height = size.height();
    }

    void run(RenderScene scene) throws ViewerStreams.ViewerGone {
      RenderSettings own = subject.document().settings().with((Crop) null);
      List<Moment> moments = pictures.moments(subject.shot());
      List<String> why = BakeCheck.of(scene, moments, own).why();
      if (!why.isEmpty()) {
        throw new IllegalArgumentException("Light cannot be baked here: " + why.get(0) + ".");
      }
      String camera = subject.shot().camera();
      // As the recipe has it, or as it is suggested.
      int every =
          own.irradiance().use() ? own.irradiance().every() : every(subject, scene, moments);
      Shot.Size baked = subject.shot().within(LONGEST_BAKED);
      BakedLight light =
          pictures.bake(
              subject,
              scene,
              baked.width(),
              baked.height(),
              own,
              done -> out.send("baking", new Baking(done)),
              stop);
      if (light == null) {
        return;
      }
      int samples = Math.min(MOST_SAMPLES, own.sampling().most());
      RenderSettings even =
          own.with(TrialPictures.BEAUTY).with(TrialPictures.even(own.sampling(), samples));
      Taken without = taken(scene, even, samples);
      Taken with = without == null ? null : taken(scene.withBakedLight(light), even, samples);
      if (with == null) {
        return;
      }
      var dots =
          PointsSeen.of(
              scene,
              light.points(),
              camera,
              subject.moment(),
              width,
              height,
              own,
              pool.workers(),
              stop);
      if (dots == null) {
        return;
      }
      out.send(
          "tried",
          new BakedTrial(
              samples,
              light.info().seconds(),
              BakeTime.of(
                  light.info().seconds(),
                  baked.width() * (double) baked.height(),
                  1,
                  subject.shot().scaledWidth() * (double) subject.shot().scaledHeight(),
                  RenderScene.someOf(moments, every).size()),
              every,
              light.points().count(),
              without.seconds,
              without.noise,
              with.seconds,
              with.noise,
              BakeTime.toNoise(with.seconds, with.noise, without.noise),
              width,
              height,
              TrialPictures.png(without.image),
              TrialPictures.png(with.image),
              TrialPictures.png(dots)));
    }

    private record Taken(double seconds, double noise, FrameImage image) {}

    private Taken taken(RenderScene scene, RenderSettings settings, int samples) {
      FrameRenderer r = pictures.renderer(subject, scene, width, height, settings, stop);
      if (r == null || !r.advance(1, pool.workers(), stop)) {
        return null;
      }
      long start = System.nanoTime();
      if (!r.advance(samples, pool.workers(), stop)) {
        return null;
      }
      double seconds = (System.nanoTime() - start) / 1e9 * samples / Math.max(1, samples - 1.0);
      double noise = r.noise();
      FrameImage image = r.image(TrialPictures.BEAUTY, pool.workers(), stop);
      return image == null ? null : new Taken(seconds, noise, image);
    }
  }
}
