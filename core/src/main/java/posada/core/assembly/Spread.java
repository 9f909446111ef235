package posada.core.assembly;

import java.util.Arrays;
import java.util.stream.IntStream;
import posada.core.parallel.Workers;

/**
 * Spreads pixels by depth or motion. Pixels are sorted into sheets, the last of which lies on top.
 * In each sheet every pixel is spread over its place; a sheet hides what is below it as far as it
 * fills a place. What was hidden in the picture is not known: what is beside it stands in for it.
 */
final class Spread {
  /** Sheets. */
  private static final int SHEETS = 12;

  /** Largest circle and longest way, pixels. */
  private static final double MOST = 400;

  private Spread() {}

  /** Places that a pixel is spread over. */
  private interface Footprint {
    /** Adds pixel {@code i} to planes of colour, alpha and how far places are filled. */
    void put(int i, float[] pixel, float[][] planes);
  }

  /**
   * Returns a picture blurred by depth.
   *
   * @param depth metres for each pixel; infinite where nothing is
   */
  static Picture byDepth(
      Picture p, float[] depth, Corrections.Defocus d, double t, Workers workers) {
    int w = p.width(), h = p.height();
    double[] radius = new double[depth.length];
    float[] near = new float[depth.length];
    for (int i = 0; i < depth.length; i++) {
      boolean there = depth[i] > 0;
      double circle = d.circle(there ? depth[i] : Double.POSITIVE_INFINITY, w, t);
      radius[i] = Math.min(MOST, Math.abs(circle)) / 2;
      near[i] = there ? 1 / depth[i] : 0;
    }
    Footprint disc = (i, pixel, planes) -> disc(w, h, i % w, i / w, radius[i], pixel, planes);
    return run(p, sheets(near), disc, workers);
  }

  /**
   * Returns a picture blurred along its motion.
   *
   * @param x pixels to the right for each pixel; y down
   * @param depth by which what is nearer lies on top; null to put what moves faster on top
   */
  static Picture byMotion(Picture p, float[] x, float[] y, float[] depth, Workers workers) {
    int w = p.width(), h = p.height();
    float[] key = new float[x.length];
    for (int i = 0; i < key.length; i++) {
      key[i] = depth == null ? (float) Math.hypot(x[i], y[i]) : depth[i] > 0 ? 1 / depth[i] : 0;
    }
    Footprint line = (i, pixel, planes) -> line(w, h, i % w, i / w, x[i], y[i], pixel, planes);
    return run(p, sheets(key), line, workers);
  }

  /** Sorts pixels into sheets with as many in each, but for those that are alike. */
  private static byte[] sheets(float[] key) {
    float[] sorted = key.clone();
    Arrays.sort(sorted);
    float[] ends = new float[SHEETS - 1];
    for (int k = 0; k < ends.length; k++) {
      ends[k] = sorted[(int) ((k + 1L) * (sorted.length - 1) / SHEETS)];
    }
    byte[] out = new byte[key.length];
    for (int i = 0; i < key.length; i++) {
      int k = 0;
      while (k < ends.length && key[i] > ends[k]) {
        k++;
      }
      out[i] = (byte) k;
    }
    return out;
  }

  private static Picture run(Picture p, byte[] sheet, Footprint f, Workers workers) {
    int n = p.pixels();
    float[][][] sheets = new float[SHEETS][][];
    boolean[] used = new boolean[SHEETS];
    for (byte b : sheet) {
      used[b] = true;
    }
    // A sheet for each thread at a time, laid down in order.
    float[][] sum = new float[5][n];
    int[] some = IntStream.range(0, SHEETS).filter(k -> used[k]).toArray();
    for (int from = 0; from < some.length; from += workers.count()) {
      int first = from, count = Math.min(workers.count(), some.length - from);
      workers.each(count, k -> sheets[some[first + k]] = spread(p, sheet, some[first + k], f));
      for (int k = 0; k < count; k++) {
        lay(sum, sheets[some[first + k]], workers);
        sheets[some[first + k]] = null;
      }
    }
    Picture out = new Picture(p.width(), p.height());
    for (int i = 0; i < n; i++) {
      float k = sum[4][i] > 1e-6f ? 1 / sum[4][i] : 0;
      for (int j = 0; j < 4; j++) {
        out.c()[j][i] = sum[j][i] * k;
      }
    }
    return out;
  }

  private static float[][] spread(Picture p, byte[] sheet, int which, Footprint f) {
    int w = p.width(), h = p.height();
    // A column more: the sums along rows end there.
    float[][] planes = new float[5][(w + 1) * h];
    float[] pixel = {0, 0, 0, 0, 1};
    for (int i = 0; i < sheet.length; i++) {
      if (sheet[i] == which) {
        for (int j = 0; j < 4; j++) {
          pixel[j] = p.c()[j][i];
        }
        f.put(i, pixel, planes);
      }
    }
    float[][] out = new float[5][w * h];
    for (int j = 0; j < 5; j++) {
      for (int y = 0; y < h; y++) {
        double along = 0;
        for (int x = 0; x < w; x++) {
          along += planes[j][y * (w + 1) + x];
          out[j][y * w + x] = (float) along;
        }
      }
    }
    return out;
  }

  private static void lay(float[][] sum, float[][] sheet, Workers workers) {
    workers.ranges(
        sum[0].length,
        (from, to) -> {
          for (int i = from; i < to; i++) {
            float full = sheet[4][i];
            float k = full > 1 ? 1 / full : 1, below = 1 - full * k;
            for (int j = 0; j < 5; j++) {
              sum[j][i] = sheet[j][i] * k + below * sum[j][i];
            }
          }
        });
  }

  /** A disc as steps up and down along its rows; what falls outside of the picture is lost. */
  private static void disc(
      int w, int h, int cx, int cy, double radius, float[] pixel, float[][] planes) {
    double r = Math.max(0.5, radius);
    if (r <= 0.5) {
      put(w, cx, cx + 1, cy, 1, pixel, planes);
      return;
    }
    int most = (int) Math.ceil(r);
    double area = 0;
    for (int dy = -most; dy <= most; dy++) {
      area += 2 * half(r, dy);
    }
    for (int dy = -most; dy <= most; dy++) {
      double half = half(r, dy);
      int y = cy + dy;
      if (half > 0 && y >= 0 && y < h) {
        put(w, cx + 0.5 - half, cx + 0.5 + half, y, (float) (1 / area), pixel, planes);
      }
    }
  }

  private static double half(double r, int dy) {
    double left = r * r - (double) dy * dy;
    return left > 0 ? Math.sqrt(left) : 0;
  }

  /** Adds a stretch of a row, with shares of the pixels at its ends. */
  private static void put(
      int w, double x0, double x1, int y, float weight, float[] pixel, float[][] planes) {
    double from = Math.max(0, x0), to = Math.min(w, x1);
    if (to <= from) {
      return;
    }
    edge(w, from, y, weight, pixel, planes);
    edge(w, to, y, -weight, pixel, planes);
  }

  private static void edge(int w, double x, int y, float weight, float[] pixel, float[][] planes) {
    int i = (int) x;
    float rest = (float) (x - i);
    int at = y * (w + 1) + i;
    for (int j = 0; j < 5; j++) {
      float v = weight * pixel[j];
      planes[j][at] += v * (1 - rest);
      if (i < w) {
        planes[j][at + 1] += v * rest;
      }
    }
  }

  /** A line through the pixel's place, half of its length to each side. */
  private static void line(
      int w, int h, int cx, int cy, float vx, float vy, float[] pixel, float[][] planes) {
    double length = Math.min(MOST, Math.hypot(vx, vy));
    if (!(length > 0.05)) {
      put(w, cx, cx + 1, cy, 1, pixel, planes);
      return;
    }
    double k = length / Math.hypot(vx, vy);
    int n = (int) Math.ceil(2 * length);
    for (int i = 0; i < n; i++) {
      double f = ((i + 0.5) / n - 0.5) * k;
      double x = cx + f * vx, y = cy + f * vy;
      int row = (int) Math.floor(y);
      float part = (float) (y - row);
      if (row >= 0 && row < h) {
        put(w, x, x + 1, row, (1 - part) / n, pixel, planes);
      }
      if (part > 0 && row + 1 >= 0 && row + 1 < h) {
        put(w, x, x + 1, row + 1, part / n, pixel, planes);
      }
    }
  }
}
