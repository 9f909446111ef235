package posada.core.light;

/**
 * Where the sun stands in the sky.
 *
 * <p>Source: The Astronomical Almanac, section C, "Low-precision formulas for the Sun" (0.01
 * degrees between 1950 and 2050); refraction after G. Bennett, "The calculation of astronomical
 * refraction in marine navigation", 1982.
 *
 * @param altitude degrees above the horizon, lifted by the air's refraction
 * @param azimuth degrees from north, clockwise: 90 is east
 */
public record SunPosition(double altitude, double azimuth) {
  /** From 2000-01-01 0 h, which days are counted from, to the almanac's epoch at noon. */
  private static final double EPOCH = 0.5;

  /**
   * @param latitude degrees, north positive
   * @param longitude degrees, east positive
   * @param days since 2000-01-01 at 0 h UTC, with the fraction of the day
   */
  public static SunPosition of(double latitude, double longitude, double days) {
    double n = days - EPOCH;
    double anomaly = Math.toRadians(357.528 + 0.9856003 * n);
    double ecliptic =
        Math.toRadians(
            280.460
                + 0.9856474 * n
                + 1.915 * StrictMath.sin(anomaly)
                + 0.020 * StrictMath.sin(2 * anomaly));
    double tilt = Math.toRadians(23.439 - 0.0000004 * n);
    double rightAscension =
        StrictMath.atan2(StrictMath.cos(tilt) * StrictMath.sin(ecliptic), StrictMath.cos(ecliptic));
    double declination = StrictMath.asin(StrictMath.sin(tilt) * StrictMath.sin(ecliptic));
    double sidereal = 15 * (18.697374558 + 24.06570982441908 * n);
    double hourAngle = Math.toRadians(sidereal + longitude) - rightAscension;
    double phi = Math.toRadians(latitude);
    double east = -StrictMath.cos(declination) * StrictMath.sin(hourAngle);
    double north =
        StrictMath.sin(declination) * StrictMath.cos(phi)
            - StrictMath.cos(declination) * StrictMath.cos(hourAngle) * StrictMath.sin(phi);
    double up =
        StrictMath.sin(declination) * StrictMath.sin(phi)
            + StrictMath.cos(declination) * StrictMath.cos(hourAngle) * StrictMath.cos(phi);
    double h = Math.toDegrees(StrictMath.asin(Math.max(-1, Math.min(1, up))));
    double azimuth = Math.toDegrees(StrictMath.atan2(east, north));
    return new SunPosition(h + refraction(h), azimuth < 0 ? azimuth + 360 : azimuth);
  }

  private static double refraction(double h) {
    if (h < -1.5) {
      return 0;
    }
    return 1 / StrictMath.tan(Math.toRadians(h + 7.31 / (h + 4.4))) / 60;
  }
}
