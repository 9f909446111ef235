package posada.demo;

import posada.core.geometry.Vec3;

/** The high range behind the valley, snow on its shoulders. */
final class Range implements Shape.Land {
  private final Valley valley;

  Range(Valley valley) {
    this.valley = valley;
  }

  @Override
  public double height(double x, double z) {
    double back = Math.max(0, (-640 - z) / 1500);
    double lift = Math.min(1, back);
    double gap = 1 - 0.62 * StrictMath.exp(-((x - 120) * (x - 120)) / 420_000.0);
    double peaks = Noise.crests(x / 1150 + 0.37, z / 1150 + 0.2, 7, 201) * 1250;
    double hills = 120 * Noise.rolling(x / 400, z / 400, 4, 401);
    double edge = Valley.smooth(-1.0, 0.25, (-560 - z) / 400 - 0.6);
    double joined = valley.height(Math.max(-420, Math.min(420, x)), Math.max(-715, z)) - 14;
    return joined * (1 - edge) + edge * (120 + lift * (gap * peaks + hills));
  }

  @Override
  public float[] color(double x, double y, double z, Vec3 n) {
    double speckle = Noise.rolling(x / 60, z / 60, 4, 93);
    double grass = Valley.smooth(0.78, 0.92, n.y()) * (1 - Valley.smooth(150, 260, y));
    double snow =
        Valley.smooth(250, 420, y + 70 * speckle)
            * Valley.smooth(0.42, 0.72, n.y() + 0.12 * speckle);
    return Valley.mix(
        new double[] {0.16 + 0.04 * speckle, 0.15 + 0.035 * speckle, 0.15 + 0.03 * speckle},
        new double[] {0.05, 0.065, 0.045},
        grass,
        snow);
  }
}
