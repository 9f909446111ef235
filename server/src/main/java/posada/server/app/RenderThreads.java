package posada.server.app;

import jakarta.annotation.PreDestroy;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.locks.LockSupport;
import java.util.function.BooleanSupplier;
import org.springframework.stereotype.Component;
import posada.core.parallel.Workers;

/**
 * The threads that render. A picture that somebody waits for goes first: while one is being made,
 * batch frames pause, as long as {@link Pauses} lets them.
 */
@Component
public class RenderThreads {
  private static final long LOOK_AGAIN = TimeUnit.MILLISECONDS.toNanos(2);

  /** Longer than it takes from one frame of a batch to the next. */
  private static final long RESTS_AFTER = TimeUnit.SECONDS.toNanos(2);

  private static final long LONGEST_AFTER = TimeUnit.SECONDS.toNanos(4);

  private final ExecutorService threads = Executors.newCachedThreadPool(RenderThreads::thread);
  private final int count;
  private final AtomicInteger watched = new AtomicInteger();
  private final AtomicInteger batch = new AtomicInteger();
  private final AtomicInteger viewers = new AtomicInteger();
  private final AtomicInteger measuring = new AtomicInteger();
  private volatile long batchEnded = System.nanoTime() - RESTS_AFTER;

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

  /** Says that the batch is at work, until it is closed. */
  public Watched batch() {
    batch.incrementAndGet();
    return () -> {
      batchEnded = System.nanoTime();
      batch.decrementAndGet();
    };
  }

  /** Returns true while the batch is at work, also between one of its frames and the next. */
  public boolean isAtWork() {
    return batch.get() > 0 || System.nanoTime() - batchEnded < RESTS_AFTER;
  }

  /** Waits while somebody waits for a picture, but not for ever: for what can come after it. */
  public void awaitUnwatched() {
    long start = System.nanoTime();
    while (watched.get() > 0 && System.nanoTime() - start < LONGEST_AFTER) {
      LockSupport.parkNanos(LOOK_AGAIN);
    }
  }

  /** Says that a picture that somebody asked for is rendered, until it is closed. */
  public Watched viewing() {
    viewers.incrementAndGet();
    return viewers::decrementAndGet;
  }

  /** Says that it is measured how long something takes, until it is closed. */
  public Watched measuring() {
    measuring.incrementAndGet();
    return measuring::decrementAndGet;
  }

  /** Returns true while nothing else is rendered, so that what is measured is not too slow. */
  public boolean isQuiet() {
    return !isAtWork() && viewers.get() == 0 && watched.get() == 0;
  }

  /** Waits until nothing else is rendered; or is stopped. */
  public void awaitQuiet(BooleanSupplier stop) {
    while (!stop.getAsBoolean() && !isQuiet()) {
      LockSupport.parkNanos(10 * LOOK_AGAIN);
    }
  }

  /**
   * Waits until the batch rests and nothing is measured, so that what nobody needs costs them
   * nothing; or is stopped.
   */
  public void awaitRest(BooleanSupplier stop) {
    while (!stop.getAsBoolean() && (isAtWork() || measuring.get() > 0)) {
      LockSupport.parkNanos(10 * LOOK_AGAIN);
    }
  }

  /** Ends what was begun. */
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
