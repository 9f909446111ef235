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
  static final double RATE = 24;
  static final int FRAMES = 96;
  private static final Vec3 UP = new Vec3(0, 1, 0);

  private final GlbBuilder glb = new GlbBuilder();
  private final Valley valley = new Valley();
  private final CableLine line = new CableLine(valley);

  private int rock, pine, bark, steel, cableSteel, red, dark, wood, plaster, roof, stone;
  private int warm, lampGlow, cabinGlow, signal;

  static byte[] build() {
    return new LarkspurPass().scene();
  }

  private byte[] scene() {
    materials();
    land();
    line.build(glb, cableSteel, steel, signal);
    station("lower-station", line.start(), 0);
    station("upper-station", line.end(), Math.PI);
    path();
    new Pines(glb, valley, line, pine, bark).build();
    CableCar cars =
        new CableCar(glb, line, new CableCar.Materials(red, dark, cabinGlow, steel, cableSteel));
    int car = cars.build("car-1", 0.083, -1, 1);
    cars.build("car-2", 0.30, 1, -1);
    cameras(car);
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

  /** A stone base, plastered house with lit windows, slate roof and a platform under the cable. */
  private void station(String name, Vec3 cableEnd, double turn) {
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
    Quat q = line.yaw().times(Quat.axisAngle(UP, turn));
    glb.place(name, -1, mesh, cableEnd.minus(UP.times(0.6)), q, 1);
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

  private void cameras(int car) {
    Vec3 eye = new Vec3(-9, valley.height(-9, 219) + 7.5, 219);
    Vec3 target = new Vec3(3, 58, 60);
    int wide = glb.camera("valley-wide", -1, eye, target, 36);
    slowMove(wide, eye, eye.plus(new Vec3(4, 2.5, -5)));
    glb.camera("car-ride", car, new Vec3(-0.6, -2.0, 4.6), new Vec3(0.7, -3.6, -14), 58);
    Vec3 end = line.start();
    Vec3 close = end.plus(new Vec3(15.5, 1.2, 9));
    glb.camera("station-close", -1, close, end.plus(new Vec3(-1, 0.4, -12)), 44);
    Vec3 top = line.end().plus(new Vec3(-26, 21, -40));
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
    glb.environment(
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
