package posada.core.trace.path;

import posada.core.settings.Filter;

/**
 * Offsets of samples from a pixel's centre, as often as the filter weighs them, so that all samples
 * count alike. Immutable.
 */
public final class PixelFilter {
  private static final int STEPS = 512;

  /** Standard deviations at which the bell is cut off. */
  private static final double CUT = 2.5;

  /** Offset for evenly spaced parts of the filter's weight, from one edge to the other. */
  private final float[] inverse = new float[STEPS + 1];

  public PixelFilter(Filter f) {
    int fine = 1 << 14;
    double[] sums = new double[fine + 1];
    for (int i = 0; i < fine; i++) {
      double x = 2 * (i + 0.5) / fine - 1;
      sums[i + 1] = sums[i] + weight(f.shape(), x);
    }
    int at = 0;
    for (int k = 0; k <= STEPS; k++) {
      double want = sums[fine] * k / STEPS;
      while (at < fine - 1 && sums[at + 1] < want) {
        at++;
      }
      double width = sums[at + 1] - sums[at];
      double part = width > 0 ? (want - sums[at]) / width : 0;
      inverse[k] = (float) (f.radius() * (2 * (at + part) / fine - 1));
    }
  }

  private static double weight(Filter.Shape shape, double x) {
    return switch (shape) {
      case BOX -> 1;
      case TENT -> 1 - Math.abs(x);
      case GAUSSIAN -> StrictMath.exp(-0.5 * CUT * CUT * x * x);
    };
  }

  /** Returns the offset in pixels along one axis for u in [0, 1). */
  public float offset(float u) {
    float p = u * STEPS;
    int i = Math.min(STEPS - 1, (int) p);
    return inverse[i] + (inverse[i + 1] - inverse[i]) * (p - i);
  }
}
