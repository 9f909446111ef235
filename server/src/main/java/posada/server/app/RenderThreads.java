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
 * batch frames pause, but never for longer than {@link #LONGEST_PAUSE}.
 */
@Component
public class RenderThreads {
  private static final long LONGEST_PAUSE = TimeUnit.SECONDS.toNanos(1);
  private static final long LOOK_AGAIN = TimeUnit.MILLISECONDS.toNanos(2);

  private final ExecutorService threads = Executors.newCachedThreadPool(RenderThreads::thread);
  private final int count;
  private final AtomicInteger watched = new AtomicInteger();

  /** Threads of the batch that pause now, and since when some do. */
  private int pausing;

  private long since;

  /** Nanoseconds of pauses that have ended. */
  private long paused;

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
    long start = beginPause();
    while (watched.get() > 0 && System.nanoTime() - start < LONGEST_PAUSE) {
      LockSupport.parkNanos(LOOK_AGAIN);
    }
    endPause();
  }

  private synchronized long beginPause() {
    long now = System.nanoTime();
    if (pausing++ == 0) {
      since = now;
    }
    return now;
  }

  private synchronized void endPause() {
    if (--pausing == 0) {
      paused += System.nanoTime() - since;
    }
  }

  /**
   * Returns nanoseconds of a clock that stands still while any of the batch's threads pauses for
   * somebody's picture, so that neither what a frame costs nor its limit in seconds depends on who
   * looks at what.
   */
  public synchronized long batchTime() {
    return (pausing > 0 ? since : System.nanoTime()) - paused;
  }

  @PreDestroy
  void close() {
    threads.shutdownNow();
  }
}
