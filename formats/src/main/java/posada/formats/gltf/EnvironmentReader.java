package posada.formats.gltf;

import java.io.IOException;
import java.util.Map;
import posada.core.scene.Environment;
import posada.formats.settings.Documents;
import posada.formats.settings.EnvironmentDocument;

/**
 * Reads the environment from a scene's {@code extras.environment}; docs/settings.md says what they
 * hold.
 */
final class EnvironmentReader {
  private EnvironmentReader() {}

  /** Returns the environment, or null if the extras hold none. */
  static Environment read(Object extras, GltfFile file) {
    if (!(extras instanceof Map<?, ?> e)) {
      return null;
    }
    if (!(e.get("environment") instanceof Map<?, ?> s)) {
      if (e.containsKey("sky")) {
        file.remark("The scene's extras.sky was ignored; call it extras.environment.");
      }
      return null;
    }
    try {
      return Documents.of(s, EnvironmentDocument.class)
          .read(file.path.toAbsolutePath().getParent());
    } catch (IllegalArgumentException | IOException bad) {
      file.remark("The scene's environment was ignored: " + bad.getMessage() + ".");
      return null;
    }
  }
}
