package posada.server.door;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import com.github.benmanes.caffeine.cache.Ticker;
import java.time.Duration;
import java.util.concurrent.TimeUnit;
import org.springframework.stereotype.Component;

/**
 * Wrong passwords, by where they came from: after some of them one waits, longer each time. Where
 * they come from everywhere, everybody waits a little.
 */
@Component
class Attempts {
  /** Wrong passwords that are free, from one place and from all together. */
  private static final int FREE = 5, FREE_TOGETHER = 50;

  /** Seconds: somebody who guesses from many places must not keep the others out. */
  private static final int LONGEST_WAIT = 900, LONGEST_TOGETHER = 10;

  /** Places that are remembered. */
  private static final int PLACES = 10_000;

  private static final String TOGETHER = "";

  private record Failed(int times, long last) {}

  private final Ticker clock;
  private final Cache<String, Failed> failed;

  Attempts() {
    this(Ticker.systemTicker());
  }

  /**
   * @param clock a clock of nanoseconds
   */
  Attempts(Ticker clock) {
    this.clock = clock;
    failed =
        Caffeine.newBuilder()
            .ticker(clock)
            .maximumSize(PLACES)
            .expireAfterWrite(Duration.ofHours(1))
            .build();
  }

  /**
   * Counts an attempt, which is wrong until {@link #right} is said, so that many at once are
   * counted one by one.
   *
   * @return 0 if its password may be looked at; else the seconds to wait, and it is not counted
   */
  synchronized long begin(String place) {
    long wait =
        Math.max(wait(place, FREE, LONGEST_WAIT), wait(TOGETHER, FREE_TOGETHER, LONGEST_TOGETHER));
    if (wait == 0) {
      count(place);
      count(TOGETHER);
    }
    return wait;
  }

  private long wait(String place, int free, int longest) {
    Failed f = failed.getIfPresent(place);
    if (f == null || f.times < free) {
      return 0;
    }
    long wanted = Math.min(longest, 1L << Math.min(20, f.times - free));
    long gone = TimeUnit.NANOSECONDS.toSeconds(clock.read() - f.last);
    return Math.max(0, wanted - gone);
  }

  private void count(String place) {
    Failed f = failed.getIfPresent(place);
    failed.put(place, new Failed(f == null ? 1 : f.times + 1, clock.read()));
  }

  /** Says that the password of an attempt was right. */
  synchronized void right(String place) {
    failed.invalidate(place);
    Failed all = failed.getIfPresent(TOGETHER);
    if (all != null) {
      failed.put(TOGETHER, new Failed(all.times - 1, all.last));
    }
  }
}
