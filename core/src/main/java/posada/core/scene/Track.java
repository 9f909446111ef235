package posada.core.scene;

import java.util.Arrays;

/**
 * A number over time: straight lines between keys, held before the first and after the last.
 *
 * @param times seconds, strictly increasing, at least one
 * @param values one for each time, finite
 */
public record Track(double[] times, double[] values) {
  public Track {
    if (times.length == 0 || times.length != values.length) {
      throw new IllegalArgumentException(
          "a track needs a value for each key (got "
              + times.length
              + " times, "
              + values.length
              + " values)");
    }
    for (int i = 0; i < times.length; i++) {
      if (!Double.isFinite(times[i]) || !Double.isFinite(values[i])) {
        throw new IllegalArgumentException("key " + i + " of a track is not a finite number");
      }
      if (i > 0 && !(times[i] > times[i - 1])) {
        throw new IllegalArgumentException(
            "key times must increase (got " + times[i - 1] + " then " + times[i] + " s)");
      }
    }
  }

  public static Track of(double value) {
    return new Track(new double[1], new double[] {value});
  }

  /** Returns true if the value is not the same at all times. */
  public boolean changes() {
    return Arrays.stream(values).anyMatch(v -> v != values[0]);
  }

  /** Returns the least value at any time. */
  public double least() {
    return Arrays.stream(values).min().orElseThrow();
  }

  /** Returns the greatest value at any time. */
  public double most() {
    return Arrays.stream(values).max().orElseThrow();
  }

  /** Returns the value at any finite time in seconds. */
  public double at(double seconds) {
    int last = times.length - 1;
    if (seconds <= times[0]) {
      return values[0];
    }
    if (seconds >= times[last]) {
      return values[last];
    }
    int i = Arrays.binarySearch(times, seconds);
    if (i >= 0) {
      return values[i];
    }
    int k = -i - 2;
    double f = (seconds - times[k]) / (times[k + 1] - times[k]);
    return values[k] + (values[k + 1] - values[k]) * f;
  }

  /**
   * Returns this track, if all of its values lie within bounds.
   *
   * @throws IllegalArgumentException naming {@code what} and the value that does not
   */
  public Track within(String what, double least, double most) {
    for (double v : values) {
      if (!(v >= least && v <= most)) {
        throw new IllegalArgumentException(
            what + " must be " + plain(least) + " .. " + plain(most) + " (got " + plain(v) + ")");
      }
    }
    return this;
  }

  private static String plain(double v) {
    return v == Math.rint(v) && Math.abs(v) < 1e9 ? Long.toString((long) v) : Double.toString(v);
  }

  @Override
  public boolean equals(Object o) {
    return o instanceof Track t && Arrays.equals(times, t.times) && Arrays.equals(values, t.values);
  }

  @Override
  public int hashCode() {
    return 31 * Arrays.hashCode(times) + Arrays.hashCode(values);
  }

  @Override
  public String toString() {
    return Arrays.toString(times) + Arrays.toString(values);
  }
}
