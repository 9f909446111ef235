package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.image.BufferedImage;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.core.geometry.Vec3;
import posada.core.motion.Pose;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Scene;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.formats.settings.Documents;

class SceneReadingTest {
  @TempDir Path folder;

  private Path scene() throws Exception {
    return GltfJson.write(
        folder,
        s -> {
          s.withArray("nodes").addObject().put("name", "eye").put("camera", 0);
          ((tools.jackson.databind.node.ObjectNode) s.at("/nodes/1"))
              .putArray("translation")
              .add(0.3)
              .add(0.4)
              .add(3);
          s.withArray("scenes").get(0).withArray("nodes").add(1);
          s.putArray("cameras")
              .addObject()
              .put("type", "perspective")
              .putObject("perspective")
              .put("yfov", 0.6)
              .put("znear", 0.1);
          s.putArray("images").addObject().put("uri", "../textures/bark.png");
          s.putArray("textures").addObject().put("source", 0);
        });
  }

  private static ImportedScene read(Path scene, SceneReading r) throws Exception {
    Files.writeString(SceneReading.beside(scene), Documents.write(r));
    return SceneImporter.load(scene);
  }

  private static float[] depth(Scene s) {
    return new RenderScene(s, Workers.CALLER)
        .frame("eye", 0, 24, 24, RenderSettings.of(16, 0).with(Set.of(Pass.BEAUTY, Pass.DEPTH)))
        .render(16, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE)
        .find("depth.Z");
  }

  @Test
  void aFileInCentimetresWithZUpStandsUprightInMetres() throws Exception {
    Path file = scene();
    Scene as = SceneImporter.load(file).scene();
    ImportedScene mended = read(file, new SceneReading(0.01, "z", List.of(), Map.of()));
    Scene s = mended.scene();
    Vec3 before = Pose.at(as, 0).world(as.node("eye")).point(Vec3.ZERO);
    Vec3 now = Pose.at(s, 0).world(s.node("eye")).point(Vec3.ZERO);
    assertEquals(0.01 * before.x(), now.x(), 1e-9);
    assertEquals(0.01 * before.z(), now.y(), 1e-9);
    assertEquals(-0.01 * before.y(), now.z(), 1e-9);
    assertEquals(0.01, mended.report().sizeMetres(), 1e-6);
    // A camera that is turned and scaled with everything sees the same.
    float[] a = depth(as), b = depth(s);
    int hit = 0;
    for (int i = 0; i < a.length; i++) {
      assertEquals(Float.isInfinite(a[i]), Float.isInfinite(b[i]), "pixel " + i);
      if (!Float.isInfinite(a[i])) {
        hit++;
        assertEquals(0.01 * a[i], b[i], 1e-6);
      }
    }
    assertTrue(hit > 20, "pixels of the triangle: " + hit);
  }

  @Test
  void aPictureStandsInForOneThatIsMissing() throws Exception {
    Path file = scene();
    SceneReport r = SceneImporter.load(file).report();
    assertEquals(List.of("../textures/bark.png"), r.missing());
    assertEquals(0, r.textures());
    Files.createDirectories(folder.resolve("added"));
    Path picked = folder.resolve("added/bark.png");
    ImageIO.write(new BufferedImage(2, 2, BufferedImage.TYPE_INT_RGB), "png", picked.toFile());
    Map<String, String> files = Map.of("../textures/bark.png", "added/bark.png");
    SceneReport mended = read(file, new SceneReading(1, "y", List.of(), files)).report();
    assertEquals(List.of(), mended.missing());
    assertEquals(1, mended.textures());
    SceneReading.check(picked);
    Files.writeString(picked, "no picture");
    assertThrows(ImportException.class, () -> SceneReading.check(picked));
    // What stands in lies in the scene's folder, too.
    Map<String, String> outside = Map.of("../textures/bark.png", "../../bark.png");
    assertEquals(
        r.missing(), read(file, new SceneReading(1, "y", List.of(), outside)).report().missing());
  }

  @Test
  void damagedReadingsAreToldWithTheirValue() {
    String said =
        assertThrows(
                IllegalArgumentException.class, () -> new SceneReading(0, "y", List.of(), Map.of()))
            .getMessage();
    assertTrue(said.contains("(got 0.0)"), said);
    assertThrows(
        IllegalArgumentException.class, () -> new SceneReading(1, "w", List.of(), Map.of()));
  }
}
