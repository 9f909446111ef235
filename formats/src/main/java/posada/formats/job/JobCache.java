package posada.formats.job;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.concurrent.Callable;
import java.util.concurrent.CompletionException;
import posada.core.irradiance.BakedLight;
import posada.core.parallel.Stop;
import posada.core.settings.Crop;
import posada.core.trace.RenderScene;
import posada.formats.gltf.ImportException;
import posada.formats.settings.RenderDocument;

/**
 * What jobs have built and may need again: scenes, scenes that settings change, regions and baked
 * lights, however jobs take turns. It holds at most a number of bytes; what was used last stays.
 * Safe for several threads; each thing is built once.
 */
public final class JobCache {
  /** Bytes that anything takes at least. */
  private static final long LEAST = 1 << 10;

  /** Bytes of a region. */
  private static final long REGION = 64;

  private record SceneKey(Path file) {}

  private record ChangedKey(Path file, Object what) {}

  private record RegionsKey(StrandDocument document) {}

  private record LightKey(Path file) {}

  private record Kept(Object value, long bytes) {}

  private final Cache<Object, Kept> kept;

  /**
   * @param mostBytes that are held, about
   */
  public JobCache(long mostBytes) {
    kept =
        Caffeine.newBuilder()
            .maximumWeight(mostBytes / LEAST)
            .weigher(
                (Object k, Kept v) ->
                    (int) Math.min(Integer.MAX_VALUE, 1 + Math.max(LEAST, v.bytes) / LEAST))
            .build();
  }

  /** Makes a value that is not there. */
  public interface Making<T> {
    T make() throws ImportException, IOException;
  }

  /**
   * Returns a scene as its file has it.
   *
   * @param make reads it
   */
  public RenderScene scene(Path file, Making<RenderScene> make)
      throws ImportException, IOException {
    return get(new SceneKey(file), make, RenderScene::bytes);
  }

  /**
   * Returns a scene that settings change.
   *
   * @param what tells changes apart; see {@link RenderDocument#sceneKey}
   */
  public RenderScene changed(Path file, Object what, Making<RenderScene> make)
      throws ImportException, IOException {
    return get(new ChangedKey(file, what), make, RenderScene::ownBytes);
  }

  List<Crop> regions(StrandDocument d, Making<List<Crop>> make)
      throws ImportException, IOException {
    return get(new RegionsKey(d), make, r -> REGION * r.size());
  }

  BakedLight light(Path file, Making<BakedLight> make) throws ImportException, IOException {
    return get(new LightKey(file), make, BakedLight::bytes);
  }

  /** Forgets the light of a file, which is about to be another. */
  void forgetLight(Path file) {
    kept.invalidate(new LightKey(file));
  }

  /** Returns about how many bytes are held. */
  public long bytes() {
    kept.cleanUp();
    return kept.asMap().values().stream().mapToLong(Kept::bytes).sum();
  }

  private interface Weighing<T> {
    long bytes(T value);
  }

  /** Returns what is there, or is made now; null, which is not kept, if making was stopped. */
  @SuppressWarnings("unchecked")
  private <T> T get(Object key, Making<T> make, Weighing<T> weigh)
      throws ImportException, IOException {
    try {
      Kept k = kept.get(key, x -> checked(() -> kept(make.make(), weigh)));
      return k == null ? null : (T) k.value;
    } catch (CompletionException e) {
      if (e.getCause() instanceof ImportException bad) {
        throw bad;
      }
      if (e.getCause() instanceof IOException bad) {
        throw bad;
      }
      throw e;
    }
  }

  private static <T> Kept kept(T made, Weighing<T> weigh) {
    return made == null ? null : new Kept(made, weigh.bytes(made));
  }

  private static Kept checked(Callable<Kept> make) {
    try {
      return make.call();
    } catch (Stop.Stopped stopped) {
      return null;
    } catch (RuntimeException e) {
      throw e;
    } catch (Exception e) {
      throw new CompletionException(e);
    }
  }
}
