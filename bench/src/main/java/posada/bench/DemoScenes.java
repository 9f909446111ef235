package posada.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import posada.core.scene.Scene;
import posada.demo.BuildScenes;
import posada.formats.gltf.SceneImporter;

/** The scenes that are measured. */
final class DemoScenes {
  private DemoScenes() {}

  /** A demo scene with the camera it is measured through. */
  record Demo(String name, String camera, byte[] file) {}

  static List<Demo> all() {
    return List.of(
        new Demo("larkspur-pass", "station-close", BuildScenes.larkspurPass()),
        new Demo("ticket-hall", "glide", BuildScenes.ticketHall()),
        new Demo("winding-engine", "overview", BuildScenes.windingEngine()));
  }

  static Scene load(Demo d) throws Exception {
    Path file = Files.createTempFile(d.name(), ".glb");
    try {
      Files.write(file, d.file());
      return SceneImporter.load(file).scene();
    } finally {
      Files.delete(file);
    }
  }
}
