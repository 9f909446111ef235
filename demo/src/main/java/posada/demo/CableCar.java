package posada.demo;

import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/** The two cars: a cabin that glows under a hanger with wheels. */
final class CableCar {
  private final GlbBuilder glb;
  private final CableLine line;
  private final Materials of;

  /** Numbers of the materials of its parts. */
  record Materials(int cabin, int rubber, int glow, int hanger, int spokes) {}

  CableCar(GlbBuilder glb, CableLine line, Materials of) {
    this.glb = glb;
    this.line = line;
    this.of = of;
  }

  /**
   * A car that runs along the cable; all frames together cover about 26 metres.
   *
   * @param at where it is in the first frame
   * @param side -1 for the left cable, 1 for the right
   * @param sign 1 for uphill, -1 for downhill
   * @return its node
   */
  int build(String name, double at, int side, int sign) {
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
            new Part(body, of.cabin),
            new Part(trim, of.rubber),
            new Part(glow, of.glow),
            new Part(hanger, of.hanger));
    double off = side * CableLine.GAUGE / 2;
    Quat facing = line.yaw();
    int car = glb.place(name, -1, mesh, line.cable(at, off), facing, 1);
    motion(car, at, off, sign, facing);
    wheels(name, car, sign);
    return car;
  }

  private static float[] frameTimes(int step) {
    int n = (LarkspurPass.FRAMES - 1) / step + 1;
    float[] t = new float[n + ((LarkspurPass.FRAMES - 1) % step == 0 ? 0 : 1)];
    for (int i = 0; i < t.length; i++) {
      t[i] = (float) (Math.min(LarkspurPass.FRAMES, 1 + i * step) / LarkspurPass.RATE);
    }
    return t;
  }

  private void motion(int car, double at, double side, int sign, Quat facing) {
    float[] t = frameTimes(5);
    float[] where = new float[t.length * 3];
    float[] turn = new float[t.length * 4];
    for (int i = 0; i < t.length; i++) {
      Vec3 p =
          line.cable(
              at
                  + sign
                      * 0.0475
                      * (t[i] - 1 / LarkspurPass.RATE)
                      / ((LarkspurPass.FRAMES - 1) / LarkspurPass.RATE),
              side);
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
    int mesh = glb.mesh(name + "-wheel", new Part(tyre, of.rubber), new Part(spokes, of.spokes));
    float[] t = frameTimes(1);
    float[] turn = new float[t.length * 4];
    for (int i = 0; i < t.length; i++) {
      double a = -sign * 6.4 / 0.21 * (t[i] - 1 / LarkspurPass.RATE);
      turn[i * 4] = (float) StrictMath.sin(a / 2);
      turn[i * 4 + 3] = (float) StrictMath.cos(a / 2);
    }
    for (int i = 0; i < 4; i++) {
      double z = -0.9 + i * 0.6;
      int w = glb.place(name + "-wheel-" + (i + 1), car, mesh, new Vec3(0, 0.26, z), null, 1);
      glb.animate(w, "rotation", "LINEAR", t, turn);
    }
  }
}
