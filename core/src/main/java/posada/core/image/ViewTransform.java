package posada.core.image;

import java.util.List;

/** Turns scene-linear pictures into display pictures with the sRGB transfer function. */
public final class ViewTransform {
  private static final int TABLE_BITS = 13;

  /** sRGB times 65535 at the floats whose lower bits are 0, interpolated between: within 0.01. */
  private static final float[] TABLE = new float[(0x3F800000 >>> TABLE_BITS) + 1];

  static {
    for (int i = 0; i < TABLE.length; i++) {
      TABLE[i] = (float) (65535 * SrgbTransfer.encode(Float.intBitsToFloat(i << TABLE_BITS)));
    }
  }

  private static final List<String> BEAUTY = List.of("R", "G", "B", "A");

  private ViewTransform() {}

  /**
   * Returns the beauty for a display file.
   *
   * @param stops exposure in stops
   * @param withAlpha true to divide by alpha and keep it (straight); false to leave colour as it is
   *     over black
   */
  public static DisplayImage beauty(FrameImage image, double stops, boolean withAlpha) {
    return display(image, BEAUTY, withAlpha, null, stops);
  }

  /** Likewise, without exposure. */
  public static DisplayImage display(
      FrameImage image, List<String> names, boolean withAlpha, float[] fill) {
    return display(image, names, withAlpha, fill, 0);
  }

  /**
   * Returns a picture's colour for a display file.
   *
   * @param names of its channels: red, green, blue, and alpha where it is needed
   * @param withAlpha true to divide by alpha and keep it (straight)
   * @param fill colour behind what is not opaque: red, green, blue; null to leave colour as it is
   * @param stops exposure in stops
   */
  public static DisplayImage display(
      FrameImage image, List<String> names, boolean withAlpha, float[] fill, double stops) {
    float gain = (float) StrictMath.pow(2, stops);
    float[][] c = names.stream().map(image::find).toArray(float[][]::new);
    int n = image.width() * image.height();
    int components = withAlpha ? 4 : 3;
    short[] out = new short[n * components];
    for (int i = 0; i < n; i++) {
      float k = gain;
      if (withAlpha) {
        float a = c[3][i];
        out[i * 4 + 3] = (short) Math.round(65535 * Math.max(0, Math.min(1, a)));
        k = a > 0 ? gain / a : 0;
      }
      for (int j = 0; j < 3; j++) {
        float behind = fill == null ? 0 : fill[j] * Math.max(0, 1 - c[3][i]);
        out[i * components + j] = encode((c[j][i] + behind) * k);
      }
    }
    return new DisplayImage(image.width(), image.height(), components, out);
  }

  /** Depth where a ray meets nothing, metres. */
  public static final float NO_SURFACE = Float.POSITIVE_INFINITY;

  /** Returns the sRGB display value of a linear one, 0 .. 65535 without sign; clipped. */
  public static short encode(float linear) {
    if (!(linear > 0)) {
      return 0;
    }
    if (linear >= 1) {
      return (short) 65535;
    }
    int bits = Float.floatToRawIntBits(linear);
    int i = bits >>> TABLE_BITS;
    float f = (bits & ((1 << TABLE_BITS) - 1)) * (1f / (1 << TABLE_BITS));
    return (short) (int) (TABLE[i] + (TABLE[i + 1] - TABLE[i]) * f + 0.5f);
  }
}
