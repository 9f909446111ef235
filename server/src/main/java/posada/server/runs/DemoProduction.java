package posada.server.runs;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneReport.CameraLine;
import posada.formats.settings.RenderDocument;
import posada.server.app.PosadaProperties;
import posada.server.scenes.Production;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Sets up the demo production at the first start: a scene, a shot for each camera, one run. */
@Component
class DemoProduction {
  private static final Logger LOG = LoggerFactory.getLogger(DemoProduction.class);
  private final PosadaProperties properties;
  private final SceneService scenes;
  private final ShotService shots;
  private final RunService runs;

  DemoProduction(
      PosadaProperties properties, SceneService scenes, ShotService shots, RunService runs) {
    this.properties = properties;
    this.scenes = scenes;
    this.shots = shots;
    this.runs = runs;
  }

  @EventListener(ApplicationReadyEvent.class)
  @Order(1)
  void setUp() throws IOException, ImportException {
    if (properties.demo().isBlank() || !scenes.revisions().isEmpty()) {
      return;
    }
    Production p = scenes.production();
    scenes.change(new Production(p.id(), "Larkspur Line", 24, 1280, 720));
    Path file = Path.of(properties.demo());
    Revision r;
    try (InputStream in = Files.newInputStream(file)) {
      r = scenes.take(file.getFileName().toString(), in);
    }
    Shot first = null;
    for (CameraLine c : r.report().cameras()) {
      Shot s = shots.add(r.id(), c.name());
      first = first == null ? s : first;
    }
    if (first != null) {
      // Small and short, so that there is something to watch within a minute of the first start.
      runs.start(quick(first).id());
    }
    LOG.info("the demo production is ready");
  }

  private Shot quick(Shot s) throws ImportException {
    RenderDocument d = s.settings();
    return shots.change(
        new Shot(
            s.id(),
            s.version(),
            s.revisionId(),
            s.name(),
            s.camera(),
            "1-96x8",
            s.width(),
            s.height(),
            25,
            d.with(d.settings().with(6, 0))));
  }
}
