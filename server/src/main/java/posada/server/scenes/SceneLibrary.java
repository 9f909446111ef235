package posada.server.scenes;

import java.io.IOException;
import java.nio.file.Path;
import org.springframework.stereotype.Component;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneImporter;
import posada.formats.job.JobCache;
import posada.formats.settings.RenderDocument;
import posada.server.app.PosadaProperties;
import posada.server.app.RenderThreads;
import posada.server.storage.DataFolder;

/** Scenes ready for rendering; those used lately are kept in memory, each loaded once. */
@Component
public class SceneLibrary {
  private final DataFolder folder;
  private final RenderThreads pool;
  private final JobCache cache;

  public SceneLibrary(DataFolder folder, RenderThreads pool, PosadaProperties properties) {
    this.folder = folder;
    this.pool = pool;
    cache = new JobCache(properties.cacheBytes());
  }

  /** Returns what is kept, to be shared with whatever renders. */
  public JobCache cache() {
    return cache;
  }

  /**
   * Returns a scene ready for rendering.
   *
   * @param sha256 the revision's folder
   * @param fileName the scene file in it
   */
  public RenderScene get(String sha256, String fileName) throws ImportException, IOException {
    Path file = folder.revision(sha256).resolve(fileName);
    return cache.scene(
        file, () -> new RenderScene(SceneImporter.load(file).scene(), pool.workers()));
  }

  /**
   * Returns a scene with what settings add to it.
   *
   * @throws IllegalArgumentException if a picture that they name cannot be read
   */
  public RenderScene get(String sha256, String fileName, RenderDocument settings)
      throws ImportException {
    try {
      if (!settings.changesScene()) {
        return get(sha256, fileName);
      }
      Path home = folder.revision(sha256);
      return cache.changed(
          home.resolve(fileName),
          settings.sceneKey(),
          () -> settings.changed(get(sha256, fileName), home, pool.workers()));
    } catch (IOException e) {
      throw new IllegalArgumentException(e.getMessage(), e);
    }
  }

  /** Returns a revision's scene with what settings add to it. */
  public RenderScene get(Revision r, RenderDocument settings) throws ImportException {
    return get(r.sha256(), r.fileName(), settings);
  }
}
