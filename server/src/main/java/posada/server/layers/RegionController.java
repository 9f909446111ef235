package posada.server.layers;

import java.util.List;
import java.util.TreeSet;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.parallel.Stop;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.settings.Crop;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;
import posada.server.app.RenderThreads;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Says which part of a shot's picture a layer renders. */
@RestController
class RegionController {
  /** Frames of the shot that are looked at for what a region saves. */
  private static final int LOOKED = 24;

  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final RenderThreads pool;

  RegionController(
      ShotService shots, SceneService scenes, SceneLibrary library, RenderThreads pool) {
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.pool = pool;
  }

  /**
   * The part of a picture that is rendered, pixels from its top left corner.
   *
   * @param share of the shot's pixels that are in it, over frames from all of its range, 0 .. 1
   */
  record PartOfPicture(
      int x, int y, int width, int height, int fullWidth, int fullHeight, double share) {}

  @GetMapping("/api/shots/{id}/region")
  PartOfPicture region(@PathVariable long id, @RequestParam int frame, @RequestParam long layer)
      throws ImportException {
    Shot s = shots.find(id);
    RenderDocument d = shots.document(s, layer);
    int w = s.scaledWidth(), h = s.scaledHeight();
    List<Integer> all = FrameRange.parse(s.frames()).frames();
    TreeSet<Integer> some = new TreeSet<>(List.of(frame));
    for (int k = 0; k < Math.min(LOOKED, all.size()); k++) {
      some.add(all.get((int) ((long) k * all.size() / Math.min(LOOKED, all.size()))));
    }
    List<Integer> looked = List.copyOf(some);
    FrameRate rate = new FrameRate(shots.productionOf(s).frameRate());
    RenderScene scene = library.get(scenes.revision(s.revisionId()), d);
    List<Crop> regions;
    try (RenderThreads.Watched first = pool.watch()) {
      regions =
          scene.regions(
              s.camera(),
              looked.stream().map(rate::moment).toList(),
              w,
              h,
              d.settings(),
              pool.workers(),
              Stop.NEVER);
    }
    double share =
        regions.stream()
            .mapToDouble(c -> c == null ? 1 : c.width() * (double) c.height() / ((double) w * h))
            .average()
            .orElse(1);
    Crop now = regions.get(looked.indexOf(frame));
    return now == null
        ? new PartOfPicture(0, 0, w, h, w, h, share)
        : new PartOfPicture(now.x(), now.y(), now.width(), now.height(), w, h, share);
  }
}
