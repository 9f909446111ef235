package posada.server.layers;

import org.springframework.stereotype.Component;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRate;
import posada.core.settings.Layer;
import posada.core.settings.RenderSettings;
import posada.core.trace.ObjectMap;
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
    RenderSettings settings = shots.document(s, null).settings().with(Layer.MAIN);
    double fit =
        Math.min(1, Math.max(16, most) / (double) Math.max(s.scaledWidth(), s.scaledHeight()));
    try (RenderThreads.Watched first = pool.watch()) {
      return ObjectMap.of(
          library.get(scenes.revision(s.revisionId()), RenderDocument.DEFAULT.with(settings)),
          s.camera(),
          new FrameRate(shots.productionOf(s).frameRate()).moment(frame),
          Math.max(1, (int) Math.round(s.scaledWidth() * fit)),
          Math.max(1, (int) Math.round(s.scaledHeight() * fit)),
          settings,
          pool.workers(),
          Stop.NEVER);
    }
  }
}
