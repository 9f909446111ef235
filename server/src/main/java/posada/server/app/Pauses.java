package posada.server.app;

import java.util.concurrent.TimeUnit;

/**
 * When the threads of the batch pause for a picture that somebody waits for. All of them together
 * pause for a second at the most; what they have paused they then work before they pause again, so
 * that whoever goes on looking leaves the batch half of the time. Not safe for threads.
 */
final class Pauses {
  static final long LONGEST = TimeUnit.SECONDS.toNanos(1);

  /** A pause shorter than this is not worth beginning. */
  static final long SHORTEST = TimeUnit.MILLISECONDS.toNanos(50);

  private int pausing;

  /** When the first of those that pause began, or when the last pause ended. */
  private long since;

  /** Nanoseconds that were paused and not yet worked since. */
  private long owed;

  private long paused;

  /**
   * Begins a thread's pause.
   *
   * @param now nanoseconds of any clock
   * @return for how long it may be, in nanoseconds; 0 if it must not begin
   */
  long begin(long now) {
    long left = LONGEST - owed(now);
    if (left < (pausing == 0 ? SHORTEST : 1)) {
      return 0;
    }
    if (pausing == 0) {
      owed = owed(now);
      since = now;
    }
    pausing++;
    return left;
  }

  private long owed(long now) {
    return pausing == 0 ? Math.max(0, owed - (now - since)) : owed + (now - since);
  }

  /** Ends the pause of a thread that began one. */
  void end(long now) {
    if (--pausing == 0) {
      paused += now - since;
      owed += now - since;
      since = now;
    }
  }

  /** Returns the time of a clock that stands still during pauses. */
  long working(long now) {
    return (pausing > 0 ? since : now) - paused;
  }
}
