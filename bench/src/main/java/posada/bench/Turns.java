package posada.bench;

import java.util.Arrays;
import java.util.Locale;

/** Two things timed in turns, so that a host's quiet and busy moments meet both. */
final class Turns {
  /** Steps of {@link #registers}: about half a second. */
  private static final int STEPS = 150_000_000;

  private static volatile double kept;
  private final double[][] seconds;

  Turns(int rounds) {
    seconds = new double[2][rounds];
  }

  /** Times one of the two; a round below 0 is only to warm up. */
  void time(int round, int which, Runnable task) {
    double t = Figures.wall(task);
    if (round >= 0) {
      seconds[which][round] = t;
    }
  }

  /** Returns the best time of the first over that of the second. */
  double best() {
    return Arrays.stream(seconds[0]).min().orElseThrow()
        / Arrays.stream(seconds[1]).min().orElseThrow();
  }

  /** Returns how this reads, all ratios times {@code work}. */
  String told(double work) {
    double[] ratios = new double[seconds[0].length];
    Arrays.setAll(ratios, i -> seconds[0][i] / seconds[1][i]);
    return String.format(
        Locale.ROOT,
        "best %.2f s and %.2f s: %.2f; ratios of the rounds %.2f to %.2f, middle %.2f",
        Arrays.stream(seconds[0]).min().orElseThrow(),
        Arrays.stream(seconds[1]).min().orElseThrow(),
        work * best(),
        work * Arrays.stream(ratios).min().orElseThrow(),
        work * Arrays.stream(ratios).max().orElseThrow(),
        work * Figures.median(ratios));
  }

  /**
   * Work that keeps the arithmetic units of a core busy and never leaves its registers: two threads
   * do twice as much of it unless the machine's cores are not wholly its own.
   */
  static void registers(int task) {
    double a = task;
    double b = a + 1;
    double c = a + 2;
    double d = a + 3;
    double e = a + 4;
    double f = a + 5;
    double g = a + 6;
    double h = a + 7;
    for (int i = 0; i < STEPS; i++) {
      a = a * 0.9999999 + 1e-9;
      b = b * 0.9999999 + 1e-9;
      c = c * 0.9999999 + 1e-9;
      d = d * 0.9999999 + 1e-9;
      e = e * 0.9999999 + 1e-9;
      f = f * 0.9999999 + 1e-9;
      g = g * 0.9999999 + 1e-9;
      h = h * 0.9999999 + 1e-9;
    }
    kept = a + b + c + d + e + f + g + h;
  }
}
