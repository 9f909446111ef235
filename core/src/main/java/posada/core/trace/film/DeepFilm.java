package posada.core.trace.film;

import java.util.Arrays;
import java.util.function.IntUnaryOperator;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;

/**
 * Samples gathered by pixel and depth. A pixel is written by one thread at a time and its samples
 * come in order.
 */
final class DeepFilm {
  /** Depth, red, green and blue as sums, and how many samples with a surface. */
  private static final int EACH = 5;

  /** Most depths of a pixel; more are joined to the nearest. */
  private static final int MOST = 64;

  /** Bytes that a pixel takes with about two depths. */
  static final long BYTES = 64;

  private final float tolerance;
  private final float[][] pixels;

  /**
   * @param tolerance depths that differ by less than this part of them are one
   */
  DeepFilm(int pixels, double tolerance) {
    this.tolerance = (float) tolerance;
    this.pixels = new float[pixels][];
  }

  /**
   * Adds a sample.
   *
   * @param depth of its surface; {@link Film#NOWHERE} if it met none
   */
  void add(int at, float depth, float r, float g, float b) {
    float[] p = pixels[at];
    int n = p == null ? 0 : p.length / EACH;
    int best = -1;
    float near = Float.POSITIVE_INFINITY;
    for (int i = 0; i < n; i++) {
      float away = Math.abs(p[i * EACH] / p[i * EACH + 4] - depth);
      if (away < near) {
        near = away;
        best = i;
      }
    }
    if (best < 0 || near > tolerance * depth && n < MOST) {
      p = p == null ? new float[EACH] : Arrays.copyOf(p, p.length + EACH);
      pixels[at] = p;
      best = n;
    }
    int o = best * EACH;
    p[o] += depth;
    p[o + 1] += r;
    p[o + 2] += g;
    p[o + 3] += b;
    p[o + 4]++;
  }

  /**
   * Returns what was gathered: each sample's alpha is its share of what nearer ones leave open, so
   * that laying one over the other gives the mean.
   *
   * @param counted samples that a pixel's mean is over
   */
  DeepImage image(int width, int height, FrameImage.Window window, IntUnaryOperator counted) {
    int[] first = new int[pixels.length + 1];
    for (int i = 0; i < pixels.length; i++) {
      first[i + 1] = first[i] + (pixels[i] == null ? 0 : pixels[i].length / EACH);
    }
    float[][] out = new float[5][first[pixels.length]];
    int kept = 0;
    for (int i = 0; i < pixels.length; i++) {
      int from = kept;
      float[] p = pixels[i];
      int n = p == null ? 0 : p.length / EACH;
      Integer[] order = new Integer[n];
      Arrays.setAll(order, k -> k);
      Arrays.sort(order, (a, b) -> Float.compare(depth(p, a), depth(p, b)));
      float open = 1;
      for (int k : order) {
        int o = k * EACH;
        boolean sky = depth(p, k) == Film.NOWHERE;
        float share = sky ? 0 : p[o + 4] / counted.applyAsInt(i);
        if (!(open > 1e-6f) || sky && !(p[o + 1] + p[o + 2] + p[o + 3] > 0)) {
          continue;
        }
        float scale = 1 / (counted.applyAsInt(i) * open);
        out[0][kept] = Math.min(1, share / open);
        out[1][kept] = p[o + 3] * scale;
        out[2][kept] = p[o + 2] * scale;
        out[3][kept] = p[o + 1] * scale;
        out[4][kept++] = depth(p, k);
        open -= share;
      }
      first[i] = from;
    }
    first[pixels.length] = kept;
    for (int k = 0; k < out.length; k++) {
      out[k] = Arrays.copyOf(out[k], kept);
    }
    return new DeepImage(width, height, window, first, out);
  }

  private static float depth(float[] p, int k) {
    return p[k * EACH] / p[k * EACH + 4];
  }
}
