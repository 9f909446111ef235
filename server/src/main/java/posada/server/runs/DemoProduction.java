package posada.server.runs;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.core.annotation.Order;
import org.springframework.stereotype.Component;
import posada.core.settings.Denoising;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneReport.CameraLine;
import posada.server.app.PosadaProperties;
import posada.server.definitions.Recipes;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.Strand;
import posada.server.shots.StrandService;

/**
 * Sets up the demo production at the first start: its scenes, a shot for each of their cameras, and
 * one run that is small and clean.
 */
@Component
class DemoProduction {
  private static final Logger LOG = LoggerFactory.getLogger(DemoProduction.class);

  /** The scene that comes first; the others follow by their names. */
  private static final String FIRST = "larkspur-pass.glb";

  /** Few frames of few samples, cleaned, so that they are there within two minutes. */
  private static final String FRAMES = "1-96x4";

  private static final int SAMPLES = 8, SCALE = 25;

  private final PosadaProperties properties;
  private final ProductionService productions;
  private final SceneService scenes;
  private final ShotService shots;
  private final StrandService strands;
  private final Recipes recipes;
  private final RunService runs;

  DemoProduction(
      PosadaProperties properties,
      ProductionService productions,
      SceneService scenes,
      ShotService shots,
      StrandService strands,
      Recipes recipes,
      RunService runs) {
    this.properties = properties;
    this.productions = productions;
    this.scenes = scenes;
    this.shots = shots;
    this.strands = strands;
    this.recipes = recipes;
    this.runs = runs;
  }

  @EventListener(ApplicationReadyEvent.class)
  @Order(1)
  void setUp() throws IOException, ImportException {
    Production p = productions.all().get(0);
    if (properties.demo().isBlank() || !scenes.revisions(p.id()).isEmpty()) {
      return;
    }
    productions.change(
        new Production(
            p.id(), p.version(), "Larkspur Line", p.address(), 24, 1280, 720, null, false));
    Shot first = null;
    for (Path file : files()) {
      Revision r;
      try (InputStream in = Files.newInputStream(file)) {
        r = scenes.take(p.id(), file.getFileName().toString(), in, false).revision();
      }
      for (CameraLine c : r.report().cameras()) {
        Shot s = shots.add(r.id(), c.name());
        first = first == null ? s : first;
      }
      if (first != null && file.endsWith(FIRST)) {
        start(p, first);
      }
    }
    LOG.info("the demo production is ready");
  }

  private List<Path> files() throws IOException {
    List<Path> files = new ArrayList<>();
    try (Stream<Path> all = Files.list(Path.of(properties.demo()))) {
      all.filter(f -> f.toString().matches(".*\\.(glb|zip)")).sorted().forEach(files::add);
    }
    files.sort((a, b) -> Boolean.compare(b.endsWith(FIRST), a.endsWith(FIRST)));
    return files;
  }

  /** Light by kind and by lamps, and what a picture is put together with. */
  private static PassSettings passes() {
    Set<Pass> wanted = EnumSet.copyOf(Pass.LIGHT_PARTS);
    wanted.addAll(
        EnumSet.of(
            Pass.BEAUTY,
            Pass.LIGHT_GROUPS,
            Pass.DEPTH,
            Pass.AMBIENT_OCCLUSION,
            Pass.MOTION_NEXT,
            Pass.MATTE_OBJECTS));
    PassSettings b = PassSettings.BEAUTY;
    Map<String, List<String>> groups =
        Map.of("lamps", List.of("*lamp*"), "sky", List.of("environment", "sun"));
    return new PassSettings(
        wanted,
        groups,
        OCCLUSION_METRES,
        b.occlusionFalloff(),
        b.matteRanks(),
        b.own(),
        b.deepTolerance());
  }

  private static final double OCCLUSION_METRES = 4;

  /** Renders a shot small, and leaves it as it was. */
  private void start(Production p, Shot s) throws ImportException {
    Recipe few = Recipe.DEFAULT.with(Recipe.DEFAULT.sampling().with(SAMPLES, 0));
    long recipe = recipes.add(p.id(), "look", few.with(new Denoising(true, 1))).id();
    Shot small = shots.change(s.with(FRAMES, SCALE, recipe));
    long layer = shots.layer(small, null).id();
    strands.change(p.id(), List.of(new Strand(0, small.id(), layer, true, null, null, passes())));
    runs.start(small.id());
    shots.change(small.with(s.frames(), s.scale(), s.recipeId()));
  }
}
