package posada.core.parallel;

import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executor;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicReference;
import java.util.function.IntConsumer;

/**
 * Threads handed to the computation.
 *
 * @param executor runs {@code count} tasks side by side
 * @param count 1 or more
 * @param check run between tasks, and by long tasks in between; throws to end the whole
 */
public record Workers(Executor executor, int count, Runnable check) {
  /** Work on the calling thread alone. */
  public static final Workers CALLER = new Workers(Runnable::run, 1);

  public Workers(Executor executor, int count) {
    this(executor, count, () -> {});
  }

  /** Returns the same threads, whose work ends when {@code check} throws. */
  public Workers until(Runnable check) {
    return new Workers(executor, count, check);
  }

  private static final int CHUNK = 1 << 13;

  public Workers {
    if (count < 1) {
      throw new IllegalArgumentException("at least one worker is needed (got " + count + ")");
    }
  }

  /**
   * Runs {@code body} for 0 .. tasks - 1, in any order, and waits for all. The first failure ends
   * the rest and is thrown again.
   */
  public void each(int tasks, IntConsumer body) {
    AtomicInteger next = new AtomicInteger();
    AtomicReference<Throwable> failure = new AtomicReference<>();
    int n = Math.min(count, Math.max(1, tasks));
    CountDownLatch done = new CountDownLatch(n);
    for (int w = 0; w < n; w++) {
      executor.execute(
          () -> {
            try {
              for (int i = next.getAndIncrement(); i < tasks; i = next.getAndIncrement()) {
                check.run();
                body.accept(i);
              }
            } catch (Throwable e) {
              failure.compareAndSet(null, e);
              next.set(tasks);
            } finally {
              done.countDown();
            }
          });
    }
    await(done);
    Throwable e = failure.get();
    if (e instanceof Error error) {
      throw error;
    }
    if (e instanceof RuntimeException exception) {
      throw exception;
    }
  }

  /** Runs {@code body} for ranges that make up 0 .. n - 1, as {@link #each} does. */
  public void ranges(int n, Range body) {
    int chunks = (n + CHUNK - 1) / CHUNK;
    each(chunks, c -> body.accept(c * CHUNK, Math.min(n, (c + 1) * CHUNK)));
  }

  /** What is done for one range of numbers. */
  @FunctionalInterface
  public interface Range {
    void accept(int from, int to);
  }

  /** Waits to the end even when interrupted, since the tasks write into the caller's arrays. */
  private static void await(CountDownLatch done) {
    boolean interrupted = false;
    while (true) {
      try {
        done.await();
        break;
      } catch (InterruptedException e) {
        interrupted = true;
      }
    }
    if (interrupted) {
      Thread.currentThread().interrupt();
    }
  }
}
