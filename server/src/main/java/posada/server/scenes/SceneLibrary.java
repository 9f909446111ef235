package posada.server.scenes;

import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import org.springframework.stereotype.Component;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.SceneImporter;
import posada.server.app.RenderThreads;
import posada.server.storage.DataFolder;

/** Scenes ready for rendering; the last few used are kept in memory, each loaded once. */
@Component
public class SceneLibrary {
  private static final int KEPT = 2;
  private final DataFolder folder;
  private final RenderThreads pool;
  private final Map<Path, CompletableFuture<RenderScene>> loaded =
      new LinkedHashMap<>(8, 0.75f, true);

  public SceneLibrary(DataFolder folder, RenderThreads pool) {
    this.folder = folder;
    this.pool = pool;
  }

  /**
   * Returns a scene ready for rendering.
   *
   * @param sha256 the revision's folder
   * @param fileName the scene file in it
   */
  public RenderScene get(String sha256, String fileName) throws ImportException {
    Path file = folder.revision(sha256).resolve(fileName);
    CompletableFuture<RenderScene> own = new CompletableFuture<>();
    CompletableFuture<RenderScene> there;
    synchronized (loaded) {
      there = loaded.putIfAbsent(file, own);
      if (there == null && loaded.size() > KEPT) {
        loaded.remove(loaded.keySet().iterator().next());
      }
    }
    if (there == null) {
      load(file, own);
      there = own;
    }
    try {
      return there.join();
    } catch (CompletionException e) {
      if (e.getCause() instanceof ImportException bad) {
        throw bad;
      }
      throw e;
    }
  }

  private void load(Path file, CompletableFuture<RenderScene> result) {
    try {
      result.complete(new RenderScene(SceneImporter.load(file).scene(), pool.workers()));
    } catch (ImportException | RuntimeException | Error e) {
      synchronized (loaded) {
        loaded.remove(file);
      }
      result.completeExceptionally(e);
    }
  }
}
