package posada.demo;

import java.util.ArrayList;
import java.util.List;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/** What turns: the big wheel with its rope, the gears and the piston that drives them. */
final class EngineDrive {
  private static final Quat AXLE = Quat.axisAngle(new Vec3(1, 0, 0), Math.PI / 2);

  private final WindingEngine of;

  EngineDrive(WindingEngine of) {
    this.of = of;
  }

  void build() {
    wheel();
    gears();
    piston();
  }

  private void wheel() {
    double[][] rim = {
      {1.0, -0.13}, {1.16, -0.13}, {1.16, -0.13}, {1.2, -0.1}, {1.1, -0.03}, {1.1, 0.03},
      {1.2, 0.1}, {1.16, 0.13}, {1.16, 0.13}, {1.0, 0.13}, {1.0, 0.13}, {1.0, -0.13}
    };
    Shape spokes = new Shape();
    for (int i = 0; i < 8; i++) {
      double a = 2 * Math.PI * i / 8;
      Vec3 out = new Vec3(Math.cos(a), 0, Math.sin(a));
      spokes.bar(out.times(0.16), out.times(1.02), 0.06, 0.042, 20);
    }
    double[][] hub = {
      {0, -0.2},
      {0.2, -0.2},
      {0.2, -0.2},
      {0.22, -0.17},
      {0.22, 0.17},
      {0.2, 0.2},
      {0.2, 0.2},
      {0, 0.2}
    };
    int pivot = of.glb.node("wheel-pivot", -1, new Vec3(-0.75, 1.75, 0), null, 1);
    of.put(
        "wheel",
        pivot,
        Vec3.ZERO,
        AXLE,
        new Part(new Shape().lathe(rim, 128), of.red),
        new Part(spokes, of.red),
        new Part(new Shape().lathe(hub, 48), of.brass));
    Shape bolts = new Shape();
    for (int i = 0; i < 8; i++) {
      double a = 2 * Math.PI * (i + 0.5) / 8;
      Vec3 at = new Vec3(0.14 * Math.cos(a), 0.14 * Math.sin(a), 0.2);
      bolts.bar(at, at.plus(new Vec3(0, 0, 0.03)), 0.022, 0.022, 6);
    }
    of.put("bolts", pivot, Vec3.ZERO, null, new Part(bolts, of.steel));
    spin(pivot, 1);
    Shape axle =
        new Shape().bar(new Vec3(-0.75, 1.75, -1.05), new Vec3(-0.75, 1.75, 1.2), 0.085, 0.085, 40);
    of.put("axle", -1, Vec3.ZERO, null, new Part(axle, of.steel));
    Shape rope = ring(new Shape(), 1.125, 0.028, 160, 10);
    Vec3 top = new Vec3(0, 1.125, 0);
    rope.tube(new Vec3[] {top, top.plus(new Vec3(-6, 1.2, 0))}, 0.028, 10);
    of.put("rope", -1, new Vec3(-0.75, 1.75, 0), null, new Part(rope, of.rubber));
  }

  /** Adds keys that turn a node about its z axis a whole number of times. */
  private void spin(int node, int turns) {
    int n = 4 * Math.abs(turns) + 1;
    float[] times = new float[n];
    float[] q = new float[4 * n];
    for (int i = 0; i < n; i++) {
      // From frame 1 to frame 48, which is where frame 1 follows on.
      double frame = Math.max(1, i / (double) (n - 1) * WindingEngine.FRAMES);
      times[i] = (float) (frame / 24);
      double a = 2 * Math.PI * turns * frame / WindingEngine.FRAMES;
      q[i * 4 + 2] = (float) StrictMath.sin(a / 2);
      q[i * 4 + 3] = (float) StrictMath.cos(a / 2);
    }
    of.glb.animate(node, "rotation", "LINEAR", times, q);
  }

  /** A spur gear about the z axis, its teeth half a step on where {@code phase} is 0.5. */
  private static Shape gear(int teeth, double radius, double width, double phase) {
    Shape s = new Shape();
    double depth = 1.6 * radius / teeth;
    List<Vec3> outline = new ArrayList<>();
    double[] steps = {0, 0.22, 0.5, 0.72};
    for (int i = 0; i < teeth; i++) {
      for (int k = 0; k < 4; k++) {
        double a = 2 * Math.PI * (i + steps[k] + phase) / teeth;
        double r = radius + (k == 1 || k == 2 ? depth : -depth);
        outline.add(new Vec3(r * Math.cos(a), r * Math.sin(a), 0));
      }
    }
    Vec3 half = new Vec3(0, 0, width / 2);
    double inner = radius * 0.72;
    for (int i = 0; i < outline.size(); i++) {
      Vec3 a = outline.get(i), b = outline.get((i + 1) % outline.size());
      s.quad(a.minus(half), b.minus(half), b.plus(half), a.plus(half));
      Vec3 p = a.normalized().times(inner), q = b.normalized().times(inner);
      s.quad(p.plus(half), a.plus(half), b.plus(half), q.plus(half));
      s.quad(a.minus(half), p.minus(half), q.minus(half), b.minus(half));
      s.quad(p.minus(half), p.plus(half), q.plus(half), q.minus(half));
    }
    for (int i = 0; i < 5; i++) {
      double a = 2 * Math.PI * i / 5;
      Vec3 out = new Vec3(Math.cos(a), Math.sin(a), 0);
      s.bar(out.times(radius * 0.1), out.times(inner * 1.02), radius * 0.075, radius * 0.06, 14);
    }
    s.bar(
        new Vec3(0, 0, -width * 0.8), new Vec3(0, 0, width * 0.8), radius * 0.2, radius * 0.2, 32);
    return s;
  }

  private void gears() {
    double z = 1.0;
    // Teeth 48, 24 and 16: one, two and three turns.
    Object[][] all = {
      {"gear-large", 48, 0.62, new Vec3(-0.75, 1.75, z), 1, of.brass, 0.0},
      {"gear-middle", 24, 0.31, new Vec3(0.17, 1.64, z), -2, of.steel, 0.5},
      {"gear-small", 16, 0.2067, new Vec3(0.62, 1.39, z), 3, of.brass, 0.0}
    };
    Shape pins = new Shape();
    for (Object[] g : all) {
      Vec3 at = (Vec3) g[3];
      int pivot = of.glb.node(g[0] + "-pivot", -1, at, null, 1);
      Shape s = gear((Integer) g[1], (Double) g[2], 0.13, (Double) g[6]);
      of.put((String) g[0], pivot, Vec3.ZERO, null, new Part(s, (Integer) g[5]));
      spin(pivot, (Integer) g[4]);
      pins.bar(at.plus(new Vec3(0, 0, -0.45)), at.plus(new Vec3(0, 0, 0.13)), 0.035, 0.035, 20);
    }
    Shape plate = new Shape().box(0.4, 1.1, z - 0.3, 0.85, 1.3, 0.06);
    of.put(
        "gear-plate", -1, Vec3.ZERO, null, new Part(plate, of.brushed), new Part(pins, of.steel));
  }

  private void piston() {
    Vec3 crank = new Vec3(0.62, 1.39, 1.13);
    double throwOf = 0.1;
    double rod = 0.95;
    Vec3 slide = new Vec3(crank.x() + rod, crank.y() - 0.35, 1.2);
    Shape cylinder =
        new Shape()
            .bar(slide.plus(new Vec3(0.28, 0, 0)), slide.plus(new Vec3(1.0, 0, 0)), 0.17, 0.17, 48);
    Shape bands = new Shape();
    for (double x : new double[] {0.29, 0.62, 0.97}) {
      bands.bar(
          slide.plus(new Vec3(x, 0, 0)), slide.plus(new Vec3(x + 0.05, 0, 0)), 0.195, 0.195, 48);
    }
    Shape feet =
        new Shape()
            .box(slide.x() + 0.64, slide.y() / 2, slide.z(), 0.6, slide.y(), 0.16)
            .box(slide.x() - 0.05, slide.y() - 0.13, slide.z(), 0.7, 0.05, 0.2);
    of.put(
        "cylinder",
        -1,
        Vec3.ZERO,
        null,
        new Part(cylinder, of.brushed),
        new Part(bands, of.brass),
        new Part(feet, of.red));
    Shape head =
        new Shape()
            .box(0, 0, 0, 0.16, 0.2, 0.16)
            .bar(new Vec3(0.08, 0, 0), new Vec3(0.62, 0, 0), 0.035, 0.035, 24);
    int cross = of.put("crosshead", -1, slide, null, new Part(head, of.steel));
    Shape arm = new Shape().bar(Vec3.ZERO, new Vec3(rod, 0, 0), 0.035, 0.028, 20);
    arm.bar(new Vec3(0, 0, -0.04), new Vec3(0, 0, 0.04), 0.07, 0.07, 28);
    arm.bar(new Vec3(rod, 0, -0.04), new Vec3(rod, 0, 0.04), 0.055, 0.055, 28);
    int link = of.put("rod", -1, Vec3.ZERO, null, new Part(arm, of.steel));
    int n = WindingEngine.FRAMES;
    float[] times = new float[n];
    float[] heads = new float[3 * n];
    float[] pins = new float[3 * n];
    float[] turns = new float[4 * n];
    for (int i = 0; i < n; i++) {
      times[i] = (i + 1) / 24f;
      double a = 2 * Math.PI * 3 * (i + 1) / WindingEngine.FRAMES;
      double px = crank.x() + throwOf * StrictMath.cos(a);
      double py = crank.y() + throwOf * StrictMath.sin(a);
      double dy = slide.y() - py;
      double x = px + Math.sqrt(rod * rod - dy * dy);
      double angle = StrictMath.atan2(dy, x - px);
      put(heads, i, x, slide.y(), slide.z());
      put(pins, i, px, py, slide.z());
      turns[i * 4 + 2] = (float) StrictMath.sin(angle / 2);
      turns[i * 4 + 3] = (float) StrictMath.cos(angle / 2);
    }
    of.glb.animate(cross, "translation", "LINEAR", times, heads);
    of.glb.animate(link, "translation", "LINEAR", times, pins);
    of.glb.animate(link, "rotation", "LINEAR", times, turns);
  }

  private static void put(float[] a, int i, double x, double y, double z) {
    a[i * 3] = (float) x;
    a[i * 3 + 1] = (float) y;
    a[i * 3 + 2] = (float) z;
  }

  /** A ring of round section around the z axis. */
  private static Shape ring(Shape s, double radius, double thickness, int steps, int sides) {
    Vec3[] path = new Vec3[steps + 1];
    for (int i = 0; i <= steps; i++) {
      double a = 2 * Math.PI * i / steps;
      path[i] = new Vec3(radius * Math.cos(a), radius * Math.sin(a), 0);
    }
    return s.tube(path, thickness, sides);
  }
}
