package posada.core.light;

/**
 * The fifteen standard general skies.
 *
 * <p>Source: ISO 15469:2004 (CIE S 011/E:2003), equations 1 to 5 and table 1, for how luminance is
 * spread; IES Calculation Procedures Committee, "Recommended practice for the calculation of
 * daylight availability", 1984, for how much light there is (types 1 to 5 overcast, 6 to 10 partly
 * cloudy, 11 to 15 clear).
 */
public final class StandardSky {
  private static final double[][] PARAMETERS = {
    {4.0, -0.70, 0, -1.0, 0},
    {4.0, -0.70, 2, -1.5, 0.15},
    {1.1, -0.8, 0, -1.0, 0},
    {1.1, -0.8, 2, -1.5, 0.15},
    {0, -1.0, 0, -1.0, 0},
    {0, -1.0, 2, -1.5, 0.15},
    {0, -1.0, 5, -2.5, 0.30},
    {0, -1.0, 10, -3.0, 0.45},
    {-1.0, -0.55, 2, -1.5, 0.15},
    {-1.0, -0.55, 5, -2.5, 0.30},
    {-1.0, -0.55, 10, -3.0, 0.45},
    {-1.0, -0.32, 10, -3.0, 0.45},
    {-1.0, -0.32, 16, -3.0, 0.30},
    {-1.0, -0.15, 16, -3.0, 0.30},
    {-1.0, -0.15, 24, -2.8, 0.15}
  };

  private final int type;
  private final double[] p;
  private final double sunZenith;
  private final double sine;

  /**
   * @param type 1 .. 15
   * @param altitude of the sun, degrees; below the horizon it counts as 0
   */
  public StandardSky(int type, double altitude) {
    this.type = type;
    p = PARAMETERS[type - 1];
    double h = Math.toRadians(Math.max(0, altitude));
    sunZenith = Math.PI / 2 - h;
    sine = StrictMath.sin(h);
  }

  /**
   * Returns luminance over that straight up.
   *
   * @param cosTheta of the angle from straight up, 0 .. 1
   * @param gamma angle from the sun, radians
   */
  public double relative(double cosTheta, double gamma) {
    return indicatrix(gamma) * gradation(cosTheta) / (indicatrix(sunZenith) * gradation(1));
  }

  private double gradation(double cosTheta) {
    return cosTheta > 0 ? 1 + p[0] * StrictMath.exp(p[1] / cosTheta) : 1;
  }

  private double indicatrix(double gamma) {
    double c = StrictMath.cos(gamma);
    return 1
        + p[2] * (StrictMath.exp(p[3] * gamma) - StrictMath.exp(p[3] * Math.PI / 2))
        + p[4] * c * c;
  }

  /** Returns the illuminance of the sky alone on level ground, klx. */
  public double skyKilolux() {
    if (type <= 5) {
      return 0.3 + 21 * sine;
    }
    return type <= 10 ? 0.3 + 45 * sine : 0.8 + 15.5 * Math.sqrt(sine);
  }

  /** Returns the illuminance of the sun on a facing surface, klx; 0 under an overcast sky. */
  public double sunKilolux() {
    if (type <= 5 || sine <= 0) {
      return 0;
    }
    return 127.5 * StrictMath.exp(-(type <= 10 ? 0.80 : 0.21) / sine);
  }
}
