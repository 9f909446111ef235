package posada.server.app;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;

class PausesTest {
  private static final long MS = 1_000_000;
  private final Pauses pauses = new Pauses();

  /** A film that takes a minute: the batch had nothing before, since each pause began anew. */
  @Test
  void whoGoesOnLookingLeavesTheBatchHalfOfTheTime() {
    long now = 0, paused = 0, longest = 0;
    while (now < 60_000 * MS) {
      long pause = pauses.begin(now);
      if (pause > 0) {
        now += pause;
        paused += pause;
        longest = Math.max(longest, pause);
        pauses.end(now);
      }
      now += 5 * MS; // A little work, and it asks again.
    }
    assertEquals(Pauses.LONGEST, longest);
    assertTrue(paused > 28_000 * MS && paused <= 31_000 * MS, paused / MS + " ms");
    assertEquals(now - paused, pauses.working(now));
  }

  @Test
  void aPictureNowAndThenGoesFirst() {
    assertEquals(Pauses.LONGEST, pauses.begin(0));
    pauses.end(200 * MS);
    assertEquals(Pauses.LONGEST, pauses.begin(1_000 * MS));
  }

  @Test
  void threadsThatPauseTogetherPauseOnce() {
    assertEquals(Pauses.LONGEST, pauses.begin(0));
    assertEquals(Pauses.LONGEST - 400 * MS, pauses.begin(400 * MS));
    pauses.end(500 * MS);
    assertEquals(0, pauses.working(900 * MS), "one still pauses");
    pauses.end(1_000 * MS);
    assertEquals(100 * MS, pauses.working(1_100 * MS));
    assertEquals(0, pauses.begin(1_010 * MS));
  }
}
