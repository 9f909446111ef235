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

  private static final int LONGEST_WAIT = 900;

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

  /** Returns the seconds to wait before another password from a place is looked at; 0 for none. */
  long wait(String place) {
    return Math.max(wait(place, FREE), wait(TOGETHER, FREE_TOGETHER));
  }

  private long wait(String place, int free) {
    Failed f = failed.getIfPresent(place);
    if (f == null || f.times < free) {
      return 0;
    }
    long wanted = Math.min(LONGEST_WAIT, 1L << Math.min(20, f.times - free));
    long gone = TimeUnit.NANOSECONDS.toSeconds(clock.read() - f.last);
    return Math.max(0, wanted - gone);
  }

  void wrong(String place) {
    for (String p : new String[] {place, TOGETHER}) {
      failed
          .asMap()
          .merge(p, new Failed(1, clock.read()), (a, b) -> new Failed(a.times + 1, b.last));
    }
  }

  void right(String place) {
    failed.invalidate(place);
  }
}
