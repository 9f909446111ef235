package posada.server.app;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.concurrent.CountDownLatch;
import org.junit.jupiter.api.Test;
import org.springframework.web.ErrorResponseException;

class ViewerStreamsTest {
  @Test
  void noMoreViewersThanMayBe() throws Exception {
    ViewerStreams streams = new ViewerStreams();
    CountDownLatch shown = new CountDownLatch(1);
    for (int k = 0; k < ViewerStreams.MOST; k++) {
      streams.open("viewer " + k, "a shot", (out, stop) -> wait(shown));
    }
    streams.open("viewer 0", "another shot", (out, stop) -> wait(shown));
    ErrorResponseException full =
        assertThrows(
            ErrorResponseException.class,
            () -> streams.open("one more", "a shot", (out, stop) -> wait(shown)));
    assertEquals(503, full.getStatusCode().value());
    shown.countDown();
    long end = System.nanoTime() + 30_000_000_000L;
    while (true) {
      try {
        streams.open("one more", "a shot", (out, stop) -> {});
        return;
      } catch (ErrorResponseException e) {
        assertTrue(System.nanoTime() < end, "nobody has left");
        Thread.sleep(10);
      }
    }
  }

  private static void wait(CountDownLatch shown) {
    try {
      shown.await();
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }
}
