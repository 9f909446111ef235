package posada.server.app;

import jakarta.annotation.PreDestroy;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import org.springframework.stereotype.Component;
import posada.core.parallel.Workers;

/**
 * The threads that render. A picture that somebody waits for goes first: while one is being made,
 * batch frames pause, as long as {@link Pauses} lets them.
 */
@Component
public class RenderThreads {
  private static final long LOOK_AGAIN = TimeUnit.MILLISECONDS.toNanos(2);

  private final ExecutorService threads = Executors.newCachedThreadPool(RenderThreads::thread);
  private final int count;
  private final AtomicInteger watched = new AtomicInteger();

  /** Guarded by itself. */
  private final Pauses pauses = new Pauses();

  public RenderThreads(PosadaProperties properties) {
    count = properties.renderThreads();
  }

  private static Thread thread(Runnable r) {
    Thread t = new Thread(r, "render");
    t.setDaemon(true);
    return t;
  }

  /** Returns as many workers as there are processors to use. */
  public Workers workers() {
    return new Workers(threads, count);
  }

  /** Says that somebody waits for a picture, until it is closed. */
  public Watched watch() {
    watched.incrementAndGet();
    return watched::decrementAndGet;
  }

  /** Ends the precedence of a picture. */
  public interface Watched extends AutoCloseable {
    @Override
    void close();
  }

  /** Pauses the calling batch thread while somebody waits for a picture. */
  public void letWatchedFirst() {
    if (watched.get() == 0) {
      return;
    }
    long start = System.nanoTime();
    long longest;
    synchronized (pauses) {
      longest = pauses.begin(start);
    }
    if (longest == 0) {
      return;
    }
    while (watched.get() > 0 && System.nanoTime() - start < longest) {
      LockSupport.parkNanos(LOOK_AGAIN);
    }
    synchronized (pauses) {
      pauses.end(System.nanoTime());
    }
  }

  /**
   * Returns nanoseconds of a clock that stands still while any of the batch's threads pauses for
   * somebody's picture, so that neither what a frame costs nor its limit in seconds depends on who
   * looks at what.
   */
  public long batchTime() {
    synchronized (pauses) {
      return pauses.working(System.nanoTime());
    }
  }

  @PreDestroy
  void close() {
    threads.shutdownNow();
  }
}
