package posada.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import posada.core.image.FrameImage;
import posada.core.image.FrameImage.Channel;
import posada.core.image.ViewTransform;
import posada.core.light.Luminance;

/**
 * Sums of samples for each pixel of a picture or of a region of it. A pixel is written by one
 * thread at a time and its samples come in order, so that sums are the same with any number of
 * threads.
 */
public final class Film {
  /** Luminance below which noise is not weighed any more: about the darkest visible detail. */
  static final double DARK = 0.05;

  private static final int PLANES = 13;

  /** The region, in pixels of the picture. */
  final int x0, y0;

  final int width;
  final int height;
  private final int pictureWidth;
  private final int pictureHeight;
  private final boolean alone;

  /** Planes of sums: red, green, blue, alpha, normal, albedo, squared luminance. */
  final float[] r, g, b, a, nx, ny, nz, ar, ag, ab, square;

  final float[] depth;

  /** Samples of each pixel. */
  final int[] counts;

  private int samples;
  private boolean dropped;

  Film(int width, int height, RenderSettings.Crop crop) {
    pictureWidth = width;
    pictureHeight = height;
    alone = crop != null && crop.alone();
    x0 = crop == null ? 0 : crop.x();
    y0 = crop == null ? 0 : crop.y();
    this.width = crop == null ? width : crop.width();
    this.height = crop == null ? height : crop.height();
    int n = this.width * this.height;
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
    counts = new int[n];
  }

  /** Returns the bytes that a film of this size takes. */
  public static long bytes(int width, int height) {
    return PLANES * 4L * width * height;
  }

  /** Returns where a pixel of the picture is kept. */
  int index(int x, int y) {
    return (y - y0) * width + x - x0;
  }

  void add(int at, float red, float green, float blue) {
    float y = Luminance.of(red, green, blue);
    if (!(y >= 0 && y < Float.POSITIVE_INFINITY)) {
      dropped = true;
      return;
    }
    r[at] += red;
    g[at] += green;
    b[at] += blue;
    square[at] += y * y;
  }

  /** Counts what a sample met first. */
  void surface(int at, SurfacePoint p) {
    a[at] += 1;
    nx[at] += p.nx;
    ny[at] += p.ny;
    nz[at] += p.nz;
    ar[at] += p.values.base[0];
    ag[at] += p.values.base[1];
    ab[at] += p.values.base[2];
  }

  /** Returns true if a sample was no finite number and was left out. */
  public boolean dropped() {
    return dropped;
  }

  void samplesDone(int n) {
    samples = n;
  }

  /** Returns how many samples each pixel has that is not clean enough before. */
  public int samples() {
    return samples;
  }

  /** Returns how many samples all pixels have together. */
  public long samplesSpent() {
    long sum = 0;
    for (int c : counts) {
      sum += c;
    }
    return sum;
  }

  /** Returns a pixel's mean luminance. */
  double luminance(int i) {
    return counts[i] == 0 ? 0 : (double) Luminance.of(r[i], g[i], b[i]) / counts[i];
  }

  /** Returns the square of the standard error of a pixel's luminance; NaN below two samples. */
  double variance(int i) {
    int n = counts[i];
    if (n < 2) {
      return Double.NaN;
    }
    double mean = luminance(i);
    return Math.max(0, square[i] / n - mean * mean) / (n - 1);
  }

  /**
   * Returns the noise of the picture: the mean over pixels of the standard error of luminance over
   * luminance plus 0.05, so that it weighs dark and bright parts alike. NaN below two samples.
   */
  public double noise() {
    double sum = 0;
    for (int i = 0; i < r.length; i++) {
      sum += Math.sqrt(variance(i)) / (luminance(i) + DARK);
    }
    return sum / r.length;
  }

  /** Returns the picture so far with the channels of the passes asked for, in catalogue order. */
  public FrameImage image(Set<Pass> passes) {
    List<Channel> channels = new ArrayList<>();
    for (Pass p : Pass.values()) {
      if (passes.contains(p)) {
        float[][] planes = planes(p);
        float outside = p == Pass.DEPTH ? ViewTransform.NO_SURFACE : 0;
        for (int c = 0; c < planes.length; c++) {
          channels.add(new Channel(p.channels().get(c), p.precision(), framed(planes[c], outside)));
        }
      }
    }
    return alone
        ? new FrameImage(width, height, channels)
        : new FrameImage(pictureWidth, pictureHeight, channels);
  }

  /** Puts a region where it belongs in the full frame. */
  private float[] framed(float[] plane, float outside) {
    if (alone || width == pictureWidth && height == pictureHeight) {
      return plane;
    }
    float[] full = new float[pictureWidth * pictureHeight];
    if (outside != 0) {
      java.util.Arrays.fill(full, outside);
    }
    for (int y = 0; y < height; y++) {
      System.arraycopy(plane, y * width, full, (y0 + y) * pictureWidth + x0, width);
    }
    return full;
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
    for (int i = 0; i < m.length; i++) {
      m[i] = counts[i] > 0 ? sum[i] / counts[i] : 0;
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
