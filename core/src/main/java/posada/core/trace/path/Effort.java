package posada.core.trace.path;

import java.util.concurrent.atomic.LongAdder;
import posada.core.material.Scatter;
import posada.core.settings.RayKind;

/**
 * What a picture's rays were sent for, and how long that took: following them, and what is done at
 * the surfaces that they meet. Counted by many threads at once.
 */
public final class Effort {
  private static final int KINDS = RayKind.values().length;
  private final LongAdder[] rays = adders(), nanoseconds = adders();

  private static LongAdder[] adders() {
    LongAdder[] all = new LongAdder[KINDS];
    for (int k = 0; k < KINDS; k++) {
      all[k] = new LongAdder();
    }
    return all;
  }

  /** Returns how many rays were sent for something. */
  public long rays(RayKind k) {
    return rays[k.ordinal()].sum();
  }

  /** Returns how long something took, nanoseconds of all threads together. */
  public long nanoseconds(RayKind k) {
    return nanoseconds[k.ordinal()].sum();
  }

  static RayKind kind(Scatter s) {
    return switch (s) {
      case DIFFUSE -> RayKind.DIFFUSE;
      case SPECULAR -> RayKind.SPECULAR;
      case TRANSMISSION -> RayKind.TRANSMISSION;
    };
  }

  Watch watch() {
    return new Watch();
  }

  /** One worker's stopwatch. */
  final class Watch {
    private final long[] sent = new long[KINDS], spent = new long[KINDS];
    private RayKind now = RayKind.CAMERA;
    private long since, before;

    /**
     * @param count rays that the worker has sent so far
     */
    void begin(long count) {
      since = System.nanoTime();
      before = count;
      now = RayKind.CAMERA;
    }

    /** From here on it is for something else. */
    void turn(RayKind next, long count) {
      long t = System.nanoTime();
      spent[now.ordinal()] += t - since;
      sent[now.ordinal()] += count - before;
      since = t;
      before = count;
      now = next;
    }

    /** Adds what was counted to that of all. */
    void end(long count) {
      turn(now, count);
      for (int k = 0; k < KINDS; k++) {
        rays[k].add(sent[k]);
        nanoseconds[k].add(spent[k]);
        sent[k] = spent[k] = 0;
      }
    }
  }
}
