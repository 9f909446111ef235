package posada.core.rig;

/** The colour of what glows because it is hot. */
public final class BlackBody {
  private BlackBody() {}

  /**
   * Returns linear red, green and blue (Rec. 709 primaries) of luminance 1; 0 for what lies outside
   * of them.
   *
   * <p>Source: Planckian locus by Kim et al., Design of advanced color temperature control system,
   * Journal of the Korean Physical Society 41 (2002); primaries after Rec. ITU-R BT.709-6.
   *
   * @param kelvin 1000 .. 25000; below 1667 as there
   */
  public static double[] rgb(double kelvin) {
    double t = Math.max(1667, kelvin);
    double k = 1000 / t;
    double x =
        t <= 4000
            ? ((-0.2661239 * k - 0.2343589) * k + 0.8776956) * k + 0.179910
            : ((-3.0258469 * k + 2.1070379) * k + 0.2226347) * k + 0.240390;
    double y;
    if (t <= 2222) {
      y = ((-1.1063814 * x - 1.34811020) * x + 2.18555832) * x - 0.20219683;
    } else if (t <= 4000) {
      y = ((-0.9549476 * x - 1.37418593) * x + 2.09137015) * x - 0.16748867;
    } else {
      y = ((3.0817580 * x - 5.87338670) * x + 3.75112997) * x - 0.37001483;
    }
    double bigX = x / y;
    double bigZ = (1 - x - y) / y;
    double[] rgb = {
      Math.max(0, 3.2404542 * bigX - 1.5371385 - 0.4985314 * bigZ),
      Math.max(0, -0.9692660 * bigX + 1.8760108 + 0.0415560 * bigZ),
      Math.max(0, 0.0556434 * bigX - 0.2040259 + 1.0572252 * bigZ)
    };
    double luminance = 0.2126 * rgb[0] + 0.7152 * rgb[1] + 0.0722 * rgb[2];
    for (int i = 0; i < 3; i++) {
      rgb[i] /= luminance;
    }
    return rgb;
  }
}
