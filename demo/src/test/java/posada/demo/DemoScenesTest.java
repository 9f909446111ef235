package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Supplier;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.FieldSource;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRange;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportedScene;
import posada.formats.gltf.SceneImporter;
import posada.formats.gltf.SceneReport;

class DemoScenesTest {
  @TempDir Path folder;

  /** A scene with what the production expects of it. */
  record Expected(
      String name, Supplier<byte[]> scene, List<String> cameras, String moving, String frames) {
    @Override
    public String toString() {
      return name;
    }
  }

  static final List<Expected> SCENES =
      List.of(
          new Expected(
              "larkspur-pass",
              BuildScenes::larkspurPass,
              List.of("car-ride", "station-close", "summit", "valley-wide"),
              "car-ride",
              "1-96"),
          new Expected(
              "ticket-hall", BuildScenes::ticketHall, List.of("glide", "hatch"), "glide", "1-72"),
          new Expected(
              "winding-engine",
              BuildScenes::windingEngine,
              List.of("gauges", "gear-train", "overview"),
              null,
              "1-48"));

  @ParameterizedTest
  @FieldSource("SCENES")
  void isWhatTheProductionNeedsAndItsMemoryIsAsReported(Expected e) throws Exception {
    Path file = Files.write(folder.resolve(e.name() + ".glb"), e.scene().get());
    ImportedScene s = SceneImporter.load(file);
    SceneReport r = s.report();
    assertEquals(e.cameras(), r.cameras().stream().map(c -> c.name()).sorted().toList());
    assertTrue(
        r.cameras().stream().allMatch(c -> c.moves() == c.name().equals(e.moving()))
            || e.name().equals("larkspur-pass"));
    var a = r.animations().get(0);
    assertEquals(e.frames(), FrameRange.ofAnimation(a.start(), a.end(), 24).toString());
    assertEquals("[]", r.missing().toString());
    // The mountains are as large as mountains are.
    assertTrue(r.remarks().stream().allMatch(m -> m.contains("8.6 km across")), "" + r.remarks());
    RenderScene ready = new RenderScene(s.scene(), Workers.CALLER);
    assertEquals(1, r.memoryBytes() / (double) ready.bytes(), 0.2);
    RenderSettings settings = RenderSettings.DEFAULT;
    double frame = ready.frame(e.cameras().get(0), 1, 640, 360, settings).bytes();
    assertEquals(1, ready.frameBytes(640, 360, settings) / frame, 0.2);
  }

  /** Its faults are told, and it can be rendered nevertheless. */
  @Test
  void theSceneWithFaultsIsTakenAndItsFaultsAreTold() throws Exception {
    Path file = Files.write(folder.resolve("lost-luggage.glb"), BuildScenes.lostLuggage());
    ImportedScene s = SceneImporter.load(file);
    SceneReport r = s.report();
    var a = r.animations().get(0);
    assertEquals("101-160", FrameRange.ofAnimation(a.start(), a.end(), 24).toString());
    assertEquals(List.of("label-larkspur.png"), r.missing());
    assertTrue(r.remarks().contains("The scene has no light; it got a plain sky."), "" + r);
    RenderSettings few = RenderSettings.DEFAULT.with(1, 0);
    RenderScene ready = new RenderScene(s.scene(), Workers.CALLER);
    assertEquals(List.of("counter", "label"), r.cameras().stream().map(c -> c.name()).toList());
    assertTrue(ready.frame("counter", 101, 64, 36, few).bytes() > 0);
  }
}
