package posada.formats.exr;

/** Conversion between single and half precision (IEEE 754-2008 binary16). */
public final class Half {
  private static final float[] TO_FLOAT = new float[1 << 16];

  static {
    for (int i = 0; i < TO_FLOAT.length; i++) {
      TO_FLOAT[i] = decode(i);
    }
  }

  private Half() {}

  private static float decode(int h) {
    int sign = (h & 0x8000) << 16;
    int exponent = h >>> 10 & 31;
    int mantissa = h & 0x3ff;
    if (exponent == 0) {
      float v = mantissa * 0x1p-24f;
      return sign == 0 ? v : -v;
    }
    int e = exponent == 31 ? 255 : exponent + 112;
    return Float.intBitsToFloat(sign | e << 23 | mantissa << 13);
  }

  /** Returns the value of 16 bits. */
  public static float toFloat(short bits) {
    return TO_FLOAT[bits & 0xffff];
  }

  /**
   * Returns the nearest half, ties to even. What is too large becomes the largest finite half,
   * 65504, since an infinity in a picture spreads through every filter; infinities and NaN stay.
   */
  public static short fromFloat(float f) {
    int bits = Float.floatToRawIntBits(f);
    int sign = bits >>> 16 & 0x8000;
    int abs = bits & 0x7fffffff;
    if (abs >= 0x7f800000) {
      return (short) (sign | (abs > 0x7f800000 ? 0x7e00 : 0x7c00));
    }
    if (abs >= 0x477ff000) {
      return (short) (sign | 0x7bff);
    }
    if (abs >= 0x38800000) {
      int rounded = abs + 0xfff + (abs >>> 13 & 1);
      return (short) (sign | (rounded - 0x38000000) >>> 13);
    }
    if (abs < 0x33000000) {
      return (short) sign;
    }
    int shift = 126 - (abs >>> 23);
    int mantissa = abs & 0x7fffff | 0x800000;
    int half = mantissa >>> shift;
    int rest = mantissa & (1 << shift) - 1;
    int middle = 1 << shift - 1;
    if (rest > middle || (rest == middle && (half & 1) == 1)) {
      half++;
    }
    return (short) (sign | half);
  }
}
