package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Crop;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;
import posada.core.settings.Layer.Rule;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.gltf.SceneImporter;

/** Two layers rendered apart with holdouts and merged are the picture rendered at once. */
class LayerMergeTest {
  private static final int WIDTH = 128;
  private static final int HEIGHT = 80;

  @TempDir Path folder;

  private FrameImage render(RenderScene ready, Layer l, boolean background) {
    RenderSettings settings =
        RenderSettings.of(32, 5)
            .with(new Shutter(true, 180, 0, true, true, true, 2))
            .with(background)
            .with(l);
    Moment moment = new Moment(40, 40 / 24.0, 24);
    return ready
        .frame("car-ride", moment, WIDTH, HEIGHT, settings, Workers.CALLER, Stop.NEVER, null)
        .render(32, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static Layer layer(Role cars, Role rest, boolean under) {
    return new Layer(
        "part",
        rest,
        List.of(new Rule(List.of("car*"), cars, null, null, null)),
        null,
        List.of(),
        List.of(1f, 1f, 1f),
        true,
        under,
        null);
  }

  @Test
  void overAndAddedLayersAreThePictureAtOnce() throws Exception {
    Path file = Files.write(folder.resolve("s.glb"), BuildScenes.larkspurPass());
    RenderScene ready = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
    FrameImage whole = render(ready, Layer.MAIN, true);
    FrameImage front = render(ready, layer(Role.SEEN, Role.HOLDOUT, false), false);
    FrameImage under = render(ready, layer(Role.HOLDOUT, Role.SEEN, true), true);
    FrameImage hole = render(ready, layer(Role.HOLDOUT, Role.SEEN, false), true);
    float[] alpha = front.find("A");
    int edges = 0;
    for (float a : alpha) {
      edges += a > 0.02 && a < 0.98 ? 1 : 0;
    }
    assertTrue(edges > 50, edges + " pixels on edges");
    for (String c : List.of("R", "G", "B", "A")) {
      float[] at = whole.find(c);
      for (int i = 0; i < at.length; i++) {
        double over = front.find(c)[i] + (1 - alpha[i]) * under.find(c)[i];
        double added = front.find(c)[i] + hole.find(c)[i];
        // The same samples with the same numbers: only the order of sums differs.
        assertEquals(at[i], over, 1e-4 * Math.max(1, at[i]), c + " over at " + i);
        assertEquals(at[i], added, 1e-4 * Math.max(1, at[i]), c + " added at " + i);
      }
    }
  }

  @Test
  void regionsOfOneSizeHoldWhatTheyFollow() throws Exception {
    Path file = Files.write(folder.resolve("s.glb"), BuildScenes.larkspurPass());
    RenderScene ready = new RenderScene(SceneImporter.load(file).scene(), Workers.CALLER);
    List<Moment> moments = new ArrayList<>();
    for (int f = 1; f <= 96; f += 8) {
      moments.add(new Moment(f, f / 24.0, 24));
    }
    List<Crop> tight = regions(ready, moments, 1, false);
    List<Crop> same = regions(ready, moments, 16, true);
    Set<Integer> places = new HashSet<>();
    for (int i = 0; i < moments.size(); i++) {
      Crop t = tight.get(i), s = same.get(i);
      assertEquals(same.get(0).width(), s.width());
      assertEquals(same.get(0).height(), s.height());
      assertTrue(s.x() <= t.x() && s.x() + s.width() >= t.x() + t.width(), t + " in " + s);
      assertTrue(s.y() <= t.y() && s.y() + s.height() >= t.y() + t.height(), t + " in " + s);
      assertTrue(s.x() % 16 == 0 || s.x() + s.width() == 640, s.toString());
      assertTrue(s.x() + s.width() <= 640 && s.y() + s.height() <= 400, s.toString());
      places.add(t.x());
    }
    assertTrue(places.size() > 3, "the car moves through " + places);
  }

  private static List<Crop> regions(
      RenderScene ready, List<Moment> moments, int snap, boolean same) {
    Layer.Region region = new Layer.Region(null, List.of("car-1"), 2, snap, same);
    Layer l =
        new Layer(
            "cars",
            Role.SEEN,
            List.of(),
            null,
            List.of(),
            List.of(1f, 1f, 1f),
            true,
            false,
            region);
    RenderSettings settings =
        RenderSettings.DEFAULT.with(new Shutter(true, 180, 0, true, true, true, 2)).with(l);
    return ready.regions("valley-wide", moments, 640, 400, settings, Workers.CALLER, Stop.NEVER);
  }
}
