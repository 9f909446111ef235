package posada.demo;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRange;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportedScene;
import posada.formats.gltf.SceneImporter;
import posada.formats.gltf.SceneReport;

class LarkspurPassTest {
  @TempDir Path folder;

  @Test
  void isTheSceneThatTheProductionNeedsAndItsMemoryIsAsReported() throws Exception {
    Path file = Files.write(folder.resolve("larkspur-pass.glb"), BuildScenes.larkspurPass());
    ImportedScene s = SceneImporter.load(file);
    SceneReport r = s.report();
    assertEquals(4, r.cameras().size());
    assertTrue(r.cameras().stream().anyMatch(c -> c.name().equals("car-ride") && c.moves()));
    var a = r.animations().get(0);
    assertEquals("1-96", FrameRange.ofAnimation(a.start(), a.end(), 24).toString());
    double measured = new RenderScene(s.scene(), Workers.CALLER).bytes();
    assertEquals(1, r.memoryBytes() / measured, 0.2);
  }
}
