package posada.core.trace.film;

/**
 * Decides which pixels need more samples: those around which the noise is above the threshold. A
 * pixel is judged by its whole neighbourhood, since few samples may miss what is rare.
 */
public final class Adaptive {
  /** Pixels to each side that a pixel is judged by. */
  private static final int AROUND = 2;

  private final Film film;
  private final double threshold;
  private final boolean[] clean;

  public Adaptive(Film film, double threshold) {
    this.film = film;
    this.threshold = threshold;
    clean = new boolean[film.counts.length];
  }

  public boolean clean(int x, int y) {
    return clean[film.index(x, y)];
  }

  /** Looks at the film again; a pixel found clean stays so. Returns how many are. */
  public int judge() {
    int w = film.width, h = film.height;
    double[] noise = new double[w * h];
    double[] light = new double[w * h];
    for (int i = 0; i < noise.length; i++) {
      double v = film.variance(i);
      noise[i] = Double.isNaN(v) ? Double.POSITIVE_INFINITY : v;
      light[i] = film.luminance(i);
    }
    double[] rowNoise = rows(noise, w, h);
    double[] rowLight = rows(light, w, h);
    int count = 0;
    for (int y = 0; y < h; y++) {
      int from = Math.max(0, y - AROUND), to = Math.min(h - 1, y + AROUND);
      for (int x = 0; x < w; x++) {
        double n = 0;
        double l = 0;
        for (int j = from; j <= to; j++) {
          n += rowNoise[j * w + x];
          l += rowLight[j * w + x];
        }
        int cells = to - from + 1;
        boolean fine = Math.sqrt(n / cells) <= threshold * (l / cells + Film.DARK);
        clean[y * w + x] |= fine;
        count += clean[y * w + x] ? 1 : 0;
      }
    }
    return count;
  }

  private static double[] rows(double[] v, int w, int h) {
    double[] out = new double[v.length];
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        int from = Math.max(0, x - AROUND), to = Math.min(w - 1, x + AROUND);
        double sum = 0;
        for (int i = from; i <= to; i++) {
          sum += v[y * w + i];
        }
        out[y * w + x] = sum / (to - from + 1);
      }
    }
    return out;
  }
}
