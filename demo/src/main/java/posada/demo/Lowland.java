package posada.demo;

import posada.core.geometry.Vec3;

/** The wide country below the valley: hills that fall away and a far ridge that closes the view. */
final class Lowland implements Shape.Land {
  private final Valley valley;

  Lowland(Valley valley) {
    this.valley = valley;
  }

  @Override
  public double height(double x, double z) {
    double edge = Valley.smooth(0, 1, (z - 330) / 500);
    double near = valley.height(Math.max(-420, Math.min(420, x)), Math.min(330, z));
    double hills = -60 + 90 * Noise.rolling(x / 420, z / 420, 4, 611);
    double wall = Math.max(0, Math.abs(x - 60) - 500) * 0.22;
    double ridge = Valley.smooth(1500, 3100, z) * 520 * Noise.crests(x / 900, z / 900, 5, 641);
    return near * (1 - edge) + edge * (hills + wall + ridge);
  }

  @Override
  public float[] color(double x, double y, double z, Vec3 n) {
    double speckle = Noise.rolling(x / 40, z / 40, 3, 95);
    double wood = Valley.smooth(-0.2, 0.3, Noise.rolling(x / 160, z / 160, 4, 97));
    return Valley.mix(
        new double[] {0.14 + 0.03 * speckle, 0.145 + 0.03 * speckle, 0.08},
        new double[] {0.035, 0.055, 0.04},
        wood,
        Valley.smooth(300, 460, y + 60 * speckle));
  }
}
