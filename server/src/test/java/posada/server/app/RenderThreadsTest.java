package posada.server.app;

import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.Executor;
import org.junit.jupiter.api.Test;

class RenderThreadsTest {
  private final RenderThreads pool =
      new RenderThreads(new PosadaProperties("", "", List.of(), 2, 0));

  /** Both of the batch's threads wait for a picture that takes a while. */
  @Test
  void theBatchsClockStandsStillWhileItPauses() throws Exception {
    CountDownLatch paused = new CountDownLatch(2);
    Executor each = pool.workers().executor();
    RenderThreads.Watched picture = pool.watch();
    long wall = System.nanoTime(), batch = pool.batchTime();
    for (int k = 0; k < 2; k++) {
      each.execute(
          () -> {
            pool.letWatchedFirst();
            paused.countDown();
          });
    }
    Thread.sleep(300);
    picture.close();
    paused.await();
    long took = System.nanoTime() - wall, counted = pool.batchTime() - batch;
    assertTrue(took >= 300_000_000, took + " ns");
    assertTrue(counted < took / 2, counted + " of " + took + " ns");
  }
}
