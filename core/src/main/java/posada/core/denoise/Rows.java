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
   * Places that a row of pixels is compared with, and where results for them are kept: those of one
   * place {@code stride} after those of the place before.
   */
  static final class Places {
    final int stride;

    /** Pixels to the right of each place. */
    final int[] right;

    /** What each place counts where nothing differs. */
    final float[] most;

    /** Room for what each number counts in the end. */
    final float[] weights;

    int count;

    Places(int most, int stride) {
      this.stride = stride;
      right = new int[most];
      this.most = new float[most];
      weights = buffer();
    }

    /** Returns room for all places, and for what is read beyond the last one. */
    float[] buffer() {
      return new float[(right.length + 1) * stride];
    }

    /** Returns how many numbers are kept. */
    int numbers() {
      return count * stride;
    }
  }

  /**
   * Stores how much further apart two rows of three planes are than their noise lets expect, in
   * units of {@code tolerance} times their variance.
   *
   * @param p planes and, last, their variance; row at i
   * @param q likewise, row at k for the place 0
   */
  abstract void apart(
      float[] out, int n, Places at, float[][] p, int i, float[][] q, int k, float tolerance);

  /**
   * What tells surfaces apart.
   *
   * @param color three planes and one over the squared difference that is still alike
   * @param normal likewise
   * @param nearness one plane, one over the squared difference, and how it changes for each pixel
   *     to the right and downwards
   */
  record Features(float[][] color, float[][] normal, float[][] nearness) {}

  /** Stores how far apart two rows of surfaces are, as the first sees it. */
  abstract void surface(
      float[] out, int n, Places at, Features p, int i, Features q, int k, float dy);

  /** Stores sums of {@code taps} neighbours, from the number itself on. */
  abstract void along(float[] out, int n, float[] d, int taps);

  /** Stores sums of rows, times {@code share}. */
  abstract void down(float[] out, int n, float[][] d, float share);

  /** Returns the weight of a distance: a bump like exp(-d) that ends at 4. */
  static float bump(float d) {
    float k = Math.max(1 - d * 0.25f, 0);
    return k * k * (k * k);
  }

  /**
   * Adds rows of all places, weighted by the larger of two distances; see {@link #bump}.
   *
   * @param e is multiplied by {@code strictness}
   * @param to where the sums of the row begin
   * @param light whose variance is weighted by the square
   * @param i where the row of the place 0 is
   */
  abstract void gather(
      float[][] sums,
      int to,
      int n,
      Places at,
      float[] d,
      float[] e,
      float strictness,
      Noisy light,
      int i);
}
