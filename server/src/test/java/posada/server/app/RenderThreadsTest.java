package posada.server.app;

import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executor;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.springframework.util.unit.DataSize;

class RenderThreadsTest {
  private final RenderThreads pool =
      new RenderThreads(
          new PosadaProperties(
              "", "", List.of(), 2, DataSize.ofBytes(0), DataSize.ofBytes(0), "", "", 0));

  /** Some of the batch's two threads wait for a picture that takes a while. */
  @ParameterizedTest
  @ValueSource(ints = {1, 2})
  void theBatchsClockStandsStillWhileItPauses(int threads) throws Exception {
    CountDownLatch begun = new CountDownLatch(threads), ended = new CountDownLatch(threads);
    Executor each = pool.workers().executor();
    RenderThreads.Watched picture = pool.watch();
    for (int k = 0; k < threads; k++) {
      each.execute(
          () -> {
            begun.countDown();
            pool.letWatchedFirst();
            ended.countDown();
          });
    }
    begun.await();
    long wall = System.nanoTime(), batch = pool.batchTime();
    Thread.sleep(300);
    picture.close();
    ended.await();
    long took = System.nanoTime() - wall, counted = pool.batchTime() - batch;
    assertTrue(took >= 300_000_000, took + " ns");
    assertTrue(counted < took / 2, counted + " of " + took + " ns");
  }

  /** What is refined for nobody in particular costs the batch nothing. */
  @Test
  void whatIsNotNeededWaitsUntilTheBatchRests() throws Exception {
    RenderThreads.Watched frame = pool.batch();
    CountDownLatch rests = new CountDownLatch(1);
    pool.workers()
        .executor()
        .execute(
            () -> {
              pool.awaitRest(() -> false);
              rests.countDown();
            });
    assertFalse(rests.await(300, TimeUnit.MILLISECONDS));
    pool.awaitRest(() -> true);
    frame.close();
    assertTrue(rests.await(60, TimeUnit.SECONDS));
  }

  /** What is measured is not to seem slow, so it waits for the batch and for pictures. */
  @Test
  void itIsQuietWhileNothingIsRendered() {
    assertTrue(pool.isQuiet());
    RenderThreads.Watched picture = pool.viewing();
    assertFalse(pool.isQuiet());
    picture.close();
    RenderThreads.Watched first = pool.watch();
    assertFalse(pool.isQuiet());
    first.close();
    // What is measured does not stand in its own way.
    try (RenderThreads.Watched mine = pool.measuring()) {
      assertTrue(pool.isQuiet());
    }
    pool.batch().close();
    assertFalse(pool.isQuiet(), "between one frame of a batch and the next");
  }

  /** A picture that is finer than was asked for waits for what is measured. */
  @Test
  void whatIsNotNeededWaitsForWhatIsMeasured() throws Exception {
    RenderThreads.Watched trial = pool.measuring();
    CountDownLatch rests = new CountDownLatch(1);
    pool.workers()
        .executor()
        .execute(
            () -> {
              pool.awaitRest(() -> false);
              rests.countDown();
            });
    assertFalse(rests.await(200, TimeUnit.MILLISECONDS));
    trial.close();
    assertTrue(rests.await(60, TimeUnit.SECONDS));
  }
}
