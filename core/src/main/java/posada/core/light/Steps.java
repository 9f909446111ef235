package posada.core.light;

/** Choosing by running sums that rise from 0 to 1. */
final class Steps {
  private Steps() {}

  /** Returns the last of {@code n} steps from {@code offset} on whose sum is not above u. */
  static int find(float[] sums, int offset, int n, float u) {
    int lo = 0;
    int hi = n;
    while (hi - lo > 1) {
      int mid = (lo + hi) >>> 1;
      if (sums[offset + mid] <= u) {
        lo = mid;
      } else {
        hi = mid;
      }
    }
    return lo;
  }

  /** Returns how far u is into a step, in [0, 1). */
  static float rest(float[] sums, int step, float u) {
    float width = sums[step + 1] - sums[step];
    return width > 0 ? Math.min(0.9999999f, Math.max(0, (u - sums[step]) / width)) : 0.5f;
  }
}
