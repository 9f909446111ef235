package posada.bench;

import posada.core.image.FrameImage;
import posada.core.light.Luminance;

/**
 * How near pictures are to a reference that has noise itself: two independent halves of it tell how
 * much, and what is measured against it is set right by that.
 */
final class Quality {
  /** Luminance that is added to the reference's, so that black pixels do not count without end. */
  private static final double DARK = 0.05;

  /** Sides of the window of structural similarity, and its standard deviation. */
  private static final int TAPS = 11;

  private static final double SIGMA = 1.5;
  private static final double C1 = 0.01 * 0.01;
  private static final double C2 = 0.03 * 0.03;

  /** Squared change of display values across two pixels that is an edge. */
  private static final double EDGE = 0.01;

  private final int width, height;
  private final float[][] a, b, mean;

  Quality(int width, int height, float[][] half, float[][] other) {
    this.width = width;
    this.height = height;
    a = half;
    b = other;
    mean = new float[3][width * height];
    for (int c = 0; c < 3; c++) {
      for (int i = 0; i < mean[c].length; i++) {
        mean[c][i] = (half[c][i] + other[c][i]) / 2;
      }
    }
  }

  static float[][] rgb(FrameImage i) {
    return new float[][] {i.find("R"), i.find("G"), i.find("B")};
  }

  float[][] reference() {
    return mean;
  }

  /** Returns the relative mean square error of the reference. */
  double ownError() {
    return apart(a, b) / 4;
  }

  /**
   * Returns the relative mean square error: squared differences over squared luminance of the
   * reference plus 0.05, without what is the reference's own.
   */
  double error(float[][] picture) {
    return apart(picture, mean) - ownError();
  }

  private double apart(float[][] p, float[][] q) {
    double sum = 0;
    for (int i = 0; i < p[0].length; i++) {
      double y = luminance(mean, i) + DARK;
      for (int c = 0; c < 3; c++) {
        double d = p[c][i] - q[c][i];
        sum += d * d / (3 * y * y);
      }
    }
    return sum / p[0].length;
  }

  private static double luminance(float[][] p, int i) {
    return Luminance.of(p[0][i], p[1][i], p[2][i]);
  }

  private static double[] shown(float[][] p) {
    double[] out = new double[p[0].length];
    for (int i = 0; i < out.length; i++) {
      out[i] = Math.pow(Math.min(1, Math.max(0, luminance(p, i))), 1 / 2.2);
    }
    return out;
  }

  /**
   * Returns the structural similarity of luminances as they are shown. Source: Z. Wang et al.,
   * "Image Quality Assessment: From Error Visibility to Structural Similarity", 2004; the
   * reference's variance is the covariance of its halves, in which noise cancels.
   */
  double similarity(float[][] picture) {
    double[] x = shown(picture), p = shown(a), q = shown(b), r = shown(mean);
    double[] mx = blurred(x), mr = blurred(r), mp = blurred(p), mq = blurred(q);
    double[] xx = blurred(product(x, x)), xr = blurred(product(x, r)), pq = blurred(product(p, q));
    double sum = 0;
    int count = 0;
    int edge = TAPS / 2;
    for (int y = edge; y < height - edge; y++) {
      for (int i = y * width + edge; i < (y + 1) * width - edge; i++) {
        double vx = xx[i] - mx[i] * mx[i];
        double vr = Math.max(0, pq[i] - mp[i] * mq[i]);
        double cov = xr[i] - mx[i] * mr[i];
        sum +=
            (2 * mx[i] * mr[i] + C1)
                * (2 * cov + C2)
                / ((mx[i] * mx[i] + mr[i] * mr[i] + C1) * (vx + vr + C2));
        count++;
      }
    }
    return sum / count;
  }

  private static double[] product(double[] a, double[] b) {
    double[] out = new double[a.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = a[i] * b[i];
    }
    return out;
  }

  private double[] blurred(double[] v) {
    return blurred(blurred(v, 1), width);
  }

  private double[] blurred(double[] v, int stride) {
    double[] out = new double[v.length];
    for (int i = 0; i < v.length; i++) {
      int at = stride == 1 ? i % width : i / width;
      int last = (stride == 1 ? width : height) - 1;
      double sum = 0;
      double weights = 0;
      for (int t = -TAPS / 2; t <= TAPS / 2; t++) {
        if (at + t >= 0 && at + t <= last) {
          double w = Math.exp(-t * t / (2 * SIGMA * SIGMA));
          sum += w * v[i + t * stride];
          weights += w;
        }
      }
      out[i] = sum / weights;
    }
    return out;
  }

  /** Says which pixels count. */
  interface Mask {
    boolean at(int i);
  }

  /**
   * Returns how much of the reference's gradient energy a picture has, where the reference has
   * edges: squared changes of display values, against the product of those of both halves.
   */
  double edges(float[][] picture, Mask mask) {
    double[] x = shown(picture), p = shown(a), q = shown(b), r = shown(mean);
    double kept = 0;
    double whole = 0;
    for (int y = 1; y < height - 1; y++) {
      for (int i = y * width + 1; i < (y + 1) * width - 1; i++) {
        for (int step : new int[] {1, width}) {
          if (mask.at(i) && square(r[i + step] - r[i - step]) > EDGE) {
            kept += square(x[i + step] - x[i - step]);
            whole += (p[i + step] - p[i - step]) * (q[i + step] - q[i - step]);
          }
        }
      }
    }
    return kept / whole;
  }

  private static double square(double d) {
    return d * d;
  }
}
