package posada.server.app;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;

class EventHubTest {
  private final EventHub hub = new EventHub();

  @AfterEach
  void close() {
    hub.close();
  }

  @Pushed("count")
  private record Count(int n) {}

  /** A page that reads. */
  private static final class Heard implements EventHub.Reader {
    private final BlockingQueue<String> events = new LinkedBlockingQueue<>();

    @Override
    public void send(String name, Object body) {
      events.add(name + " " + body);
    }

    @Override
    public void close() {
      events.add("closed");
    }

    private String next() throws InterruptedException {
      return events.poll(10, TimeUnit.SECONDS);
    }
  }

  /** A page that has stopped reading. */
  private static final class Stalled implements EventHub.Reader {
    private final CountDownLatch begun = new CountDownLatch(1), closed = new CountDownLatch(1);

    @Override
    public void send(String name, Object body) {
      begun.countDown();
      try {
        closed.await(); // Never: only being dropped ends it.
      } catch (InterruptedException dropped) {
        throw new IllegalStateException(dropped);
      }
    }

    @Override
    public void close() {
      closed.countDown();
    }
  }

  @Test
  void aPageHearsThatItIsConnectedAndThenWhatHappensInOrder() throws Exception {
    Heard page = new Heard();
    Runnable leave = hub.connect(page);
    hub.publish(new Count(1));
    hub.publish(new Count(2));
    assertEquals(
        List.of("connected Connected[]", "count Count[n=1]", "count Count[n=2]"),
        List.of(page.next(), page.next(), page.next()));
    leave.run();
    assertEquals("closed", page.next());
    assertEquals(0, hub.pages());
  }

  @Test
  void aStalledPageHoldsUpNobodyAndIsDropped() throws Exception {
    Stalled stalled = new Stalled();
    Heard page = new Heard();
    hub.connect(stalled);
    hub.connect(page);
    assertTrue(stalled.begun.await(10, TimeUnit.SECONDS));
    assertEquals("connected Connected[]", page.next());
    for (int i : IntStream.range(0, 2 * EventHub.MOST_BEHIND).toArray()) {
      hub.publish(new Count(i));
      assertEquals("count " + new Count(i), page.next());
    }
    assertTrue(stalled.closed.await(10, TimeUnit.SECONDS));
    assertEquals(1, hub.pages());
  }

  @Test
  void aPageThatIsGoneIsTakenAway() throws Exception {
    CountDownLatch closed = new CountDownLatch(1);
    hub.connect(
        new EventHub.Reader() {
          @Override
          public void send(String name, Object body) {
            throw new IllegalStateException("gone");
          }

          @Override
          public void close() {
            closed.countDown();
          }
        });
    assertTrue(closed.await(10, TimeUnit.SECONDS));
    assertEquals(0, hub.pages());
  }
}
