package posada.core.assembly;

import java.util.Arrays;
import posada.core.light.Luminance;
import posada.core.parallel.Workers;

/**
 * Takes noise out of a picture of which nothing else is known: each pixel becomes a mean of those
 * around it, weighed by how alike the pixels around them are. Source: A. Buades, B. Coll, J.-M.
 * Morel, "A non-local algorithm for image denoising" (2005).
 */
final class NoiseFilter {
  /** How far pixels are looked for, and how far around them they are compared. */
  private static final int REACH = 5, PATCH = 1;

  /** By what a median of absolute differences becomes a standard deviation. */
  private static final double MEDIAN = 1.4826;

  private NoiseFilter() {}

  /**
   * Returns a cleaned picture.
   *
   * @param amount 0 .. 1
   */
  static Picture clean(Picture p, double amount, Workers workers) {
    int w = p.width(), h = p.height();
    float[] y = compressed(p);
    double sigma = noise(y, w, h);
    if (sigma == 0) {
      return p;
    }
    int area = (2 * PATCH + 1) * (2 * PATCH + 1);
    float scale = (float) (-1 / (2 * area * sigma * sigma));
    Picture out = new Picture(w, h);
    workers.each(
        h,
        row -> {
          float[] sum = new float[4];
          for (int x = 0; x < w; x++) {
            float weights = 0;
            Arrays.fill(sum, 0);
            for (int dy = -REACH; dy <= REACH; dy++) {
              for (int dx = -REACH; dx <= REACH; dx++) {
                int sx = x + dx, sy = row + dy;
                if (sx < 0 || sy < 0 || sx >= w || sy >= h) {
                  continue;
                }
                float d = apart(y, w, h, x, row, sx, sy);
                float k = (float) Math.exp(d * scale);
                int i = sy * w + sx;
                weights += k;
                for (int j = 0; j < 4; j++) {
                  sum[j] += k * p.c()[j][i];
                }
              }
            }
            int i = row * w + x;
            for (int j = 0; j < 4; j++) {
              float old = p.c()[j][i];
              out.c()[j][i] = old + (float) amount * (sum[j] / weights - old);
            }
          }
        });
    return out;
  }

  /** Luminance, bright light compressed: noise grows with light. */
  private static float[] compressed(Picture p) {
    float[] y = new float[p.pixels()];
    for (int i = 0; i < y.length; i++) {
      double v = Luminance.of(p.c()[0][i], p.c()[1][i], p.c()[2][i]);
      y[i] = (float) (v > 0 ? Math.sqrt(v) : 0);
    }
    return y;
  }

  /**
   * The noise of a picture: what a pixel differs from the mean of its neighbours, by the median.
   */
  private static double noise(float[] y, int w, int h) {
    if (w < 3 || h < 3) {
      return 0;
    }
    float[] d = new float[(w - 2) * (h - 2)];
    int n = 0;
    for (int j = 1; j < h - 1; j++) {
      for (int i = 1; i < w - 1; i++) {
        int k = j * w + i;
        float v = Math.abs(y[k] - 0.25f * (y[k - 1] + y[k + 1] + y[k - w] + y[k + w]));
        if (v > 0) {
          d[n++] = v;
        }
      }
    }
    if (n == 0) {
      return 0;
    }
    Arrays.sort(d, 0, n);
    return d[n / 2] * MEDIAN / Math.sqrt(1.25);
  }

  private static float apart(float[] y, int w, int h, int ax, int ay, int bx, int by) {
    float sum = 0;
    for (int j = -PATCH; j <= PATCH; j++) {
      for (int i = -PATCH; i <= PATCH; i++) {
        float d = at(y, w, h, ax + i, ay + j) - at(y, w, h, bx + i, by + j);
        sum += d * d;
      }
    }
    return sum;
  }

  private static float at(float[] y, int w, int h, int i, int j) {
    int x = i < 0 ? 0 : Math.min(i, w - 1), row = j < 0 ? 0 : Math.min(j, h - 1);
    return y[row * w + x];
  }
}
