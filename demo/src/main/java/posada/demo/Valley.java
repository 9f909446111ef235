package posada.demo;

import posada.core.geometry.Vec3;

/** The ground around the line: a rising valley between wooded flanks and rock. */
final class Valley implements Shape.Land {
  @Override
  public double height(double x, double z) {
    double far = Math.max(0, (200 - z) / 900);
    double bend = 26 * StrictMath.sin(z / 150.0);
    double off = x - bend - 55 * far;
    double flank = Math.sqrt(off * off + 900) - 30;
    double rise = 22 + 96 * far + 40 * far * far;
    double wall = flank * (0.2 + 0.24 * far) + 0.0011 * off * off * (0.4 + 0.6 * far);
    double rough = Noise.rolling(x / 62, z / 62, 5, 11) * (3.5 + 0.055 * flank);
    double crest = Noise.crests(x / 210, z / 210, 5, 31) * Math.min(95, flank * 0.5) * (0.3 + far);
    double foreground = z > 205 ? 4.5 * Noise.rolling(x / 23, z / 23, 3, 51) : 0;
    return rise + wall + rough + crest + foreground;
  }

  double steepness(double x, double z) {
    double gx = (height(x + 1, z) - height(x - 1, z)) / 2;
    double gz = (height(x, z + 1) - height(x, z - 1)) / 2;
    return Math.sqrt(gx * gx + gz * gz);
  }

  @Override
  public float[] color(double x, double y, double z, Vec3 n) {
    double speckle = Noise.rolling(x / 7, z / 7, 3, 91);
    double grass = smooth(0.72, 0.9, n.y() + 0.05 * speckle) * (1 - smooth(120, 190, y));
    double snow = smooth(150, 215, y + 18 * speckle) * smooth(0.6, 0.85, n.y());
    return mix(
        new double[] {0.17 + 0.03 * speckle, 0.155 + 0.03 * speckle, 0.145 + 0.03 * speckle},
        new double[] {0.15 + 0.05 * speckle, 0.16 + 0.04 * speckle, 0.075},
        grass,
        snow);
  }

  static double smooth(double a, double b, double v) {
    double t = Math.max(0, Math.min(1, (v - a) / (b - a)));
    return t * t * (3 - 2 * t);
  }

  static float[] mix(double[] rock, double[] grass, double g, double snow) {
    float[] c = new float[3];
    double[] white = {0.78, 0.8, 0.84};
    for (int k = 0; k < 3; k++) {
      double v = rock[k] + (grass[k] - rock[k]) * g;
      c[k] = (float) Math.max(0.01, v + (white[k] - v) * snow);
    }
    return c;
  }
}
