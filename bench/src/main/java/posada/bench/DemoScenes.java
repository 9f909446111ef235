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

  /**
   * @param only name of the one that is wanted; null for all
   */
  static List<Demo> all(String only) {
    List<Demo> some = all().stream().filter(d -> only == null || d.name().equals(only)).toList();
    if (some.isEmpty()) {
      throw new IllegalArgumentException("there is no demo scene \"" + only + "\"");
    }
    return some;
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
