package posada.core.image;

/**
 * The sRGB transfer function between scene-linear and display values.
 *
 * <p>Source: IEC 61966-2-1:1999, section 4 (constants 12.92, 1.055, 0.055, 2.4, 0.0031308).
 */
public final class SrgbTransfer {
  private static final float[] DECODED_8 = new float[256];

  static {
    for (int i = 0; i < 256; i++) {
      DECODED_8[i] = (float) decode(i / 255.0);
    }
  }

  private SrgbTransfer() {}

  /** Returns the display value of a linear one; values outside 0 .. 1 are clipped, NaN is 0. */
  public static double encode(double linear) {
    if (!(linear > 0)) {
      return 0;
    }
    if (linear >= 1) {
      return 1;
    }
    return linear <= 0.0031308 ? 12.92 * linear : 1.055 * StrictMath.pow(linear, 1 / 2.4) - 0.055;
  }

  /** Returns the linear value of a display one, both 0 .. 1. */
  public static double decode(double encoded) {
    return encoded <= 0.04045 ? encoded / 12.92 : StrictMath.pow((encoded + 0.055) / 1.055, 2.4);
  }

  /** Returns the linear value of an 8-bit display value 0 .. 255. */
  public static float decode8(int encoded) {
    return DECODED_8[encoded];
  }
}
