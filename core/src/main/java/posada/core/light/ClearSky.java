package posada.core.light;

/**
 * Luminance and colour of a clear or hazy daylight sky, and of the sun in it.
 *
 * <p>Source: A. Preetham, P. Shirley and B. Smits, "A Practical Analytic Model for Daylight", 1999,
 * appendix A; the sun's light outside the air is a black body of 5772 K (IAU 2015, resolution B3)
 * of 133.8 klx (S. Darula, R. Kittler and C. Gueymard, 2005). Below the horizon the sky of the
 * sunset fades as natural illuminance does (P. Seidelmann, "Explanatory Supplement to the
 * Astronomical Almanac", 1992, section 9.33).
 */
public final class ClearSky {
  private static final double SUN_KILOLUX = 133.8;
  private static final double SUN_KELVIN = 5772;
  private static final double OZONE_CENTIMETRES = 0.35;

  /** Absorption of ozone, for each centimetre, from 450 to 700 nm in steps of 10. */
  private static final double[] OZONE = {
    0.003, 0.006, 0.009, 0.014, 0.021, 0.030, 0.040, 0.048, 0.063, 0.075, 0.085, 0.103, 0.120,
    0.120, 0.115, 0.125, 0.120, 0.105, 0.090, 0.079, 0.067, 0.057, 0.048, 0.036, 0.028, 0.023
  };

  private final double turbidity;
  private final double altitude;

  /** The sun's angle from straight up as the model sees it: never below the horizon. */
  private final double theta;

  private final double fade;
  private final double[] luminance;
  private final double[] x;
  private final double[] y;
  private final double zenithLuminance;
  private final double zenithX;
  private final double zenithY;

  /**
   * @param turbidity 1.9 .. 10
   * @param altitude of the sun, degrees
   */
  public ClearSky(double turbidity, double altitude) {
    this.turbidity = turbidity;
    this.altitude = altitude;
    theta = Math.toRadians(90 - Math.max(0, altitude));
    fade = altitude >= 0 ? 1 : illuminance(altitude) / illuminance(0);
    double t = turbidity;
    luminance =
        new double[] {
          0.1787 * t - 1.4630,
          -0.3554 * t + 0.4275,
          -0.0227 * t + 5.3251,
          0.1206 * t - 2.5771,
          -0.0670 * t + 0.3703
        };
    x =
        new double[] {
          -0.0193 * t - 0.2592,
          -0.0665 * t + 0.0008,
          -0.0004 * t + 0.2125,
          -0.0641 * t - 0.8989,
          -0.0033 * t + 0.0452
        };
    y =
        new double[] {
          -0.0167 * t - 0.2608,
          -0.0950 * t + 0.0092,
          -0.0079 * t + 0.2102,
          -0.0441 * t - 1.6537,
          -0.0109 * t + 0.0529
        };
    double chi = (4 / 9.0 - t / 120) * (Math.PI - 2 * theta);
    zenithLuminance =
        Math.max(0, (4.0453 * t - 4.9710) * StrictMath.tan(chi) - 0.2155 * t + 2.4192);
    zenithX =
        chroma(
            new double[] {0.00166, -0.00375, 0.00209, 0},
            new double[] {-0.02903, 0.06377, -0.03202, 0.00394},
            new double[] {0.11693, -0.21196, 0.06052, 0.25886});
    zenithY =
        chroma(
            new double[] {0.00275, -0.00610, 0.00317, 0},
            new double[] {-0.04214, 0.08970, -0.04153, 0.00516},
            new double[] {0.15346, -0.26756, 0.06670, 0.26688});
  }

  private double chroma(double[] square, double[] plain, double[] constant) {
    return turbidity * turbidity * cubic(square) + turbidity * cubic(plain) + cubic(constant);
  }

  private double cubic(double[] c) {
    return ((c[0] * theta + c[1]) * theta + c[2]) * theta + c[3];
  }

  private double relative(double[] c, double cosTheta, double gamma) {
    double cosGamma = StrictMath.cos(gamma);
    double cosSun = StrictMath.cos(theta);
    return perez(c, cosTheta, gamma, cosGamma) / perez(c, 1, theta, cosSun);
  }

  private static double perez(double[] c, double cosTheta, double gamma, double cosGamma) {
    return (1 + c[0] * StrictMath.exp(c[1] / Math.max(1e-3, cosTheta)))
        * (1 + c[2] * StrictMath.exp(c[3] * gamma) + c[4] * cosGamma * cosGamma);
  }

  /**
   * Returns the sky's luminance in kcd/m2.
   *
   * @param cosTheta of the angle from straight up, 0 .. 1
   * @param gamma angle from the sun, radians
   */
  public double luminance(double cosTheta, double gamma) {
    return fade * zenithLuminance * relative(luminance, cosTheta, gamma);
  }

  /** Stores scene-linear red, green, blue (ITU-R BT.709 primaries) whose luminance is kcd/m2. */
  public void color(double cosTheta, double gamma, double[] out) {
    double cx = zenithX * relative(x, cosTheta, gamma);
    double cy = zenithY * relative(y, cosTheta, gamma);
    double l = luminance(cosTheta, gamma);
    rgb(cx / cy * l, l, (1 - cx - cy) / cy * l, out);
  }

  /** Turns CIE XYZ into red, green, blue of ITU-R BT.709; what lies outside is clipped at 0. */
  static void rgb(double x, double y, double z, double[] out) {
    out[0] = Math.max(0, 3.2404542 * x - 1.5371385 * y - 0.4985314 * z);
    out[1] = Math.max(0, -0.9692660 * x + 1.8760108 * y + 0.0415560 * z);
    out[2] = Math.max(0, 0.0556434 * x - 0.2040259 * y + 1.0572252 * z);
  }

  /** Stores the sun's illuminance on a facing surface, klx, as red, green, blue. */
  public void sun(double[] out) {
    double[] with = new double[3];
    double[] without = new double[3];
    double h = Math.max(-0.8, altitude);
    double mass =
        1 / (StrictMath.sin(Math.toRadians(h)) + 0.15 * StrictMath.pow(h + 3.885, -1.253));
    double haze = Math.max(0, 0.04608 * turbidity - 0.04586);
    for (int nm = 380; nm <= 780; nm += 5) {
      double um = nm * 1e-3;
      double power = planck(um);
      int k = (nm - 450) / 10;
      double ozone = nm < 450 || k >= OZONE.length ? 0 : OZONE[k];
      double through =
          StrictMath.exp(
              -mass
                  * (0.008735 * StrictMath.pow(um, -4.08)
                      + haze * StrictMath.pow(um, -1.3)
                      + ozone * OZONE_CENTIMETRES));
      add(nm, power * through, with);
      add(nm, power, without);
    }
    double k = SUN_KILOLUX / without[1] * above();
    rgb(with[0] * k, with[1] * k, with[2] * k, out);
  }

  /** Share of the disc that is above the horizon, taken as growing evenly. */
  private double above() {
    return Math.max(0, Math.min(1, 0.5 + altitude / (2 * SUN_RADIUS)));
  }

  /** Half of the angle under which the sun is seen, degrees. */
  public static final double SUN_RADIUS = 0.2666;

  private static double planck(double um) {
    return 1 / (StrictMath.pow(um, 5) * (StrictMath.exp(14387.77 / (um * SUN_KELVIN)) - 1));
  }

  /**
   * Adds a wavelength's part of CIE XYZ.
   *
   * <p>Source: C. Wyman, P. Sloan and P. Shirley, "Simple Analytic Approximations to the CIE XYZ
   * Color Matching Functions", JCGT 2(2), 2013.
   */
  private static void add(double nm, double power, double[] xyz) {
    xyz[0] +=
        power
            * (1.056 * lobe(nm, 599.8, 37.9, 31.0)
                + 0.362 * lobe(nm, 442.0, 16.0, 26.7)
                - 0.065 * lobe(nm, 501.1, 20.4, 26.2));
    xyz[1] += power * (0.821 * lobe(nm, 568.8, 46.9, 40.5) + 0.286 * lobe(nm, 530.9, 16.3, 31.1));
    xyz[2] += power * (1.217 * lobe(nm, 437.0, 11.8, 36.0) + 0.681 * lobe(nm, 459.0, 26.0, 13.8));
  }

  private static double lobe(double nm, double middle, double below, double over) {
    double t = (nm - middle) / (nm < middle ? below : over);
    return StrictMath.exp(-0.5 * t * t);
  }

  /** Returns natural illuminance in lux for an altitude of the sun of 0 .. -18 degrees. */
  private static double illuminance(double altitude) {
    double a = Math.max(-18, altitude);
    double[] c;
    if (a >= -0.8) {
      c = new double[] {2.88, 22.26, -207.64, 1034.30};
    } else if (a >= -5) {
      c = new double[] {2.88, 21.81, -258.11, -858.36};
    } else if (a >= -12) {
      c = new double[] {2.70, 12.17, -431.69, -1899.83};
    } else {
      c = new double[] {13.84, 262.72, 1447.42, 2797.93};
    }
    double t = a / 90;
    return StrictMath.pow(10, c[0] + t * (c[1] + t * (c[2] + t * c[3])));
  }
}
