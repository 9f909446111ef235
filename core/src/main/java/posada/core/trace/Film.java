package posada.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.ViewTransform;

/**
 * Sums of samples for each pixel. A pixel is written by one thread at a time and its samples come
 * in order, so that sums are the same with any number of threads.
 */
public final class Film {
  final int width;
  final int height;

  /** Planes of sums: red, green, blue, alpha, normal, albedo, squared luminance. */
  final float[] r, g, b, a, nx, ny, nz, ar, ag, ab, square;

  final float[] depth;
  private int samples;

  Film(int width, int height) {
    this.width = width;
    this.height = height;
    int n = width * height;
    r = new float[n];
    g = new float[n];
    b = new float[n];
    a = new float[n];
    nx = new float[n];
    ny = new float[n];
    nz = new float[n];
    ar = new float[n];
    ag = new float[n];
    ab = new float[n];
    square = new float[n];
    depth = new float[n];
  }

  /** Returns the bytes that a film of this size takes. */
  public static long bytes(int width, int height) {
    return 12L * 4 * width * height;
  }

  void samplesDone(int n) {
    samples = n;
  }

  /** Returns how many samples each pixel has. */
  public int samples() {
    return samples;
  }

  /**
   * Returns the noise of the picture: the mean over pixels of the standard error of luminance over
   * luminance plus 0.05, so that it weighs dark and bright parts alike. NaN below two samples.
   */
  public double noise() {
    if (samples < 2) {
      return Double.NaN;
    }
    double sum = 0;
    for (int i = 0; i < r.length; i++) {
      double mean = (0.2126 * r[i] + 0.7152 * g[i] + 0.0722 * b[i]) / samples;
      double variance = Math.max(0, square[i] / samples - mean * mean) / (samples - 1);
      sum += Math.sqrt(variance) / (mean + 0.05);
    }
    return sum / r.length;
  }

  /** Returns the picture so far with the channels of the passes asked for, in catalogue order. */
  public FrameImage image(Set<Pass> passes) {
    List<Channel> channels = new ArrayList<>();
    for (Pass p : Pass.values()) {
      if (passes.contains(p)) {
        float[][] planes = planes(p);
        for (int c = 0; c < planes.length; c++) {
          channels.add(new Channel(p.channels().get(c), p.precision(), planes[c]));
        }
      }
    }
    return new FrameImage(width, height, channels);
  }

  private float[][] planes(Pass p) {
    return switch (p) {
      case BEAUTY -> new float[][] {mean(r), mean(g), mean(b), mean(a)};
      case DEPTH -> new float[][] {depth.clone()};
      case NORMAL -> unitNormals();
      case ALBEDO -> new float[][] {mean(ar), mean(ag), mean(ab)};
    };
  }

  private float[] mean(float[] sum) {
    float[] m = new float[sum.length];
    if (samples > 0) {
      float k = 1f / samples;
      for (int i = 0; i < m.length; i++) {
        m[i] = sum[i] * k;
      }
    }
    return m;
  }

  private float[][] unitNormals() {
    float[][] n = {nx.clone(), ny.clone(), nz.clone()};
    for (int i = 0; i < nx.length; i++) {
      float l = (float) Math.sqrt(nx[i] * nx[i] + ny[i] * ny[i] + nz[i] * nz[i]);
      float k = l > 0 ? 1 / l : 0;
      n[0][i] *= k;
      n[1][i] *= k;
      n[2][i] *= k;
    }
    return n;
  }

  void missDepth(int pixel) {
    depth[pixel] = ViewTransform.NO_SURFACE;
  }
}
