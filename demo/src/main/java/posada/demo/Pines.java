package posada.demo;

import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/** A wood of pines that leaves room for the line and for the first camera's view. */
final class Pines {
  private static final Vec3 UP = new Vec3(0, 1, 0);

  private final GlbBuilder glb;
  private final Valley valley;
  private final CableLine line;
  private final int needle, bark;

  Pines(GlbBuilder glb, Valley valley, CableLine line, int needle, int bark) {
    this.glb = glb;
    this.valley = valley;
    this.line = line;
    this.needle = needle;
    this.bark = bark;
  }

  void build() {
    int[] kinds = {pineMesh(0), pineMesh(1), pineMesh(2)};
    int n = 0;
    for (int i = 0; i < 22000 && n < 2300; i++) {
      double x = -400 + 800 * Noise.hash(i, 1, 77);
      double z = 300 - 760 * Noise.hash(i, 2, 77);
      double y = valley.height(x, z);
      if (!grows(x, y, z) || Noise.hash(i, 3, 77) > thickness(x, z)) {
        continue;
      }
      double size = (6 + 9 * Noise.hash(i, 4, 77)) * (y > 120 ? 0.7 : 1);
      Quat turn = Quat.axisAngle(UP, 2 * Math.PI * Noise.hash(i, 5, 77));
      n++;
      glb.place(
          "pine-" + n, -1, kinds[(int) (3 * Noise.hash(i, 6, 77))], new Vec3(x, y, z), turn, size);
    }
    double[][] front = {
      {15, 197, 13},
      {19.5, 190, 16},
      {11.5, 188.5, 7},
      {24, 195, 12},
      {23, 181, 14},
      {16.5, 178, 9},
      {-46, 184, 14},
      {-52, 176, 16},
      {29, 172, 13},
      {-42, 193, 9},
    };
    for (double[] f : front) {
      n++;
      Quat turn = Quat.axisAngle(UP, f[0]);
      glb.place(
          "pine-" + n,
          -1,
          kinds[n % 3],
          new Vec3(f[0], valley.height(f[0], f[1]), f[1]),
          turn,
          f[2]);
    }
  }

  private int pineMesh(int kind) {
    Shape needles = new Shape();
    int tiers = 7 + kind * 2;
    int spikes = 9 + kind;
    for (int t = 0; t < tiers; t++) {
      double f = t / (double) tiers;
      double y = 0.14 + 0.8 * f;
      double r = 0.2 * (1 - f) * (0.85 + 0.3 * Noise.hash(t, kind, 3)) + 0.012;
      Vec3 tip = new Vec3(0, Math.min(1, y + 0.2 * (1 - 0.5 * f)), 0);
      double turn = 2 * Math.PI * Noise.hash(t, kind, 9);
      for (int i = 0; i < spikes; i++) {
        double a = turn + 2 * Math.PI * i / spikes;
        double b = turn + 2 * Math.PI * (i + 1) / spikes;
        double m = (a + b) / 2;
        double ra = r * (0.8 + 0.4 * Noise.hash(i, t, kind));
        Vec3 p = new Vec3(ra * StrictMath.cos(m), y - 0.045 * (1 - f), ra * StrictMath.sin(m));
        Vec3 u = new Vec3(0.55 * r * StrictMath.cos(a), y + 0.03, 0.55 * r * StrictMath.sin(a));
        Vec3 v = new Vec3(0.55 * r * StrictMath.cos(b), y + 0.03, 0.55 * r * StrictMath.sin(b));
        needles.tri(tip, p, u).tri(tip, v, p).tri(u, p, v);
      }
    }
    Shape trunk = new Shape().bar(new Vec3(0, -0.12, 0), new Vec3(0, 0.5, 0), 0.022, 0.012, 6);
    return glb.mesh("pine-" + kind, new Part(needles, needle), new Part(trunk, bark));
  }

  private double thickness(double x, double z) {
    return 0.1 + 0.9 * Math.max(0, Noise.rolling(x / 70, z / 70, 3, 5) * 1.6 + 0.15);
  }

  private boolean grows(double x, double y, double z) {
    if (y > 185 || valley.steepness(x, z) > 0.95) {
      return false;
    }
    boolean view = z > 150 && Math.abs(x + 6) < 17 + Math.abs(z - 219) * 0.12;
    return !view && !line.clears(x, z);
  }
}
