package posada.formats.job;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.io.IOException;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentHashMap;
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

  /** What is being made now. */
  private final Map<Object, CompletableFuture<Kept>> making = new ConcurrentHashMap<>();

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
  private <T> T get(Object key, Making<T> make, Weighing<T> weigh)
      throws ImportException, IOException {
    while (true) {
      Kept there = kept.getIfPresent(key);
      if (there != null) {
        return value(there);
      }
      // Not within the cache's own locks: what is made may need other things of it.
      CompletableFuture<Kept> mine = new CompletableFuture<>();
      CompletableFuture<Kept> other = making.putIfAbsent(key, mine);
      if (other == null) {
        return made(key, mine, make, weigh);
      }
      there = awaited(other);
      if (there != null) {
        return value(there);
      }
      // Whoever made it was stopped, and it is wanted here.
    }
  }

  @SuppressWarnings("unchecked")
  private static <T> T value(Kept k) {
    return (T) k.value;
  }

  private <T> T made(Object key, CompletableFuture<Kept> mine, Making<T> make, Weighing<T> weigh)
      throws ImportException, IOException {
    try {
      Kept there = kept.getIfPresent(key);
      T value = there == null ? make.make() : value(there);
      Kept k = value == null ? null : new Kept(value, weigh.bytes(value));
      if (k != null) {
        kept.put(key, k);
      }
      mine.complete(k);
      return value;
    } catch (Stop.Stopped stopped) {
      mine.complete(null);
      return null;
    } catch (ImportException | IOException | RuntimeException | Error e) {
      mine.completeExceptionally(e);
      throw e;
    } finally {
      making.remove(key, mine);
    }
  }

  private static Kept awaited(CompletableFuture<Kept> other) throws ImportException, IOException {
    try {
      return other.join();
    } catch (CompletionException e) {
      if (e.getCause() instanceof ImportException bad) {
        throw bad;
      }
      if (e.getCause() instanceof IOException bad) {
        throw bad;
      }
      if (e.getCause() instanceof RuntimeException bad) {
        throw bad;
      }
      throw e;
    }
  }
}
