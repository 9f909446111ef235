package posada.core.denoise;

import posada.core.geometry.VectorPath;

/**
 * What is done along a row of pixels, number by number. Rows are worked on in whole {@link #STEP}s:
 * arrays must reach that far. Results are the same bit for bit in all kinds.
 */
abstract class Rows {
  /** Numbers that are worked on at once, a multiple of all machines' vectors. */
  static final int STEP = 16;

  /**
   * Up to how many times its own variance that of another pixel excuses a difference. Without a
   * limit a lamp that few samples met, and whose variance is therefore huge, would be like
   * everything around it.
   */
  static final float MORE = 4;

  /** Squared differences below this are rounding. */
  static final float ROUNDING = 1e-12f;

  /** Sums of {@link #gather}: variance, weights, the largest weight; then the planes'. */
  static final int VARIANCE = 0;

  static final int WEIGHTS = 1;
  static final int MOST = 2;
  static final int SUMS = 3;

  static Rows best() {
    return VectorPath.ON ? new WideRows() : new PlainRows();
  }

  /**
   * Stores how much further apart two rows of three planes are than their noise lets expect, in
   * units of {@code tolerance} times their variance.
   *
   * @param p planes and, last, their variance; row at i
   * @param q likewise, row at k
   */
  abstract void apart(float[] out, int n, float[][] p, int i, float[][] q, int k, float tolerance);

  /**
   * Raises {@code out} to how far apart two rows of a feature's planes are, as the first sees it.
   *
   * @param p planes and, last, one over the squared difference that is still alike
   */
  abstract void feature(float[] out, int at, int n, float[][] p, int i, float[][] q, int k);

  /**
   * Likewise for one plane that is expected to change evenly.
   *
   * @param p the plane, one over the squared difference, change for each pixel to the right and
   *     downwards
   */
  abstract void sloped(
      float[] out, int at, int n, float[][] p, int i, float[][] q, int k, float dx, float dy);

  /** Stores sums of {@code taps} neighbours, from the number itself on. */
  abstract void along(float[] out, int at, int n, float[] d, int taps);

  /** Stores sums of rows {@code stride} apart, times {@code share}. */
  abstract void down(float[] out, int n, float[] d, int from, int stride, int taps, float share);

  /** Returns the weight of a distance: a bump like exp(-d) that ends at 4. */
  static float bump(float d) {
    float k = Math.max(1 - d * 0.25f, 0);
    return k * k * (k * k);
  }

  /**
   * Stores weights from the larger of two distances; see {@link #bump}.
   *
   * @param strictness what the second distance is multiplied by
   * @param most the weight at distance 0
   */
  abstract void weigh(
      float[] out, int n, float[] d, float[] e, int at, float strictness, float most);

  /**
   * Adds weighted rows.
   *
   * @param variance is weighted by the square
   */
  abstract void gather(
      float[][] sums, int at, int n, float[] weight, float[] variance, float[][] planes, int i);
}
