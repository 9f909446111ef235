package posada.formats.gltf;

import java.io.IOException;
import java.util.Map;
import posada.core.scene.Environment;
import posada.formats.settings.EnvironmentJson;

/** Reads surroundings from a scene's {@code extras.sky}; docs/settings.md says what they hold. */
final class EnvironmentReader {
  private EnvironmentReader() {}

  /** Returns the surroundings, or null if the extras hold none. */
  static Environment read(Object extras, GltfFile file) {
    if (!(extras instanceof Map<?, ?> e) || !(e.get("sky") instanceof Map<?, ?> s)) {
      return null;
    }
    try {
      return EnvironmentJson.read(s, file.path.toAbsolutePath().getParent());
    } catch (IllegalArgumentException | IOException bad) {
      file.remark("The scene's sky was ignored: " + bad.getMessage() + ".");
      return null;
    }
  }
}
