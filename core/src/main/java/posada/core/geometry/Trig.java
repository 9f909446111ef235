package posada.core.geometry;

/**
 * Sine and cosine for directions on the sphere, from sums and products only, so that the last bit
 * is the same on every platform and JDK.
 *
 * <p>Taylor polynomials in double precision after reduction to a quarter turn; absolute error below
 * 1e-9, far under the resolution of the float result.
 */
public final class Trig {
  private Trig() {}

  /** Returns the sine of {@code turns} whole turns, for turns in [-1, 2]. */
  public static float sinTurns(double turns) {
    double t = turns - Math.floor(turns);
    int quadrant = (int) (t * 4 + 0.5);
    double a = (t - quadrant * 0.25) * (2 * Math.PI);
    return (float)
        switch (quadrant & 3) {
          case 0 -> sin(a);
          case 1 -> cos(a);
          case 2 -> -sin(a);
          default -> -cos(a);
        };
  }

  /** Returns the cosine of {@code turns} whole turns, for turns in [-1, 2]. */
  public static float cosTurns(double turns) {
    return sinTurns(turns + 0.25);
  }

  private static double sin(double a) {
    double q = a * a;
    return a
        * (1
            + q
                * (-1 / 6.0
                    + q * (1 / 120.0 + q * (-1 / 5040.0 + q * (1 / 362880.0 - q / 39916800.0)))));
  }

  private static double cos(double a) {
    double q = a * a;
    return 1
        + q
            * (-0.5
                + q
                    * (1 / 24.0
                        + q
                            * (-1 / 720.0
                                + q * (1 / 40320.0 + q * (-1 / 3628800.0 + q / 479001600.0)))));
  }
}
