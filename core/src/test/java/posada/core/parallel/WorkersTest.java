package posada.core.parallel;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertSame;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicInteger;
import java.util.concurrent.atomic.AtomicIntegerArray;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;

/** Work spread over threads: all of it is done, and failures and interruptions are not lost. */
class WorkersTest {
  private final ExecutorService pool = Executors.newFixedThreadPool(3);
  private final Workers three = new Workers(pool, 3);

  @AfterEach
  void close() {
    pool.shutdownNow();
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 2, 1000})
  void eachTaskRunsOnce(int tasks) {
    AtomicIntegerArray ran = new AtomicIntegerArray(tasks);
    three.each(tasks, ran::incrementAndGet);
    for (int i = 0; i < tasks; i++) {
      assertEquals(1, ran.get(i), "task " + i);
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 8192, 8193, 100_000})
  void rangesMakeUpTheWhole(int n) {
    AtomicIntegerArray met = new AtomicIntegerArray(n);
    three.ranges(
        n,
        (from, to) -> {
          for (int i = from; i < to; i++) {
            met.incrementAndGet(i);
          }
        });
    for (int i = 0; i < n; i++) {
      assertEquals(1, met.get(i), "number " + i);
    }
  }

  @Test
  void theFirstFailureEndsTheRestAndIsThrown() {
    RuntimeException why = new IllegalStateException("no");
    AtomicInteger ran = new AtomicInteger();
    RuntimeException thrown =
        assertThrows(
            RuntimeException.class,
            () ->
                three.each(
                    1_000_000,
                    i -> {
                      ran.incrementAndGet();
                      if (i == 5) {
                        throw why;
                      }
                    }));
    assertSame(why, thrown);
    assertTrue(ran.get() < 1_000_000, "the rest was done all the same");
    OutOfMemoryError full = new OutOfMemoryError("full");
    assertSame(
        full,
        assertThrows(
            OutOfMemoryError.class,
            () ->
                three.each(
                    10,
                    i -> {
                      throw full;
                    })));
    // The threads are free again.
    three.each(3, i -> ran.set(0));
    assertEquals(0, ran.get());
  }

  @Test
  void aCheckEndsTheWorkBetweenTasks() {
    AtomicInteger asked = new AtomicInteger();
    AtomicInteger ran = new AtomicInteger();
    Workers some =
        Workers.CALLER.until(
            () -> {
              if (asked.incrementAndGet() > 4) {
                throw new IllegalStateException("stop");
              }
            });
    assertThrows(IllegalStateException.class, () -> some.each(100, i -> ran.incrementAndGet()));
    assertEquals(4, ran.get());
  }

  /** The tasks write into the caller's arrays: they must have ended when it goes on. */
  @Test
  void anInterruptedCallerWaitsToTheEndAndStaysInterrupted() {
    AtomicInteger ran = new AtomicInteger();
    Thread.currentThread().interrupt();
    three.each(
        200,
        i -> {
          Thread.yield();
          ran.incrementAndGet();
        });
    assertTrue(Thread.interrupted());
    assertEquals(200, ran.get());
  }

  @Test
  void thereIsAtLeastOneWorker() {
    String why =
        assertThrows(IllegalArgumentException.class, () -> new Workers(pool, 0)).getMessage();
    assertTrue(why.contains("got 0"), why);
  }
}
