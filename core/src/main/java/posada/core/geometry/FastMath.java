package posada.core.geometry;

/**
 * Elementary functions from sums, products and square roots only, so that the last bit is the same
 * on every platform and JDK; faster than {@link StrictMath}. Relative errors are bounds seen over
 * the whole range, against StrictMath.
 */
public final class FastMath {
  private static final double LN2 = 0.6931471805599453;
  private static final double LOG2E = 1.4426950408889634;

  private FastMath() {}

  /** Returns e to the power x; relative error below 1e-7; 0 below -87, infinite above 88.7. */
  public static float exp(float x) {
    return exp2(x * LOG2E);
  }

  /** Returns 2 to the power x; relative error below 1e-7; NaN stays NaN. */
  public static float exp2(double x) {
    if (!(x > -126)) {
      return x <= -126 ? 0 : Float.NaN;
    }
    if (x >= 128) {
      return Float.POSITIVE_INFINITY;
    }
    double whole = Math.rint(x);
    double f = (x - whole) * LN2;
    double p =
        1
            + f
                * (1
                    + f
                        * (0.5
                            + f
                                * (1 / 6.0
                                    + f
                                        * (1 / 24.0
                                            + f * (1 / 120.0 + f * (1 / 720.0 + f / 5040.0))))));
    return (float) (p * Double.longBitsToDouble((1023L + (long) whole) << 52));
  }

  /** Returns the base-2 logarithm of x > 0; absolute error below 1e-7; -infinity at 0. */
  public static double log2(double x) {
    if (!(x > Double.MIN_NORMAL)) {
      return x >= 0 ? Double.NEGATIVE_INFINITY : Double.NaN;
    }
    long bits = Double.doubleToRawLongBits(x);
    int e = (int) (bits >>> 52) - 1023;
    double m = Double.longBitsToDouble(bits & 0xfffffffffffffL | 0x3ff0000000000000L);
    if (m > 1.4142135623730951) {
      m *= 0.5;
      e++;
    }
    // log m = 2 artanh((m - 1) / (m + 1)), whose argument stays below 0.172.
    double t = (m - 1) / (m + 1);
    double q = t * t;
    double series = 1 + q * (1 / 3.0 + q * (1 / 5.0 + q * (1 / 7.0 + q * (1 / 9.0 + q / 11.0))));
    return e + 2 * LOG2E * t * series;
  }

  /**
   * Returns x to the power y for x of 0 or more; relative error below 1e-6 for results in range.
   */
  public static float pow(float x, float y) {
    if (x == 0) {
      return y == 0 ? 1 : 0;
    }
    return exp2(y * log2(x));
  }

  /** Returns the angle of (x, y) in whole turns, in [0, 1); absolute error below 2e-8. */
  public static float turns(float y, float x) {
    double ax = Math.abs(x), ay = Math.abs(y);
    double most = ax > ay ? ax : ay;
    if (!(most > 0)) {
      return 0;
    }
    double a = arcTangent((ax > ay ? ay : ax) / most) / (2 * Math.PI);
    if (ay > ax) {
      a = 0.25 - a;
    }
    if (x < 0) {
      a = 0.5 - a;
    }
    if (y < 0) {
      a = 1 - a;
    }
    float t = (float) a;
    return t < 1 ? t : 0;
  }

  /** Arc tangent of 0 .. 1, reduced once by the tangent of an eighth of a turn's half. */
  private static double arcTangent(double t) {
    double offset = 0;
    if (t > 0.41421356237309503) {
      offset = Math.PI / 8;
      t = (t - 0.41421356237309503) / (1 + t * 0.41421356237309503);
    }
    double q = t * t;
    return offset
        + t
            * (1
                + q
                    * (-1 / 3.0
                        + q
                            * (1 / 5.0
                                + q
                                    * (-1 / 7.0
                                        + q
                                            * (1 / 9.0
                                                + q * (-1 / 11.0 + q * (1 / 13.0 - q / 15.0)))))));
  }

  /** Returns the arc cosine in radians of a value clamped to -1 .. 1; absolute error below 2e-7. */
  public static float acos(float c) {
    float x = c < -1 ? -1 : c > 1 ? 1 : c;
    return turns((float) Math.sqrt((1 - x) * (1 + x)), x) * (float) (2 * Math.PI);
  }
}
