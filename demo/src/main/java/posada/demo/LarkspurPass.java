package posada.demo;

import static posada.demo.GlbBuilder.map;

import java.util.List;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/**
 * The scene {@code larkspur-pass}: a small mountain cable car at dusk. Metres; the valley runs
 * towards -Z and rises; frames 1 .. 96 at 24 per second.
 */
final class LarkspurPass {
  private static final double RATE = 24;
  private static final int FRAMES = 96;
  private static final Vec3 UP = new Vec3(0, 1, 0);

  /** The line: lower station, three pylons, upper station; heights of the cable over the ground. */
  private static final double[][] STOPS = {
    {-34, 172, 9}, {-20, 120, 19}, {16, 10, 27}, {62, -140, 27}, {128, -330, 9}
  };

  private static final double GAUGE = 2.6;

  private final GlbBuilder glb = new GlbBuilder();
  private final Valley valley = new Valley();
  private final Vec3[] stops = new Vec3[STOPS.length];

  private int rock, pine, bark, steel, cableSteel, red, dark, wood, plaster, roof, stone;
  private int warm, lampGlow, cabinGlow, signal;

  static byte[] build() {
    return new LarkspurPass().scene();
  }

  private byte[] scene() {
    for (int i = 0; i < stops.length; i++) {
      double[] s = STOPS[i];
      stops[i] = new Vec3(s[0], valley.height(s[0], s[1]) + s[2], s[1]);
    }
    materials();
    land();
    line();
    int lower = station("lower-station", stops[0], 0);
    station("upper-station", stops[stops.length - 1], Math.PI);
    path();
    pines();
    int car = car("car-1", 0.083, 0.0, -GAUGE / 2);
    car("car-2", 0.30, Math.PI, GAUGE / 2);
    cameras(car, lower);
    light();
    return glb.write("dusk-run");
  }

  private void materials() {
    rock = glb.material("mountain", 1, 1, 1, 0, 0.95);
    pine = glb.material("needles", 0.028, 0.062, 0.04, 0, 0.85);
    bark = glb.material("bark", 0.06, 0.04, 0.03, 0, 0.9);
    steel = glb.material("painted-steel", 0.09, 0.11, 0.12, 0.2, 0.5);
    cableSteel = glb.material("cable", 0.35, 0.35, 0.37, 1, 0.35);
    red = glb.material("larkspur-red", 0.42, 0.035, 0.028, 0, 0.28);
    dark = glb.material("rubber", 0.03, 0.03, 0.033, 0, 0.6);
    wood = glb.material("larch", 0.2, 0.1, 0.05, 0, 0.7);
    plaster = glb.material("plaster", 0.55, 0.5, 0.43, 0, 0.9);
    roof = glb.material("slate", 0.07, 0.075, 0.09, 0, 0.55);
    stone = glb.material("granite", 0.24, 0.23, 0.22, 0, 0.9);
    warm = glb.lamp("window-light", 1, 0.58, 0.22, 1.35);
    lampGlow = glb.lamp("lamp-glass", 1, 0.66, 0.3, 9);
    cabinGlow = glb.lamp("cabin-light", 1, 0.6, 0.24, 1.2);
    signal = glb.lamp("signal-red", 1, 0.08, 0.04, 6);
  }

  private void land() {
    Shape near = new Shape().land(valley, -420, 420, 330, -720, 230, 280);
    glb.place("valley", -1, glb.mesh("valley", new Part(near, rock)), Vec3.ZERO, null, 1);
    Shape far = new Shape().land(new Range(valley), -3600, 3600, -560, -5200, 300, 190);
    glb.place("far-range", -1, glb.mesh("far-range", new Part(far, rock)), Vec3.ZERO, null, 1);
    Shape back = new Shape().land(new Lowland(valley), -2600, 2600, 3400, 322, 150, 120);
    glb.place("lowland", -1, glb.mesh("lowland", new Part(back, rock)), Vec3.ZERO, null, 1);
  }

  /** A point of the cable, 0 at the lower and 1 at the upper station, with its sag. */
  private Vec3 cable(double at, double side) {
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

  private Quat yaw() {
    Vec3 h = heading();
    return Quat.axisAngle(UP, StrictMath.atan2(-h.x(), -h.z()));
  }

  private void line() {
    for (int side = -1; side <= 1; side += 2) {
      Vec3[] path = new Vec3[241];
      Vec3[] haul = new Vec3[241];
      for (int i = 0; i < path.length; i++) {
        path[i] = cable(i / 240.0, side * GAUGE / 2);
        haul[i] = path[i].plus(new Vec3(0, -0.32, 0));
      }
      Shape s = new Shape().tube(path, 0.055, 8).tube(haul, 0.028, 6);
      String name = side < 0 ? "cable-up" : "cable-down";
      glb.place(name, -1, glb.mesh(name, new Part(s, cableSteel)), Vec3.ZERO, null, 1);
    }
    for (int i = 1; i < stops.length - 1; i++) {
      double ground = valley.height(STOPS[i][0], STOPS[i][1]);
      pylon("pylon-" + i, new Vec3(STOPS[i][0], ground, STOPS[i][1]), STOPS[i][2]);
    }
  }

  /** A tower of four leaning legs with braces, a cross-arm and a red signal light. */
  private void pylon(String name, Vec3 foot, double height) {
    Shape s = new Shape();
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
    Shape lamp = new Shape().ball(new Vec3(0, height + 0.45, 0), 0.16, 6);
    int mesh = glb.mesh(name, new Part(s, steel), new Part(lamp, signal));
    glb.place(name, -1, mesh, foot, yaw(), 1);
  }

  /** A stone base, plastered house with lit windows, slate roof and a platform under the cable. */
  private int station(String name, Vec3 cableEnd, double turn) {
    Shape base = new Shape().box(0, -7.2, 0, 12.5, 9, 12);
    Shape walls = new Shape();
    Shape glass = new Shape();
    Shape frames = new Shape();
    walls.box(0, -0.3, 3.8, 11, 4.8, 4.2);
    walls.box(-5.1, -0.3, -1.4, 0.8, 4.8, 6.4).box(5.1, -0.3, -1.4, 0.8, 4.8, 6.4);
    for (int side = -1; side <= 1; side += 2) {
      for (int i = 0; i < 4; i++) {
        double z = -3.6 + i * 2.6;
        glass.box(side * 5.53, -0.4, z, 0.06, 1.7, 1.3);
        frames.box(side * 5.56, -0.4, z, 0.1, 1.7, 0.09).box(side * 5.56, 0.5, z, 0.16, 0.12, 1.6);
        frames.box(side * 5.58, -1.34, z, 0.3, 0.12, 1.7);
      }
    }
    for (int i = -1; i <= 1; i++) {
      glass.box(i * 3.1, -0.4, 5.93, 1.6, 1.7, 0.06);
      frames.box(i * 3.1, -0.4, 5.96, 0.09, 1.7, 0.1).box(i * 3.1, -1.34, 5.98, 2.0, 0.12, 0.3);
    }
    glass.box(0, 1.55, 1.0, 6.0, 0.06, 1.4);
    Shape roofs = new Shape();
    Vec3[] r = new Vec3[6];
    for (int i = 0; i < 2; i++) {
      double z = i == 0 ? 7.1 : -5.6;
      r[i * 3] = new Vec3(-6.6, 1.9, z);
      r[i * 3 + 1] = new Vec3(0, 5.1, z);
      r[i * 3 + 2] = new Vec3(6.6, 1.9, z);
    }
    Vec3 thick = new Vec3(0, 0.35, 0);
    roofs
        .quad(r[0].plus(thick), r[1].plus(thick), r[4].plus(thick), r[3].plus(thick))
        .quad(r[1].plus(thick), r[2].plus(thick), r[5].plus(thick), r[4].plus(thick))
        .quad(r[1], r[0], r[3], r[4])
        .quad(r[2], r[1], r[4], r[5])
        .quad(r[0], r[1], r[1].plus(thick), r[0].plus(thick))
        .quad(r[1], r[2], r[2].plus(thick), r[1].plus(thick))
        .quad(r[4], r[3], r[3].plus(thick), r[4].plus(thick))
        .quad(r[5], r[4], r[4].plus(thick), r[5].plus(thick))
        .quad(r[3], r[0], r[0].plus(thick), r[3].plus(thick))
        .quad(r[2], r[5], r[5].plus(thick), r[2].plus(thick));
    Shape gables = new Shape().tri(r[0], r[2], r[1]);
    Shape rails = new Shape().box(0, -2.55, -8.4, 12.5, 0.35, 5.2);
    for (int i = 0; i <= 6; i++) {
      rails.box(-6 + i * 2, -1.9, -10.9, 0.1, 1.1, 0.1);
    }
    rails.box(0, -1.35, -10.9, 12.2, 0.1, 0.12);
    for (int side = -1; side <= 1; side += 2) {
      rails.box(side * 6.1, -1.35, -8.4, 0.12, 0.1, 5);
      rails.bar(new Vec3(side * 5.2, -11, -9.8), new Vec3(side * 5.2, -2.6, -9.8), 0.22, 0.2, 8);
    }
    int mesh =
        glb.mesh(
            name,
            new Part(base, stone),
            new Part(walls, plaster),
            new Part(glass, warm),
            new Part(frames, wood),
            new Part(roofs, roof),
            new Part(gables, wood),
            new Part(rails, wood));
    Quat q = yaw().times(Quat.axisAngle(UP, turn));
    return glb.place(name, -1, mesh, cableEnd.minus(UP.times(0.6)), q, 1);
  }

  /** A footpath of lamps that winds from the foreground up to the lower station. */
  private void path() {
    Shape post = new Shape().bar(Vec3.ZERO.minus(UP), new Vec3(0, 3.1, 0), 0.07, 0.05, 8);
    post.bar(new Vec3(0, 3.38, 0), new Vec3(0, 3.55, 0), 0.3, 0.04, 10);
    Shape globe = new Shape().ball(new Vec3(0, 3.22, 0), 0.17, 8);
    int mesh = glb.mesh("path-lamp", new Part(post, steel), new Part(globe, lampGlow));
    double[][] at = {
      {1, 199},
      {-6.5, 193},
      {-14, 189.5},
      {-21.5, 183},
      {-20, 173.5},
      {-23.5, 163},
      {-21, 152},
      {-28, 143},
    };
    for (int i = 0; i < at.length; i++) {
      Vec3 p = new Vec3(at[i][0], valley.height(at[i][0], at[i][1]), at[i][1]);
      int lamp = glb.place("path-lamp-" + (i + 1), -1, mesh, p, null, 1);
      glb.light(
          "path-light-" + (i + 1),
          lamp,
          new Vec3(0, 2.6, 0),
          null,
          new float[] {1f, 0.66f, 0.32f},
          5.5,
          0.12);
    }
    double[][] high = {{118, -318}, {137, -316}, {127, -304}};
    for (int i = 0; i < high.length; i++) {
      Vec3 p = new Vec3(high[i][0], valley.height(high[i][0], high[i][1]), high[i][1]);
      glb.place("summit-lamp-" + (i + 1), -1, mesh, p, null, 1);
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
    return glb.mesh("pine-" + kind, new Part(needles, pine), new Part(trunk, bark));
  }

  private void pines() {
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

  private double thickness(double x, double z) {
    return 0.1 + 0.9 * Math.max(0, Noise.rolling(x / 70, z / 70, 3, 5) * 1.6 + 0.15);
  }

  private boolean grows(double x, double y, double z) {
    if (y > 185 || valley.steepness(x, z) > 0.95) {
      return false;
    }
    boolean view = z > 150 && Math.abs(x + 6) < 17 + Math.abs(z - 219) * 0.12;
    boolean line = false;
    for (int i = 0; i + 1 < stops.length; i++) {
      Vec3 a = new Vec3(stops[i].x(), 0, stops[i].z());
      Vec3 d = new Vec3(stops[i + 1].x(), 0, stops[i + 1].z()).minus(a);
      Vec3 p = new Vec3(x, 0, z).minus(a);
      double f = Math.max(0, Math.min(1, p.dot(d) / d.dot(d)));
      line |= p.minus(d.times(f)).length() < (i == 0 ? 17 : 9);
    }
    return !view && !line;
  }

  /** A car that runs from {@code at} along the cable; frames 1 .. 96 cover about 26 metres. */
  private int car(String name, double at, double turn, double side) {
    Shape body = new Shape();
    Shape trim = new Shape();
    Shape glow = new Shape();
    double w = 1.15;
    double l = 1.9;
    body.box(0, -4.55, 0, 2 * w, 1.0, 2 * l);
    body.box(0, -2.62, 0, 2 * w + 0.16, 0.16, 2 * l + 0.16);
    body.box(0, -2.48, 0, 2 * w - 0.5, 0.14, 2 * l - 0.6);
    for (int sx = -1; sx <= 1; sx += 2) {
      for (int i = 0; i <= 3; i++) {
        body.box(sx * (w - 0.06), -3.4, -l + 0.09 + i * (2 * l - 0.18) / 3, 0.12, 1.5, 0.18);
      }
      for (int i = 0; i < 2; i++) {
        body.box(0, -3.4, sx * (l - 0.06), 0.14, 1.5, 0.12);
      }
      trim.box(sx * (w + 0.03), -4.02, 0, 0.08, 0.1, 2 * l + 0.1);
      trim.box(0, -4.02, sx * (l + 0.03), 2 * w + 0.1, 0.1, 0.08);
    }
    trim.box(0, -5.12, 0, 1.7, 0.16, 3.1);
    glow.box(0, -3.4, 0, 2 * w - 0.14, 1.42, 2 * l - 0.14);
    Shape hanger = new Shape();
    hanger.bar(new Vec3(0, -2.5, 0), new Vec3(0.42, -1.3, 0), 0.11, 0.1, 8);
    hanger.bar(new Vec3(0.42, -1.3, 0), new Vec3(0.12, -0.2, 0), 0.1, 0.09, 8);
    hanger.box(0.12, 0.06, 0, 0.16, 0.34, 2.3);
    int mesh =
        glb.mesh(
            name,
            new Part(body, red),
            new Part(trim, dark),
            new Part(glow, cabinGlow),
            new Part(hanger, steel));
    Vec3 start = cable(at, side);
    Quat facing = yaw();
    int car = glb.place(name, -1, mesh, start, facing, 1);
    motion(car, at, side, turn == 0 ? 1 : -1, facing);
    wheels(name, car, turn == 0 ? 1 : -1);
    return car;
  }

  private static float[] frameTimes(int step) {
    int n = (FRAMES - 1) / step + 1;
    float[] t = new float[n + ((FRAMES - 1) % step == 0 ? 0 : 1)];
    for (int i = 0; i < t.length; i++) {
      t[i] = (float) (Math.min(FRAMES, 1 + i * step) / RATE);
    }
    return t;
  }

  private void motion(int car, double at, double side, int sign, Quat facing) {
    float[] t = frameTimes(5);
    float[] where = new float[t.length * 3];
    float[] turn = new float[t.length * 4];
    for (int i = 0; i < t.length; i++) {
      Vec3 p = cable(at + sign * 0.0475 * (t[i] - 1 / RATE) / ((FRAMES - 1) / RATE), side);
      where[i * 3] = (float) p.x();
      where[i * 3 + 1] = (float) p.y();
      where[i * 3 + 2] = (float) p.z();
      Quat q =
          facing.times(
              Quat.axisAngle(new Vec3(0, 0, 1), 0.022 * StrictMath.sin(t[i] * 1.9 + side)));
      turn[i * 4] = (float) q.x();
      turn[i * 4 + 1] = (float) q.y();
      turn[i * 4 + 2] = (float) q.z();
      turn[i * 4 + 3] = (float) q.w();
    }
    glb.animate(car, "translation", "LINEAR", t, where);
    glb.animate(car, "rotation", "LINEAR", t, turn);
  }

  private void wheels(String name, int car, int sign) {
    Shape tyre = new Shape().bar(new Vec3(-0.07, 0, 0), new Vec3(0.07, 0, 0), 0.21, 0.21, 20);
    Shape spokes = new Shape();
    for (int i = 0; i < 3; i++) {
      double a = Math.PI * i / 3;
      Vec3 d = new Vec3(0, StrictMath.cos(a) * 0.17, StrictMath.sin(a) * 0.17);
      for (int s = -1; s <= 1; s += 2) {
        Vec3 o = new Vec3(s * 0.085, 0, 0);
        spokes.bar(o.minus(d), o.plus(d), 0.022, 0.022, 5);
      }
    }
    int mesh = glb.mesh(name + "-wheel", new Part(tyre, dark), new Part(spokes, cableSteel));
    float[] t = frameTimes(1);
    float[] turn = new float[t.length * 4];
    for (int i = 0; i < t.length; i++) {
      double a = -sign * 6.4 / 0.21 * (t[i] - 1 / RATE);
      turn[i * 4] = (float) StrictMath.sin(a / 2);
      turn[i * 4 + 3] = (float) StrictMath.cos(a / 2);
    }
    for (int i = 0; i < 4; i++) {
      double z = -0.9 + i * 0.6;
      int w = glb.place(name + "-wheel-" + (i + 1), car, mesh, new Vec3(0, 0.26, z), null, 1);
      glb.animate(w, "rotation", "LINEAR", t, turn);
    }
  }

  private void cameras(int car, int lower) {
    Vec3 eye = new Vec3(-9, valley.height(-9, 219) + 7.5, 219);
    Vec3 target = new Vec3(3, 58, 60);
    int wide = glb.camera("valley-wide", -1, eye, target, 36);
    slowMove(wide, eye, eye.plus(new Vec3(4, 2.5, -5)));
    glb.camera("car-ride", car, new Vec3(-0.6, -2.0, 4.6), new Vec3(0.7, -3.6, -14), 58);
    Vec3 end = stops[0];
    Vec3 close = end.plus(new Vec3(15.5, 1.2, 9));
    glb.camera("station-close", -1, close, end.plus(new Vec3(-1, 0.4, -12)), 44);
    Vec3 top = stops[stops.length - 1].plus(new Vec3(-26, 21, -40));
    int summit = glb.camera("summit", -1, top, new Vec3(72, 58, -60), 44);
    slowMove(summit, top, top.plus(new Vec3(3, 2, -3)));
  }

  /** Eases from one place to another over all frames: two cubic keys with flat ends. */
  private void slowMove(int camera, Vec3 from, Vec3 to) {
    float[] v = new float[18];
    for (int k = 0; k < 2; k++) {
      Vec3 p = k == 0 ? from : to;
      v[k * 9 + 3] = (float) p.x();
      v[k * 9 + 4] = (float) p.y();
      v[k * 9 + 5] = (float) p.z();
    }
    float[] t = {(float) (1 / RATE), (float) (FRAMES / RATE)};
    glb.animate(camera, "translation", "CUBICSPLINE", t, v);
  }

  private void light() {
    glb.light(
        "last-sun",
        -1,
        new Vec3(-300, 300, 0),
        new Vec3(0.86, -0.2, -0.42),
        new float[] {1f, 0.5f, 0.3f},
        2.6,
        0.02);
    glb.sky(
        map(
            "zenith",
            List.of(0.11, 0.21, 0.47),
            "horizon",
            List.of(0.74, 0.6, 0.68),
            "ground",
            List.of(0.03, 0.035, 0.05),
            "glow",
            map(
                "direction",
                List.of(-0.55, 0.02, -1.0),
                "color",
                List.of(2.1, 0.86, 0.32),
                "sharpness",
                26),
            "haze",
            0.0002));
  }
}
