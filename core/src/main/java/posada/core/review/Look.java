package posada.core.review;

import posada.core.image.DisplayImage;
import posada.core.image.FrameImage;
import posada.core.image.ViewTransform;
import posada.core.light.Luminance;

/**
 * How a picture is looked at; nothing of it is written into files.
 *
 * @param shown what of the picture
 * @param view how its light becomes what a screen shows
 * @param stops exposure, -10 .. 10
 * @param gamma display values are raised to 1 / gamma, 0.2 .. 5
 */
public record Look(Shown shown, View view, double stops, double gamma) {
  /** A picture as it is delivered. */
  public static final Look STANDARD = new Look(Shown.COLOUR, View.STANDARD, 0, 1);

  private static final double MOST_STOPS = 10, LEAST_GAMMA = 0.2, MOST_GAMMA = 5;

  /** Squares of the ground that transparent pictures are shown on: pixels, and how bright. */
  private static final int SQUARE = 12;

  private static final float DARK_SQUARE = 0.018f, LIGHT_SQUARE = 0.03f;

  /** Light from which the soft view rolls off. */
  private static final float SHOULDER = 0.6f;

  private static final int WHITE = 65535;

  /** What of a picture is shown. */
  public enum Shown {
    COLOUR,
    /** Over a dark chequered ground where it is transparent. */
    CHECKERS,
    RED,
    GREEN,
    BLUE,
    ALPHA,
    LUMINANCE
  }

  /** How light becomes what a screen shows. */
  public enum View {
    /** As display files are written: sRGB, clipped. */
    STANDARD,
    /** Bright light rolls off instead of being clipped. */
    SOFT,
    /** The numbers as they are. */
    LINEAR,
    /** A colour for each stop of luminance, see {@link LightBands}. */
    BANDS
  }

  public Look {
    if (!(Math.abs(stops) <= MOST_STOPS)) {
      throw new IllegalArgumentException("exposure must be -10 .. 10 stops (got " + stops + ")");
    }
    if (!(gamma >= LEAST_GAMMA && gamma <= MOST_GAMMA)) {
      throw new IllegalArgumentException("gamma must be 0.2 .. 5 (got " + gamma + ")");
    }
  }

  /** Returns the standard look at one channel. */
  public static Look of(Shown shown) {
    return new Look(shown, View.STANDARD, 0, 1);
  }

  /** Returns true if nothing is changed about the picture. */
  public boolean isStandard() {
    return equals(STANDARD);
  }

  /**
   * Returns a picture as it is shown.
   *
   * @param image with the channels {@code R G B}, and {@code A} if that is shown
   * @throws IllegalArgumentException naming the channel that is not there
   */
  public DisplayImage of(FrameImage image) {
    return of(image, 1);
  }

  /**
   * Likewise.
   *
   * @param part by how much smaller than usual the picture is
   */
  public DisplayImage of(FrameImage image, double part) {
    int w = image.width(), n = w * image.height();
    float gain = (float) StrictMath.pow(2, stops);
    if (shown == Shown.ALPHA) {
      float[] a = plane(image, "A");
      short[] out = new short[n];
      for (int i = 0; i < n; i++) {
        out[i] = (short) Math.round(WHITE * Math.max(0, Math.min(1, a[i])));
      }
      return new DisplayImage(w, image.height(), 1, out);
    }
    if (view == View.BANDS || shown == Shown.LUMINANCE) {
      return luminance(image, gain);
    }
    if (shown == Shown.COLOUR || shown == Shown.CHECKERS) {
      return colour(image, gain, part);
    }
    String name = shown == Shown.RED ? "R" : shown == Shown.GREEN ? "G" : "B";
    float[] c = plane(image, name);
    short[] out = new short[n];
    for (int i = 0; i < n; i++) {
      out[i] = encode(c[i] * gain);
    }
    return new DisplayImage(w, image.height(), 1, out);
  }

  private DisplayImage colour(FrameImage image, float gain, double part) {
    int w = image.width(), n = w * image.height();
    float[][] c = {plane(image, "R"), plane(image, "G"), plane(image, "B")};
    float[] a = shown == Shown.CHECKERS ? plane(image, "A") : null;
    int square = Math.max(1, (int) Math.round(SQUARE / part));
    short[] out = new short[3 * n];
    for (int i = 0; i < n; i++) {
      float behind = 0;
      if (a != null) {
        boolean light = (i % w / square + i / w / square) % 2 == 0;
        behind = Math.max(0, 1 - a[i]) * (light ? LIGHT_SQUARE : DARK_SQUARE);
      }
      for (int k = 0; k < 3; k++) {
        out[3 * i + k] = encode(c[k][i] * gain + behind);
      }
    }
    return new DisplayImage(w, image.height(), 3, out);
  }

  private DisplayImage luminance(FrameImage image, float gain) {
    int n = image.width() * image.height();
    float[] r = plane(image, "R"), g = plane(image, "G"), b = plane(image, "B");
    boolean bands = view == View.BANDS;
    short[] out = new short[bands ? 3 * n : n];
    for (int i = 0; i < n; i++) {
      float y = gain * (float) Luminance.of(r[i], g[i], b[i]);
      if (bands) {
        LightBands.put(y, out, 3 * i);
      } else {
        out[i] = encode(y);
      }
    }
    return new DisplayImage(image.width(), image.height(), bands ? 3 : 1, out);
  }

  private short encode(float light) {
    float x = light;
    if (view == View.SOFT && x > SHOULDER) {
      // The slope is 1 where it begins, and white is never reached.
      float rest = 1 - SHOULDER;
      x = SHOULDER + rest * (1 - (float) StrictMath.exp((SHOULDER - x) / rest));
    }
    short v =
        view == View.LINEAR
            ? (short) Math.round(WHITE * Math.max(0, Math.min(1, x)))
            : ViewTransform.encode(x);
    return gamma == 1
        ? v
        : (short) Math.round(WHITE * StrictMath.pow((v & WHITE) / 65535.0, 1 / gamma));
  }

  private static float[] plane(FrameImage image, String name) {
    float[] data = image.find(name);
    if (data == null) {
      throw new IllegalArgumentException("this picture has no channel " + name);
    }
    return data;
  }
}
