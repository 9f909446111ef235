package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Track;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.Multipliers;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.gltf.SceneImporter;

/** Light parts and light groups add up to the beauty, with every feature on. */
class LightPassesTest {
  private static final int WIDTH = 80;
  private static final int HEIGHT = 50;

  /** How far sums of the same numbers in another order are apart. */
  private static final double ROUNDING = 3e-6;

  @TempDir Path folder;

  /** A scene with the parts that it has at least. */
  record Look(String camera, Supplier<byte[]> scene, String held, String lit, Set<Pass> has) {
    @Override
    public String toString() {
      return camera;
    }
  }

  static final List<Look> LOOKS =
      List.of(
          new Look(
              "station-close",
              BuildScenes::larkspurPass,
              "pylon-*",
              "lower-station",
              EnumSet.of(Pass.DIFFUSE_DIRECT, Pass.DIFFUSE_INDIRECT, Pass.ENVIRONMENT)),
          new Look(
              "glide",
              BuildScenes::ticketHall,
              "counter",
              "walls",
              EnumSet.of(
                  Pass.DIFFUSE_DIRECT,
                  Pass.DIFFUSE_INDIRECT,
                  Pass.SPECULAR_DIRECT,
                  Pass.SPECULAR_INDIRECT,
                  Pass.COAT)),
          new Look(
              "overview",
              BuildScenes::windingEngine,
              "cylinder",
              "walls",
              EnumSet.of(
                  Pass.SPECULAR_DIRECT,
                  Pass.SPECULAR_INDIRECT,
                  Pass.TRANSMISSION_INDIRECT,
                  Pass.DIFFUSE_DIRECT)));

  private FrameImage render(Look l, RenderSettings settings) throws Exception {
    Path file = Files.write(folder.resolve("s.glb"), l.scene().get());
    RenderScene ready = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
    Moment moment = new Moment(30, 1.25, 24);
    return ready
        .frame(l.camera(), moment, WIDTH, HEIGHT, settings, Workers.CALLER, Stop.NEVER, null)
        .render(8, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  /** Something held out, something lit by some groups alone, other lights and no textures. */
  private static Layer layer(Look l) {
    return new Layer(
        "all",
        Layer.Role.SEEN,
        List.of(
            new Layer.Rule(List.of(l.held), Layer.Role.HOLDOUT, null, false, null),
            new Layer.Rule(List.of(l.lit), null, false, null, List.of("sky", "rest"))),
        null,
        List.of(),
        List.of(0.8f, 1f, 1.2f),
        false,
        true,
        null);
  }

  @ParameterizedTest
  @FieldSource("LOOKS")
  void partsAndGroupsAddUpToTheBeauty(Look l) throws Exception {
    Set<Pass> wanted = EnumSet.of(Pass.BEAUTY, Pass.LIGHT_GROUPS);
    wanted.addAll(Pass.LIGHT_PARTS);
    RenderSettings settings =
        RenderSettings.of(8, 3)
            .with(new Multipliers(2, 3, 1, 2))
            .with(new Shutter(true, 180, 0, true, true, true, 2))
            .with(new Lens(null, 36, 24, true, Track.of(2), Track.of(6), null, 6, 10, Track.of(0)))
            .with(
                new PassSettings(
                    wanted, Map.of("sky", List.of("environment"), "sun", List.of("sun")), 1, 1))
            .with(layer(l));
    FrameImage image = render(l, settings);
    for (String c : List.of("R", "G", "B")) {
      float[] beauty = image.find(c);
      double brightest = 0;
      for (int i = 0; i < beauty.length; i++) {
        double parts = 0;
        for (Pass p : Pass.LIGHT_PARTS) {
          parts += image.find(p.label() + "." + c)[i];
        }
        double groups = 0;
        for (String g : List.of("sky", "sun", "rest")) {
          groups += image.find("light-" + g + "." + c)[i];
        }
        double room = ROUNDING * Math.max(1, beauty[i]);
        assertEquals(beauty[i], parts, room, c + " parts at " + i);
        assertEquals(beauty[i], groups, room, c + " groups at " + i);
        brightest = Math.max(brightest, beauty[i]);
      }
      assertTrue(brightest > 0.1, "the picture is dark");
    }
    for (Pass p : l.has()) {
      double sum = 0;
      for (float v : image.find(p.label() + ".G")) {
        assertTrue(v >= 0 && v < Float.POSITIVE_INFINITY, p.label());
        sum += v;
      }
      assertTrue(sum / (WIDTH * HEIGHT) > 1e-5, p.label() + " is empty");
    }
  }

  @ParameterizedTest
  @FieldSource("LOOKS")
  void theBeautyIsTheSameWhateverElseIsWanted(Look l) throws Exception {
    FrameImage alone = render(l, RenderSettings.of(4, 0));
    FrameImage all =
        render(l, RenderSettings.of(4, 0).with(EnumSet.complementOf(EnumSet.of(Pass.OWN))));
    for (String c : List.of("R", "G", "B", "A")) {
      org.junit.jupiter.api.Assertions.assertArrayEquals(alone.find(c), all.find(c), c);
    }
  }
}
