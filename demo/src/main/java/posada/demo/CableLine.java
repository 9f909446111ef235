package posada.demo;

import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/** The way of the cable over the valley, with its pylons. */
final class CableLine {
  private static final Vec3 UP = new Vec3(0, 1, 0);

  /** The line: lower station, three pylons, upper station; heights of the cable over the ground. */
  private static final double[][] STOPS = {
    {-34, 172, 9}, {-20, 120, 19}, {16, 10, 27}, {62, -140, 27}, {128, -330, 9}
  };

  /** Metres between the two cables. */
  static final double GAUGE = 2.6;

  private final Valley valley;
  private final Vec3[] stops = new Vec3[STOPS.length];

  CableLine(Valley valley) {
    this.valley = valley;
    for (int i = 0; i < stops.length; i++) {
      double[] s = STOPS[i];
      stops[i] = new Vec3(s[0], valley.height(s[0], s[1]) + s[2], s[1]);
    }
  }

  /** Where the cable ends at the lower station. */
  Vec3 start() {
    return stops[0];
  }

  /** Where the cable ends at the upper station. */
  Vec3 end() {
    return stops[stops.length - 1];
  }

  /** Returns true if a place of the ground is kept free of trees. */
  boolean clears(double x, double z) {
    boolean near = false;
    for (int i = 0; i + 1 < stops.length; i++) {
      Vec3 a = new Vec3(stops[i].x(), 0, stops[i].z());
      Vec3 d = new Vec3(stops[i + 1].x(), 0, stops[i + 1].z()).minus(a);
      Vec3 p = new Vec3(x, 0, z).minus(a);
      double f = Math.max(0, Math.min(1, p.dot(d) / d.dot(d)));
      near |= p.minus(d.times(f)).length() < (i == 0 ? 17 : 9);
    }
    return near;
  }

  /**
   * A point of the cable with its sag.
   *
   * @param at 0 at the lower, 1 at the upper station
   * @param side metres to the right of the line's middle
   */
  Vec3 cable(double at, double side) {
    double[] length = new double[stops.length];
    for (int i = 1; i < stops.length; i++) {
      length[i] = length[i - 1] + stops[i].minus(stops[i - 1]).length();
    }
    double want = at * length[stops.length - 1];
    int k = 1;
    while (k < stops.length - 1 && length[k] < want) {
      k++;
    }
    double span = length[k] - length[k - 1];
    double f = Math.max(0, Math.min(1, (want - length[k - 1]) / span));
    double sag = 4 * f * (1 - f) * span * 0.028;
    Vec3 along = heading();
    Vec3 right = along.cross(UP).normalized();
    return stops[k - 1].lerp(stops[k], f).minus(UP.times(sag)).plus(right.times(side));
  }

  private Vec3 heading() {
    Vec3 d = stops[stops.length - 1].minus(stops[0]);
    return new Vec3(d.x(), 0, d.z()).normalized();
  }

  /** Turns what looks along -Z up the line. */
  Quat yaw() {
    Vec3 h = heading();
    return Quat.axisAngle(UP, StrictMath.atan2(-h.x(), -h.z()));
  }

  /**
   * Builds cables and pylons.
   *
   * @param wire material of the cables
   */
  void build(GlbBuilder glb, int wire, int steel, int signal) {
    for (int side = -1; side <= 1; side += 2) {
      Vec3[] path = new Vec3[241];
      Vec3[] haul = new Vec3[241];
      for (int i = 0; i < path.length; i++) {
        path[i] = cable(i / 240.0, side * GAUGE / 2);
        haul[i] = path[i].plus(new Vec3(0, -0.32, 0));
      }
      Shape s = new Shape().tube(path, 0.055, 8).tube(haul, 0.028, 6);
      String name = side < 0 ? "cable-up" : "cable-down";
      glb.place(name, -1, glb.mesh(name, new Part(s, wire)), Vec3.ZERO, null, 1);
    }
    for (int i = 1; i < stops.length - 1; i++) {
      double ground = valley.height(STOPS[i][0], STOPS[i][1]);
      Shape tower = new Shape();
      Vec3 foot = new Vec3(STOPS[i][0], ground, STOPS[i][1]);
      double height = STOPS[i][2];
      pylon(tower, height);
      Shape lamp = new Shape().ball(new Vec3(0, height + 0.45, 0), 0.16, 6);
      String name = "pylon-" + i;
      int mesh = glb.mesh(name, new Part(tower, steel), new Part(lamp, signal));
      glb.place(name, -1, mesh, foot, yaw(), 1);
    }
  }

  /** A tower of four leaning legs with braces and a cross-arm. */
  private static void pylon(Shape s, double height) {
    double base = height * 0.1;
    double top = 0.55;
    int floors = (int) Math.round(height / 4.5);
    for (int f = 0; f < floors; f++) {
      double y0 = height * f / floors - (f == 0 ? 2.5 : 0);
      double y1 = height * (f + 1) / floors;
      double w0 = base + (top - base) * Math.max(0, y0) / height;
      double w1 = base + (top - base) * y1 / height;
      for (int c = 0; c < 4; c++) {
        double sx = c == 0 || c == 3 ? -1 : 1;
        double sz = c < 2 ? -1 : 1;
        double tx = c == 0 || c == 1 ? 1 : -1;
        double tz = c == 1 || c == 2 ? 1 : -1;
        if (c == 0 || c == 2) {
          tz = sz;
        } else {
          tx = sx;
        }
        Vec3 a = new Vec3(sx * w0, y0, sz * w0);
        Vec3 b = new Vec3(sx * w1, y1, sz * w1);
        Vec3 d = new Vec3(tx * w1, y1, tz * w1);
        s.bar(a, b, 0.13, 0.12, 6).bar(a, d, 0.06, 0.06, 5).bar(b, d, 0.06, 0.06, 5);
      }
    }
    s.box(0, height + 0.05, 0, GAUGE + 1.6, 0.35, 0.5);
    for (int side = -1; side <= 1; side += 2) {
      s.box(side * GAUGE / 2, height - 0.3, 0, 0.22, 0.3, 2.4);
    }
  }
}
