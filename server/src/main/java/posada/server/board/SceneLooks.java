package posada.server.board;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import jakarta.annotation.PreDestroy;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import posada.core.trace.SceneLook;
import posada.formats.gltf.ImportException;
import posada.formats.job.StrandDocument;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.app.Stale;
import posada.server.scenes.SceneLibrary;

/** Looks at some frames of strands while nothing is rendered, and keeps what was found. */
@Component
class SceneLooks {
  private static final Logger LOG = LoggerFactory.getLogger(SceneLooks.class);
  private static final int MOST_KEPT = 5000;

  private final SceneLibrary library;
  private final RenderThreads pool;
  private final EventHub events;

  /** What was found, by what was looked at; nothing where it cannot be looked at. */
  private final Cache<String, Optional<SceneLook>> known =
      Caffeine.newBuilder().maximumSize(MOST_KEPT).build();

  private final Set<String> waiting = ConcurrentHashMap.newKeySet();
  private final ExecutorService thread =
      Executors.newSingleThreadExecutor(r -> new Thread(r, "looks"));
  private volatile boolean closed;

  SceneLooks(SceneLibrary library, RenderThreads pool, EventHub events) {
    this.library = library;
    this.pool = pool;
    this.events = events;
  }

  @PreDestroy
  void close() {
    closed = true;
    thread.shutdownNow();
  }

  /**
   * Returns what was found, and has it found out if it was not.
   *
   * @return null if it is not known yet
   */
  Optional<SceneLook> find(StrandDocument d) {
    String key = d.kind() + d.frames();
    Optional<SceneLook> found = known.getIfPresent(key);
    if (found == null && waiting.add(key)) {
      thread.execute(() -> look(key, d));
    }
    return found;
  }

  /** Waits while the batch is at work; whether there is nothing more to look at. */
  private boolean closedAtRest() {
    pool.awaitRest(() -> closed);
    return closed;
  }

  private void look(String key, StrandDocument d) {
    try {
      SceneLook l =
          closedAtRest()
              ? null
              : SceneLook.of(
                  library.get(d.sceneSha256(), d.sceneFile(), d.settings()),
                  d.camera(),
                  d.moments(),
                  d.settings().settings(),
                  pool.workers(),
                  this::closedAtRest);
      known.put(key, Optional.ofNullable(l));
    } catch (ImportException | RuntimeException | OutOfMemoryError e) {
      if (closed) {
        return;
      }
      LOG.warn("shot {} cannot be looked at", d.shot(), e);
      known.put(key, Optional.empty());
    } finally {
      waiting.remove(key);
    }
    if (!closed) {
      events.publish(new Stale(Stale.Kind.CHECKS));
    }
  }
}
