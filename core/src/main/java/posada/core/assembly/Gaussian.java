package posada.core.assembly;

import java.util.Arrays;
import posada.core.parallel.Workers;

/**
 * Blur by a Gaussian: each pixel is spread with <i>exp(-r² / 2 s²)</i>, cut off at 4 <i>s</i> and
 * made to add up to 1; beyond its edge a picture goes on as it is there. Wide ones are computed on
 * a smaller picture, whose own blur is taken off.
 */
final class Gaussian {
  /** Deviations at which the kernel ends, and up to which pixels it is computed as it is. */
  private static final double END = 4, WIDE = 4;

  private static final float[] HALVE = {0.125f, 0.375f, 0.375f, 0.125f};

  private Gaussian() {}

  /**
   * Returns a blurred plane.
   *
   * @param sigma standard deviation in pixels, 0 or more
   */
  static float[] blur(float[] d, int w, int h, double sigma, Workers workers) {
    if (sigma < 1e-3) {
      return d.clone();
    }
    if (sigma <= WIDE || w < 4 || h < 4) {
      return plain(d, w, h, sigma, workers);
    }
    // Made half as large with weights 1 3 3 1, which keep where light is, and large again with the
    // same: each has a variance of 3/4 square pixel.
    int sw = (w + 1) / 2, sh = (h + 1) / 2;
    float[] small = new float[sw * sh];
    workers.each(
        sh,
        y -> {
          for (int x = 0; x < sw; x++) {
            float sum = 0;
            for (int j = 0; j < 4; j++) {
              int row = Math.max(0, Math.min(h - 1, 2 * y + j - 1)) * w;
              for (int i = 0; i < 4; i++) {
                int column = Math.max(0, Math.min(w - 1, 2 * x + i - 1));
                sum += HALVE[j] * HALVE[i] * d[row + column];
              }
            }
            small[y * sw + x] = sum;
          }
        });
    double rest = Math.sqrt(sigma * sigma - 1.5) / 2;
    return doubled(blur(small, sw, sh, rest, workers), sw, sh, w, h, workers);
  }

  private static float[] doubled(float[] s, int sw, int sh, int w, int h, Workers workers) {
    float[] out = new float[w * h];
    workers.each(
        h,
        y -> {
          int y0 = Math.max(0, (y - 1) / 2), y1 = Math.min(sh - 1, y0 + (y == 0 ? 0 : 1));
          float fy = y == 0 ? 0 : y % 2 == 0 ? 0.75f : 0.25f;
          for (int x = 0; x < w; x++) {
            int x0 = Math.max(0, (x - 1) / 2), x1 = Math.min(sw - 1, x0 + (x == 0 ? 0 : 1));
            float fx = x == 0 ? 0 : x % 2 == 0 ? 0.75f : 0.25f;
            float top = s[y0 * sw + x0] + fx * (s[y0 * sw + x1] - s[y0 * sw + x0]);
            float low = s[y1 * sw + x0] + fx * (s[y1 * sw + x1] - s[y1 * sw + x0]);
            out[y * w + x] = top + fy * (low - top);
          }
        });
    return out;
  }

  private static float[] plain(float[] d, int w, int h, double sigma, Workers workers) {
    float[] k = kernel(sigma);
    int r = k.length / 2;
    float[] across = new float[w * h], out = new float[w * h];
    workers.each(
        h,
        y -> {
          float[] row = new float[w + 2 * r];
          Arrays.fill(row, 0, r, d[y * w]);
          System.arraycopy(d, y * w, row, r, w);
          Arrays.fill(row, r + w, w + 2 * r, d[y * w + w - 1]);
          // Kernel outside, pixels inside: the inner loop is one that the compiler makes wide.
          for (int j = 0; j < k.length; j++) {
            float kj = k[j];
            for (int x = 0; x < w; x++) {
              across[y * w + x] += kj * row[x + j];
            }
          }
        });
    workers.each(
        h,
        y -> {
          for (int j = 0; j < k.length; j++) {
            float kj = k[j];
            int from = Math.max(0, Math.min(h - 1, y + j - r)) * w;
            for (int x = 0; x < w; x++) {
              out[y * w + x] += kj * across[from + x];
            }
          }
        });
    return out;
  }

  private static float[] kernel(double sigma) {
    int r = (int) Math.ceil(END * sigma);
    double[] k = new double[2 * r + 1];
    double sum = 0;
    for (int i = -r; i <= r; i++) {
      k[i + r] = Math.exp(-i * i / (2 * sigma * sigma));
      sum += k[i + r];
    }
    float[] out = new float[k.length];
    for (int i = 0; i < k.length; i++) {
      out[i] = (float) (k[i] / sum);
    }
    return out;
  }

  /**
   * Returns a blurred picture.
   *
   * @param alpha false if alpha is the same everywhere, and stays
   */
  static Picture blur(Picture p, boolean alpha, double sigma, Workers workers) {
    float[][] c = p.c().clone();
    for (int j = 0; j < (alpha ? 4 : 3); j++) {
      c[j] = blur(c[j], p.width(), p.height(), sigma, workers);
    }
    return new Picture(p.width(), p.height(), c);
  }
}
