package posada.core.parallel;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTimeoutPreemptively;

import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.atomic.AtomicReference;
import org.junit.jupiter.api.Test;

class RecentTest {
  private final List<Integer> made = new ArrayList<>();
  private final Recent<Integer, Integer> recent = new Recent<>(10, v -> v);

  private int get(int size) {
    return recent.get(
        size,
        k -> {
          made.add(k);
          return k;
        });
  }

  @Test
  void whatTakesTurnsIsMadeOnce() {
    for (int i = 0; i < 3; i++) {
      assertEquals(4, get(4));
      assertEquals(5, get(5));
    }
    assertEquals(List.of(4, 5), made);
    assertEquals(9, recent.bytes());
  }

  @Test
  void whatWasNotAskedForLongestGoesAndTheLastStays() {
    get(4);
    get(5);
    get(4);
    get(3); // 12: five goes.
    assertEquals(7, recent.bytes());
    get(4);
    get(50);
    assertEquals(50, recent.bytes());
    get(5);
    assertEquals(List.of(4, 5, 3, 50, 5), made);
  }

  /** Who makes a value may pause for another: that one must not wait for the value. */
  @Test
  void nobodyWaitsForWhoPauses() throws Exception {
    CountDownLatch pausing = new CountDownLatch(1);
    CountDownLatch goOn = new CountDownLatch(1);
    AtomicReference<Integer> first = new AtomicReference<>();
    Thread slow =
        new Thread(
            () ->
                first.set(
                    recent.get(
                        1,
                        k -> {
                          pausing.countDown();
                          try {
                            goOn.await();
                          } catch (InterruptedException e) {
                            throw new IllegalStateException(e);
                          }
                          return 100;
                        })));
    slow.setDaemon(true);
    slow.start();
    pausing.await();
    assertTimeoutPreemptively(Duration.ofSeconds(20), () -> assertEquals(1, get(1)));
    goOn.countDown();
    slow.join();
    assertEquals(1, first.get(), "the first that was made is kept");
  }
}
