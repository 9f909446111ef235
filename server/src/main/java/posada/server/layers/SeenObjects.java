package posada.server.layers;

import io.swagger.v3.oas.annotations.media.Schema;
import org.springframework.stereotype.Component;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.settings.Layer;
import posada.core.settings.RenderSettings;
import posada.core.trace.ObjectMap;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Looks which objects are where in shots' pictures. */
@Component
class SeenObjects {
  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;

  SeenObjects(ShotService shots, SceneService scenes, SceneLibrary library, RenderThreads pool) {
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.pool = pool;
  }

  /**
   * Returns what is where, whatever layers leave out.
   *
   * @param most pixels of the longest side
   */
  ObjectMap at(Shot s, int frame, int most) throws ImportException {
    RenderDocument d = shots.document(s, null);
    RenderSettings settings = d.settings().with(Layer.MAIN);
    Shot.Size size = s.within(Math.max(16, most));
    try (RenderThreads.Watched first = pool.watch()) {
      return ObjectMap.of(
          library.get(
              scenes.revision(s.revisionId()), RenderDocument.DEFAULT.with(settings).with(d.rig())),
          s.camera(),
          new FrameRate(shots.productionOf(s).frameRate()).moment(frame),
          size.width(),
          size.height(),
          settings,
          pool.workers(),
          Stop.NEVER);
    }
  }

  /**
   * What is at a place of a picture.
   *
   * @param object its name; null if nothing is there
   * @param depth distance along the view axis, metres; null likewise
   */
  record Seen(
      @Schema(types = {"string", "null"}) String object,
      @Schema(types = {"number", "null"}) Double depth) {}

  /**
   * Returns what is at a place of a picture, as its layer has it.
   *
   * @param x share of the picture's width from its left, 0 .. 1; y likewise from its top
   */
  Seen pick(Shot s, int frame, Long layer, double x, double y) throws ImportException {
    RenderDocument d = shots.document(s, layer);
    RenderScene scene = library.get(scenes.revision(s.revisionId()), d);
    try (RenderThreads.Watched first = pool.watch()) {
      ObjectMap.Picked p =
          ObjectMap.pick(
              scene,
              s.camera(),
              new FrameRate(shots.productionOf(s).frameRate()).moment(frame),
              s.scaledWidth(),
              s.scaledHeight(),
              x,
              y,
              d.settings(),
              pool.workers());
      return p == null
          ? new Seen(null, null)
          : new Seen(scene.scene().nodes().get(p.node()).name(), p.depth());
    }
  }
}
