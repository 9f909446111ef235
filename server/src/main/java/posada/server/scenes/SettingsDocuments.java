package posada.server.scenes;

import java.io.IOException;
import java.util.Map;
import org.springframework.stereotype.Component;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.settings.SettingsJson;
import posada.server.storage.DataFolder;

/** Turns the settings that a shot or run holds as JSON into what the renderer takes. */
@Component
public class SettingsDocuments {
  private final DataFolder folder;
  private final SceneLibrary library;

  public SettingsDocuments(DataFolder folder, SceneLibrary library) {
    this.folder = folder;
    this.library = library;
  }

  /** Settings, and the scene in the surroundings they ask for. */
  public record Ready(RenderScene scene, RenderSettings settings) {}

  /** Reads settings for a revision; see {@link #read(String, String, Map, int)}. */
  public Ready read(Revision r, Map<String, Object> settings, int samples) throws ImportException {
    return read(r.sha256(), r.fileName(), settings, samples);
  }

  /**
   * Reads settings.
   *
   * @param settings a document after docs/settings.md; pictures lie beside the scene's file
   * @param samples of each pixel, whatever the document says
   * @throws IllegalArgumentException naming the setting and its value if something is wrong
   */
  public Ready read(String sha256, String file, Map<String, Object> settings, int samples)
      throws ImportException {
    try {
      SettingsJson.Document d =
          SettingsJson.read(
              settings == null ? Map.of() : settings,
              RenderSettings.DEFAULT,
              folder.revision(sha256));
      RenderScene scene = library.get(sha256, file);
      RenderSettings s = d.settings();
      return new Ready(
          d.environment() == null ? scene : scene.withEnvironment(d.environment()),
          s.with(samples, s.sampling().seed()));
    } catch (IOException e) {
      throw new IllegalArgumentException(e.getMessage(), e);
    }
  }
}
