package posada.core.trace.film;

import java.util.Arrays;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.LongAdder;
import posada.core.denoise.NoisyPicture;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.light.Luminance;
import posada.core.settings.Crop;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;

/**
 * Sums of samples for each pixel of a picture or of a region of it. A pixel is written by one
 * thread at a time and its samples come in order, so that sums are the same with any number of
 * threads.
 */
public final class Film {
  /** Luminance below which noise is not weighed any more: about the darkest visible detail. */
  public static final double DARK = 0.05;

  /** Steps of luminance 1, and most luminance of a sample, that are counted as cut. */
  private static final double CUT_STEPS = 1 << 16;

  private static final float MOST_CUT = 1e6f;

  /** Stands for the depth where there is no surface. */
  public static final float NOWHERE = ViewTransform.NO_SURFACE;

  /** Planes that are always there: red, green, blue, alpha, squared luminance, counts. */
  private static final int PLANES = 6;

  /** Planes of shadow catchers. */
  private static final int CAUGHT = 5;

  /** The region, in pixels of the picture. */
  public final int x0, y0;

  public final int width;
  public final int height;
  private final int pictureWidth;
  private final int pictureHeight;
  private final boolean alone;

  /** Planes of sums: red, green, blue, alpha, squared luminance. */
  final float[] r, g, b, a, square;

  /** Planes of each further pass, most of them sums; null for those that are not wanted. */
  final float[][][] planes = new float[Pass.values().length][][];

  /** Light parts that are wanted. */
  private final Pass[] parts;

  final PassSettings passes;

  /** Of each ID matte that is wanted, else null. */
  final Mattes[] mattes = new Mattes[planes.length];

  /** Samples of each pixel. */
  public final int[] counts;

  /** Samples of each pixel that do not count since a holdout ended them; null if all count. */
  private final int[] held;

  /** What guides cleaning; null if the picture stays as it is. */
  public final GuideFilm guides;

  /** Null if no deep picture is wanted. */
  private final DeepFilm deep;

  /**
   * Samples of each pixel that met a shadow catcher, with the light that could come and came; then
   * how dark each was, and the square of that, for the noise. Null if nothing catches shadows.
   */
  final float[][] caught;

  /** Luminance that a limit has taken from all samples, in whole steps: the same in any order. */
  private final LongAdder cut = new LongAdder();

  private int samples;

  /** The first samples of each pixel that are not taken. */
  private int skipped;

  private boolean dropped;

  public Film(int width, int height, RenderSettings settings, Names names) {
    Crop crop = settings.crop();
    passes = settings.passes();
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
    square = new float[n];
    counts = new int[n];
    for (Pass p : passes.wanted()) {
      if (p.matte()) {
        mattes[p.ordinal()] = new Mattes(n, passes.matteRanks(), names.of(p));
      } else if (extra(p)) {
        planes[p.ordinal()] = new float[passes.planes(p)][n];
      }
    }
    held = settings.layer().under() ? new int[n] : null;
    guides = settings.guided() ? new GuideFilm(n, passes.wants(Pass.GUIDES)) : null;
    deep = passes.deep() ? new DeepFilm(n, passes.deepTolerance()) : null;
    caught = settings.layer().catches() ? new float[CAUGHT][n] : null;
    parts = Pass.LIGHT_PARTS.stream().filter(this::wants).toArray(Pass[]::new);
  }

  /** What the numbers are called that mattes are given. */
  public interface Names {
    String[] of(Pass matte);
  }

  /** Returns true if a pass needs planes of its own. */
  static boolean extra(Pass p) {
    return p != Pass.BEAUTY && p != Pass.SAMPLES && p != Pass.GUIDES;
  }

  /** Returns true if a pass with planes of its own is wanted. */
  public boolean wants(Pass p) {
    return planes[p.ordinal()] != null;
  }

  /** Counts a sample that met what this number stands for, if the matte is wanted. */
  public void matte(Pass p, int at, int number) {
    if (mattes[p.ordinal()] != null) {
      mattes[p.ordinal()].add(at, number);
    }
  }

  public void set(Pass p, int part, int at, float value) {
    if (wants(p)) {
      planes[p.ordinal()][part][at] = value;
    }
  }

  /** Stores the motion of a pixel's centre. */
  public void motion(Pass p, int at, float right, float down) {
    set(p, 0, at, right);
    set(p, 1, at, down);
    if (guides != null && guides.motion.length > 0) {
      int k = p == Pass.MOTION_NEXT ? 0 : 2;
      guides.motion[k][at] = right;
      guides.motion[k + 1][at] = down;
    }
  }

  public void add(Pass p, int part, int at, float value) {
    planes[p.ordinal()][part][at] += value;
  }

  /** Returns the bytes that the film of a picture of this size takes. */
  public static long bytes(int width, int height, RenderSettings settings) {
    Crop c = settings.crop();
    long n = c == null ? (long) width * height : (long) c.width() * c.height();
    long bytes = PLANES * Float.BYTES;
    bytes += settings.layer().under() ? Integer.BYTES : 0;
    bytes += settings.layer().catches() ? CAUGHT * Float.BYTES : 0;
    bytes += GuideFilm.bytes(settings);
    bytes += settings.passes().deep() ? DeepFilm.BYTES : 0;
    for (Pass p : settings.passes().wanted()) {
      bytes += extra(p) ? settings.passes().bytes(p) : 0;
    }
    return bytes * n;
  }

  /** Returns where a pixel of the picture is kept. */
  public int index(int x, int y) {
    return (y - y0) * width + x - x0;
  }

  /**
   * Adds a sample's light.
   *
   * @param apart where it went and came from; null if nobody asks
   * @return false if it is no finite light and was left out
   */
  public boolean add(int at, float red, float green, float blue, LightParts apart) {
    float y = Luminance.of(red, green, blue);
    if (!(y >= 0 && y < Float.POSITIVE_INFINITY)) {
      dropped = true;
      return false;
    }
    r[at] += red;
    g[at] += green;
    b[at] += blue;
    square[at] += y * y;
    if (guides != null) {
      guides.light(at, apart);
    }
    for (Pass p : parts) {
      int o = 3 * (p.ordinal() - Pass.DIFFUSE_DIRECT.ordinal());
      for (int k = 0; k < 3; k++) {
        add(p, k, at, apart.sums[o + k]);
      }
    }
    if (wants(Pass.LIGHT_GROUPS)) {
      for (int k = 0; k < apart.groups.length; k++) {
        add(Pass.LIGHT_GROUPS, k, at, apart.groups[k]);
      }
    }
    return true;
  }

  /** Counts a sample that met a surface. */
  public void surface(int at) {
    a[at] += 1;
  }

  /** Returns true if a deep picture is made. */
  public boolean deep() {
    return deep != null;
  }

  /** Adds a sample's light at a depth, or {@link #NOWHERE}. */
  public void deep(int at, float depth, float red, float green, float blue) {
    deep.add(at, depth, red, green, blue);
  }

  /** Counts luminance that a limit has taken from a sample. */
  public void cut(float y) {
    if (y > 0) {
      cut.add(Math.round(CUT_STEPS * (double) Math.min(y, MOST_CUT)));
    }
  }

  /** Returns the share of the light so far that a limit has taken, 0 .. 1. */
  public double shareCut() {
    double gone = cut.sum() / CUT_STEPS;
    double left = 0;
    for (int i = 0; i < r.length; i++) {
      left += Luminance.of(r[i], g[i], b[i]);
    }
    return gone > 0 ? gone / (gone + left) : 0;
  }

  /** Returns the picture so far with what guides its cleaning. */
  public NoisyPicture noisy() {
    return guides.picture(this);
  }

  /** Returns the deep picture so far, or null if none is made. */
  public DeepImage deepImage() {
    return deep == null ? null : deep.image(width, height, window(), this::counted);
  }

  FrameImage.Window window() {
    return alone
        ? new FrameImage.Window(0, 0, width, height)
        : new FrameImage.Window(x0, y0, pictureWidth, pictureHeight);
  }

  /** Counts a sample that a holdout has ended. */
  public void held(int at) {
    if (held != null) {
      held[at]++;
    }
  }

  /** Counts a sample that met a shadow catcher, with the direct light that could come and came. */
  public void caught(int at, float open, float lit) {
    caught[0][at]++;
    caught[1][at] += open;
    caught[2][at] += lit;
    float dark = open > 0 ? 1 - lit / open : 0;
    caught[3][at] += dark;
    caught[4][at] += dark * dark;
  }

  /** Adds direct light that could have come to the first surface, and what came. */
  public void shadow(int at, float open, float lit) {
    if (wants(Pass.SHADOW)) {
      add(Pass.SHADOW, 0, at, open);
      add(Pass.SHADOW, 1, at, lit);
    }
  }

  /** Returns true if a sample was no finite number and was left out. */
  public boolean dropped() {
    return dropped;
  }

  public void samplesDone(int n) {
    samples = n;
  }

  /** Leaves the first samples of each pixel out, before any is taken. */
  public void skip(int n) {
    skipped = n;
    samples = n;
    Arrays.fill(counts, n);
  }

  /** Returns how many samples of a pixel were taken. */
  private int taken(int i) {
    return counts[i] - skipped;
  }

  /** Returns how many samples each pixel has that is not clean enough before. */
  public int samples() {
    return samples;
  }

  /** Returns how many samples all pixels have together. */
  public long samplesSpent() {
    long sum = 0;
    for (int i = 0; i < counts.length; i++) {
      sum += taken(i);
    }
    return sum;
  }

  /** Returns a pixel's mean luminance, to which shadows count that are caught there. */
  double luminance(int i) {
    double sum = Luminance.of(r[i], g[i], b[i]) + (caught == null ? 0 : caught[3][i]);
    return taken(i) == 0 ? 0 : sum / taken(i);
  }

  /** Returns the square of the standard error of a pixel's luminance; NaN below two samples. */
  public double variance(int i) {
    int n = taken(i);
    if (n < 2) {
      return Double.NaN;
    }
    double mean = luminance(i);
    double squares = square[i] + (caught == null ? 0 : caught[4][i]);
    return Math.max(0, squares / n - mean * mean) / (n - 1);
  }

  /**
   * Returns the noise of the picture: the mean over pixels of the standard error of luminance over
   * luminance plus 0.05, so that it weighs dark and bright parts alike. NaN below two samples.
   */
  public double noise() {
    double sum = 0;
    for (int i = 0; i < r.length; i++) {
      sum += noise(i);
    }
    return sum / r.length;
  }

  private double noise(int i) {
    return Math.sqrt(variance(i)) / (luminance(i) + DARK);
  }

  /** Returns the noise of each pixel, likewise. */
  public float[] noises() {
    float[] all = new float[r.length];
    for (int i = 0; i < all.length; i++) {
      all[i] = (float) noise(i);
    }
    return all;
  }

  /**
   * Returns the picture so far with the channels of these passes, in catalogue order; a region that
   * is not alone lies in its full frame.
   */
  public FrameImage image(Set<Pass> shown) {
    return image(shown, Map.of());
  }

  /**
   * Likewise, with planes that stand in for those of some passes.
   *
   * @param clean planes of a pass; of the beauty without alpha
   */
  public FrameImage image(Set<Pass> shown, Map<Pass, float[][]> clean) {
    return new FilmPicture(this).image(shown, clean);
  }

  float[][] means(Pass p) {
    return new FilmPicture(this).means(p);
  }

  /** Returns the samples of a pixel that its means are over. */
  int counted(int i) {
    return held == null ? taken(i) : taken(i) - held[i];
  }
}
