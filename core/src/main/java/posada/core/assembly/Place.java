package posada.core.assembly;

import posada.core.parallel.Workers;

/** Where a picture is put: mirrored, cut off at its edges, moved and scaled about the middle. */
final class Place {
  /** Samples for each pixel of a picture that is made smaller, along each side at the most. */
  private static final int MOST_SAMPLES = 8;

  private Place() {}

  /**
   * Returns a picture where it is put; what is outside of it is nothing.
   *
   * @param w of the result, pixels; h likewise
   * @param fit by which the picture is scaled before all else, so that it fits
   * @param part by which pixels of moves are smaller than those of the full size
   */
  static Picture put(
      Picture p, int w, int h, double fit, Corrections c, double t, double part, Workers workers) {
    double scale = fit * c.move().scale().at(t);
    double mx = c.move().x().at(t) * part, my = c.move().y().at(t) * part;
    int pw = p.width(), ph = p.height();
    double left = c.crop().left().at(t) * pw, right = pw - c.crop().right().at(t) * pw;
    double top = c.crop().top().at(t) * ph, bottom = ph - c.crop().bottom().at(t) * ph;
    boolean across = c.flip().across(), down = c.flip().down();
    if (pw == w
        && ph == h
        && scale == 1
        && mx == 0
        && my == 0
        && left == 0
        && top == 0
        && right == pw
        && bottom == ph
        && !across
        && !down) {
      return p;
    }
    Picture out = new Picture(w, h);
    int n = (int) Math.min(MOST_SAMPLES, Math.max(1, Math.ceil(1 / scale - 1e-6)));
    float each = 1f / (n * n);
    // Of a sample's own side, pixels of the picture that is put.
    double half = 0.5 / (n * scale);
    workers.each(
        h,
        row -> {
          float[] sum = new float[4];
          for (int x = 0; x < w; x++) {
            java.util.Arrays.fill(sum, 0);
            for (int s = 0; s < n * n; s++) {
              double u = (x + (s % n + 0.5) / n - w / 2.0 - mx) / scale + pw / 2.0;
              double v = (row + (s / n + 0.5) / n - h / 2.0 - my) / scale + ph / 2.0;
              // Cropping comes after mirroring, moving after both.
              double inside = share(u, left, right, half) * share(v, top, bottom, half);
              if (inside > 0) {
                add(p, across ? pw - u : u, down ? ph - v : v, (float) (inside * each), sum);
              }
            }
            for (int j = 0; j < 4; j++) {
              out.c()[j][row * w + x] = sum[j];
            }
          }
        });
    return out;
  }

  /** How much of a sample lies between two edges. */
  private static double share(double x, double from, double to, double half) {
    return Math.max(0, Math.min(x + half, to) - Math.max(x - half, from)) / (2 * half);
  }

  private static void add(Picture p, double u, double v, float weight, float[] sum) {
    int w = p.width(), h = p.height();
    double x = u - 0.5, y = v - 0.5;
    int x0 = (int) Math.floor(x), y0 = (int) Math.floor(y);
    float fx = (float) (x - x0), fy = (float) (y - y0);
    int xa = Math.max(0, Math.min(w - 1, x0)), xb = Math.max(0, Math.min(w - 1, x0 + 1));
    int ya = Math.max(0, Math.min(h - 1, y0)) * w, yb = Math.max(0, Math.min(h - 1, y0 + 1)) * w;
    for (int j = 0; j < 4; j++) {
      float[] c = p.c()[j];
      float top = c[ya + xa] + fx * (c[ya + xb] - c[ya + xa]);
      float low = c[yb + xa] + fx * (c[yb + xb] - c[yb + xa]);
      sum[j] += weight * (top + fy * (low - top));
    }
  }
}
