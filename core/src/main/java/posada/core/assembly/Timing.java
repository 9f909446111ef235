package posada.core.assembly;

import java.util.Collections;
import java.util.List;
import java.util.OptionalInt;

/** Which frame of an input is shown at a frame of a stack. */
public final class Timing {
  private static final double EPSILON = 1e-6;

  private Timing() {}

  /**
   * Returns the frame of the input. At the same rate it has the same number; else the one whose
   * time has come (frame / rate seconds). Between frames of an input that has every Nth, the one
   * before.
   *
   * @param frames that the input has or should have, rising, at least one
   * @param inputRate frames for each second
   * @return nothing before the first and after the last, unless they are repeated
   */
  public static OptionalInt frame(
      int frame, double rate, List<Integer> frames, double inputRate, Corrections.When time) {
    int at = frame - time.shift();
    if (rate != inputRate) {
      at = (int) Math.floor(at * inputRate / rate + EPSILON);
    }
    int first = frames.get(0), last = frames.get(frames.size() - 1);
    int step = frames.size() < 2 ? 1 : frames.get(1) - first;
    int length = last - first + step;
    if (at < first || at >= first + length) {
      switch (time.repeat()) {
        case NOTHING:
          return OptionalInt.empty();
        case HOLD:
          at = at < first ? first : last;
          break;
        case LOOP:
          at = first + Math.floorMod(at - first, length);
          break;
        default:
          int there = frames.size();
          int k = Math.floorMod(Math.floorDiv(at - first, step), Math.max(1, 2 * there - 2));
          return OptionalInt.of(frames.get(k < there ? k : 2 * there - 2 - k));
      }
    }
    int found = Collections.binarySearch(frames, at);
    return OptionalInt.of(frames.get(found >= 0 ? found : -found - 2));
  }
}
