package posada.core.review;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.light.Luminance;

/**
 * What is kept of one frame to be compared with others.
 *
 * @param frame its number
 * @param channels names of all channels, in order
 * @param light mean luminance of what is a number
 * @param white share of pixels all of whose colours are 1 or more, 0 .. 1
 * @param clipped share of pixels one of whose colours is exactly the most that 8 or 16 bits hold
 * @param notNumbers pixels with a value that is no number, in any channel but depths
 * @param notNumbersAt where they are; null if there are none
 * @param negative pixels with a colour below 0; negativeAt likewise
 * @param bright single pixels that are much brighter than all around them, the brightest first
 * @param holes pixels without alpha among such as have all of it; holesAt likewise
 * @param apart how far the parts of the light are from the beauty: the mean difference of luminance
 *     over luminance plus 0.05; NaN if not all parts are there
 * @param noise standard deviation from pixel to pixel over luminance plus 0.05, of the middle pixel
 * @param banding share of pixels on wide steps of one value of 8 bits, 0 .. 1; 0 for light
 * @param fringe pixels on the edge of what is opaque that are brighter than all of it near them, as
 *     if they had not been multiplied by alpha; fringeAt likewise
 * @param digest of the colours: the same for the same picture
 * @param columns of the grid
 * @param rows of the grid
 * @param grid mean luminance of each field, single bright pixels left out
 * @param before what tells where each field was in the frame before; null if the file does not say
 */
public record FrameLook(
    int frame,
    int width,
    int height,
    List<String> channels,
    double light,
    double white,
    double clipped,
    int notNumbers,
    Box notNumbersAt,
    int negative,
    Box negativeAt,
    List<Bright> bright,
    int holes,
    Box holesAt,
    double apart,
    double noise,
    double banding,
    int fringe,
    Box fringeAt,
    int digest,
    int columns,
    int rows,
    float[] grid,
    Traces before) {
  /** Fields of the grid along the longer side. */
  private static final int FIELDS = 64;

  /** Most single bright pixels that are kept. */
  private static final int MOST_BRIGHT = 200;

  /** How many times as bright as the second brightest around it such a pixel is. */
  private static final float OUTSTANDING = 4;

  /** Luminance that what is dark is not told apart below. */
  static final double DARK = 0.05;

  private static final float BELOW = -1e-4f;

  /** Luminance below which nothing is seen. */
  private static final float BLACK = 1e-4f;

  /** What the noise mask makes of noise of 1, and where the middle of its sizes lies. */
  private static final double MASK = 6, MIDDLE = 0.6745;

  /** Pixels of a step that is seen as a band. */
  private static final int STEP = 16;

  /** A part of a picture, pixels from its top left corner. */
  public record Box(int x, int y, int width, int height) {
    Box with(int px, int py) {
      int x0 = Math.min(x, px), y0 = Math.min(y, py);
      int x1 = Math.max(x + width, px + 1), y1 = Math.max(y + height, py + 1);
      return new Box(x0, y0, x1 - x0, y1 - y0);
    }

    static Box of(Box before, int px, int py) {
      return before == null ? new Box(px, py, 1, 1) : before.with(px, py);
    }
  }

  /**
   * A single bright pixel.
   *
   * @param times how many times as bright it is as the second brightest around it
   */
  public record Bright(int x, int y, float luminance, float times) {}

  /**
   * What passes say about each field of the grid.
   *
   * @param right pixels that it has moved to the right since the frame before; down likewise
   * @param depth metres; null if there is no such pass
   * @param object the number of the object that has most of it; null likewise
   */
  public record Traces(float[] right, float[] down, float[] depth, float[] object) {}

  /** Parts of the light that add up to the beauty, if all of them are there. */
  private static final List<String> PARTS =
      List.of(
          "diffuse-direct",
          "diffuse-indirect",
          "specular-direct",
          "specular-indirect",
          "transmission-direct",
          "transmission-indirect",
          "sheen",
          "clearcoat",
          "emission",
          "environment");

  /**
   * Looks at a frame.
   *
   * @param image with R, G and B, or with one channel Y; else it is data
   * @param display true if its values were display values of 0 .. 1, so that 1 is clipped
   */
  public static FrameLook of(int frame, FrameImage image, boolean display) {
    int w = image.width(), h = image.height();
    float[] r = colour(image, "R"), g = colour(image, "G"), b = colour(image, "B");
    float[] y = new float[w * h];
    double light = 0;
    int lit = 0, white = 0, clipped = 0, negative = 0, digest = 1;
    Box negativeAt = null;
    for (int i = 0; i < y.length; i++) {
      y[i] = (float) Luminance.of(r[i], g[i], b[i]);
      digest = mixed(digest, r[i]);
      digest = mixed(digest, g[i]);
      digest = mixed(digest, b[i]);
      if (Float.isFinite(y[i])) {
        light += y[i];
        lit++;
      }
      white += r[i] >= 1 && g[i] >= 1 && b[i] >= 1 ? 1 : 0;
      clipped += display && (r[i] >= 1 || g[i] >= 1 || b[i] >= 1) ? 1 : 0;
      if (r[i] < BELOW || g[i] < BELOW || b[i] < BELOW) {
        negative++;
        negativeAt = Box.of(negativeAt, i % w, i / w);
      }
    }
    int notNumbers = 0;
    Box notNumbersAt = null;
    boolean[] odd = notNumbers(image);
    for (int i = 0; i < odd.length; i++) {
      if (odd[i]) {
        notNumbers++;
        notNumbersAt = Box.of(notNumbersAt, i % w, i / w);
      }
    }
    int holes = 0;
    Box holesAt = null;
    float[] a = image.find("A");
    for (int i = 0; a != null && i < a.length; i++) {
      if (hole(a, i % w, i / w, w, h)) {
        holes++;
        holesAt = Box.of(holesAt, i % w, i / w);
      }
    }
    int fringed = 0;
    Box fringeAt = null;
    boolean matte = a != null && matte(a, y);
    for (int i = 0; matte && i < a.length; i++) {
      if (fringe(a, y, i % w, i / w, w, h)) {
        fringed++;
        fringeAt = Box.of(fringeAt, i % w, i / w);
      }
    }
    double part = FIELDS / (double) Math.max(w, h);
    int columns = Math.max(1, Math.min(w, (int) Math.round(w * part)));
    int rows = Math.max(1, Math.min(h, (int) Math.round(h * part)));
    return new FrameLook(
        frame,
        w,
        h,
        image.channels().stream().map(FrameImage.Channel::name).toList(),
        lit == 0 ? 0 : light / lit,
        white / (double) y.length,
        clipped / (double) y.length,
        notNumbers,
        notNumbersAt,
        negative,
        negativeAt,
        bright(y, w, h),
        holes,
        holesAt,
        apart(image, y),
        noise(y, w, h),
        display ? banding(r, g, b, w) : 0,
        fringed,
        fringeAt,
        digest,
        columns,
        rows,
        grid(y, w, h, columns, rows),
        traces(image, columns, rows));
  }

  /**
   * Returns the noise of a picture: the response of a mask that neither planes nor edges along it
   * answer, of the middle pixel, so that texture and edges do not count.
   *
   * <p>Source: J. Immerkaer, "Fast noise variance estimation", Computer Vision and Image
   * Understanding 64 (1996), with the median in place of the mean.
   */
  private static double noise(float[] y, int w, int h) {
    if (w < 3 || h < 3) {
      return 0;
    }
    float[] all = new float[(w - 2) * (h - 2)];
    int n = 0;
    for (int j = 1; j < h - 1; j++) {
      for (int i = 1; i < w - 1; i++) {
        int k = j * w + i;
        float corners = y[k - w - 1] + y[k - w + 1] + y[k + w - 1] + y[k + w + 1];
        float sides = y[k - w] + y[k + w] + y[k - 1] + y[k + 1];
        float v = Math.abs(corners - 2 * sides + 4 * y[k]) / (y[k] + (float) DARK);
        if (Float.isFinite(v)) {
          all[n++] = v;
        }
      }
    }
    Arrays.sort(all, 0, n);
    return n == 0 ? 0 : all[n / 2] / (MASK * MIDDLE);
  }

  /** Returns the share of pixels on steps that are wide, and one value of 8 bits from the next. */
  private static double banding(float[] r, float[] g, float[] b, int w) {
    int[] codes = new int[r.length];
    for (int i = 0; i < codes.length; i++) {
      codes[i] = code(r[i]) << 16 | code(g[i]) << 8 | code(b[i]);
    }
    int banded = 0;
    for (int from = 0; from < codes.length; from += w) {
      int start = from, before = 0;
      for (int i = from + 1; i <= from + w; i++) {
        boolean ends = i == from + w || codes[i] != codes[i - 1];
        if (ends) {
          int run = i - start;
          if (run >= STEP && before >= STEP && oneApart(codes[start], codes[start - 1])) {
            banded += run;
          }
          before = run;
          start = i;
        }
      }
    }
    return banded / (double) codes.length;
  }

  private static int code(float linear) {
    return ((ViewTransform.encode(linear) & 0xffff) + 128) / 257;
  }

  private static boolean oneApart(int a, int b) {
    int most = 0;
    for (int k = 0; k < 24; k += 8) {
      most = Math.max(most, Math.abs((a >> k & 255) - (b >> k & 255)));
    }
    return most == 1;
  }

  /** Returns true if an edge pixel is brighter for its alpha than all that is opaque around it. */
  private static boolean fringe(float[] a, float[] y, int x, int py, int w, int h) {
    float own = a[py * w + x];
    if (!(own > 0.05f && own < 0.95f)) {
      return false;
    }
    float most = -1;
    for (int j = Math.max(0, py - 2); j <= Math.min(h - 1, py + 2); j++) {
      for (int i = Math.max(0, x - 2); i <= Math.min(w - 1, x + 2); i++) {
        most = a[j * w + i] > 0.99f ? Math.max(most, y[j * w + i]) : most;
      }
    }
    return most >= 0 && y[py * w + x] / own > 2 * most + DARK;
  }

  /** Returns true if nothing is seen where alpha is 0, so that alpha is a matte. */
  private static boolean matte(float[] a, float[] y) {
    int empty = 0, dark = 0;
    for (int i = 0; i < y.length; i++) {
      if (a[i] == 0) {
        empty++;
        dark += y[i] < BLACK ? 1 : 0;
      }
    }
    return empty > 0 && dark >= 0.99 * empty;
  }

  private static Traces traces(FrameImage image, int columns, int rows) {
    float[] x = image.find("motion-previous.X"), y = image.find("motion-previous.Y");
    if (x == null || y == null) {
      return null;
    }
    return new Traces(
        middle(x, image, columns, rows),
        middle(y, image, columns, rows),
        middle(image.find("depth.Z"), image, columns, rows),
        middle(image.find("matte-objects00.R"), image, columns, rows));
  }

  /** Returns the value in the middle of each field; null of null. */
  private static float[] middle(float[] v, FrameImage image, int columns, int rows) {
    if (v == null) {
      return null;
    }
    float[] out = new float[columns * rows];
    for (int i = 0; i < out.length; i++) {
      int px = (2 * (i % columns) + 1) * image.width() / (2 * columns);
      int py = (2 * (i / columns) + 1) * image.height() / (2 * rows);
      out[i] = v[py * image.width() + px];
    }
    return out;
  }

  /** A step of MurmurHash3 (A. Appleby, public domain): equal values do not cancel out. */
  private static int mixed(int digest, float v) {
    int k = Integer.rotateLeft(Float.floatToIntBits(v) * 0xcc9e2d51, 15) * 0x1b873593;
    return Integer.rotateLeft(digest ^ k, 13) * 5 + 0xe6546b64;
  }

  private static float[] colour(FrameImage image, String name) {
    float[] c = image.find(name);
    float[] found = c == null ? image.find("Y") : c;
    // Of data without colours only what is no number is looked for, and which channels there are.
    return found == null ? new float[image.width() * image.height()] : found;
  }

  private static boolean[] notNumbers(FrameImage image) {
    boolean[] odd = new boolean[image.width() * image.height()];
    for (FrameImage.Channel c : image.channels()) {
      // Where nothing is, depth is infinite; names of mattes are bits, and no numbers.
      boolean free = c.name().endsWith("Z") || c.name().startsWith("matte-");
      float[] v = c.data();
      for (int i = 0; !free && i < v.length; i++) {
        odd[i] |= !Float.isFinite(v[i]);
      }
    }
    return odd;
  }

  private static boolean hole(float[] a, int x, int y, int w, int h) {
    if (!(a[y * w + x] < 0.5f) || x == 0 || y == 0 || x == w - 1 || y == h - 1) {
      return false;
    }
    for (int j = y - 1; j <= y + 1; j++) {
      for (int i = x - 1; i <= x + 1; i++) {
        if ((i != x || j != y) && a[j * w + i] < 0.99f) {
          return false;
        }
      }
    }
    return true;
  }

  private static List<Bright> bright(float[] y, int w, int h) {
    List<Bright> all = new ArrayList<>();
    for (int py = 0; py < h; py++) {
      for (int px = 0; px < w; px++) {
        float v = y[py * w + px];
        if (!(v > OUTSTANDING * DARK)) {
          continue;
        }
        float around = 0;
        for (int j = Math.max(0, py - 1); j <= Math.min(h - 1, py + 1); j++) {
          for (int i = Math.max(0, px - 1); i <= Math.min(w - 1, px + 1); i++) {
            around = i == px && j == py ? around : Math.max(around, y[j * w + i]);
          }
        }
        float times = v / (around + (float) DARK);
        if (times > OUTSTANDING) {
          all.add(new Bright(px, py, v, times));
        }
      }
    }
    all.sort((a, b) -> Float.compare(b.times, a.times));
    return List.copyOf(all.subList(0, Math.min(MOST_BRIGHT, all.size())));
  }

  private static double apart(FrameImage image, float[] y) {
    List<float[][]> parts = new ArrayList<>();
    for (String p : PARTS) {
      float[][] rgb = {image.find(p + ".R"), image.find(p + ".G"), image.find(p + ".B")};
      if (Arrays.stream(rgb).anyMatch(c -> c == null)) {
        return Double.NaN;
      }
      parts.add(rgb);
    }
    double sum = 0;
    for (int i = 0; i < y.length; i++) {
      double all = 0;
      for (float[][] rgb : parts) {
        all += Luminance.of(rgb[0][i], rgb[1][i], rgb[2][i]);
      }
      sum += Math.abs(all - y[i]) / (Math.abs(y[i]) + DARK);
    }
    return sum / y.length;
  }

  private static float[] grid(float[] y, int w, int h, int columns, int rows) {
    float[] out = new float[columns * rows];
    for (int row = 0; row < rows; row++) {
      for (int column = 0; column < columns; column++) {
        int x0 = column * w / columns, x1 = (column + 1) * w / columns;
        int y0 = row * h / rows, y1 = (row + 1) * h / rows;
        float[] some = new float[(x1 - x0) * (y1 - y0)];
        int n = 0;
        for (int j = y0; j < y1; j++) {
          for (int i = x0; i < x1; i++) {
            float v = y[j * w + i];
            some[n] = Float.isFinite(v) ? v : 0;
            n++;
          }
        }
        out[row * columns + column] = calm(some);
      }
    }
    return out;
  }

  /** The mean of what is left if the brightest values count as no more than the rest. */
  private static float calm(float[] some) {
    Arrays.sort(some);
    float most = 4 * some[some.length / 2] + (float) DARK;
    double sum = 0;
    for (float v : some) {
      sum += Math.min(v, most);
    }
    return (float) (sum / some.length);
  }
}
