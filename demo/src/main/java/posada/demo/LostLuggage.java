package posada.demo;

import static posada.demo.GlbBuilder.map;
import static posada.demo.GlbBuilder.plain;

import java.util.Map;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/**
 * The scene {@code lost-luggage}: a trolley of cases that rolls past the pile that nobody fetched.
 * It has faults on purpose: the picture of the labels is not there, the animation runs from frame
 * 101 to 160 as it was cut out of a longer one, and there is no light.
 */
final class LostLuggage {
  static final int FIRST = 101;
  static final int LAST = 160;
  private static final double RATE = 24;
  private static final double WHEEL = 0.14;

  /** How far the trolley rolls: two turns of a wheel. */
  private static final double WAY = 4 * Math.PI * WHEEL;

  private static final float[] TIMES = {(float) (FIRST / RATE), (float) (LAST / RATE)};

  private final GlbBuilder glb = new GlbBuilder();
  private int leather, canvas, tin, rubber, floor, wall, board, label;

  static byte[] build() {
    return new LostLuggage().scene();
  }

  private byte[] scene() {
    materials();
    glb.place(
        "hall",
        -1,
        glb.mesh(
            "hall",
            new Part(new Shape().box(0, -0.05, 0, 12, 0.1, 9), floor),
            new Part(new Shape().box(0, 1.7, -2.6, 12, 3.5, 0.2), wall),
            new Part(shelves(), board)),
        Vec3.ZERO,
        null,
        1);
    pile();
    trolley();
    glb.camera("counter", -1, new Vec3(0.5, 1.7, 4.9), new Vec3(0, 0.75, -0.6), 38);
    glb.camera("label", -1, new Vec3(-1.9, 1.15, 1.2), new Vec3(-1.55, 0.62, -1.6), 34);
    return glb.write("trolley-run");
  }

  private void materials() {
    leather = glb.material("leather", 0.2, 0.075, 0.03, 0, 0.42);
    canvas = glb.material("canvas", 0.09, 0.14, 0.1, 0, 0.9);
    tin = glb.material("tin", 0.62, 0.6, 0.56, 1, 0.32);
    rubber = glb.material("rubber", 0.03, 0.03, 0.033, 0, 0.6);
    wall = glb.material("plaster", 0.5, 0.45, 0.36, 0, 0.9);
    board = glb.material("larch", 0.24, 0.13, 0.06, 0, 0.65);
    floor =
        textured("floor-tiles", glb.texture("tiles", Pictures.paint(512, 512, Pictures::tiles)));
    label = textured("label", glb.missingTexture("label-larkspur.png"));
  }

  private int textured(String name, int texture) {
    Map<String, Object> p = plain(1, 1, 1, 0, 0.55);
    p.put("baseColorTexture", map("index", texture));
    return glb.material(name, map("pbrMetallicRoughness", p));
  }

  private static Shape shelves() {
    Shape s = new Shape();
    for (int i = 0; i < 2; i++) {
      s.box(0, 1.5 + i * 0.85, -2.25, 7, 0.06, 0.5);
    }
    for (int i = -3; i <= 3; i += 2) {
      s.box(i * 1.12, 1.2, -2.25, 0.08, 2.4, 0.46);
    }
    return s;
  }

  /** A case that stands on its place: body, two bands, a handle and a label on its front. */
  private void suitcase(int parent, Vec3 at, double turn, Vec3 size, int body) {
    double w = size.x(), h = size.y(), d = size.z();
    Shape bands = new Shape();
    Shape handle = new Shape();
    for (int side = -1; side <= 1; side += 2) {
      bands.box(side * w * 0.32, h / 2, 0, 0.05, h + 0.02, d + 0.02);
      handle.bar(new Vec3(side * 0.09, h, 0), new Vec3(side * 0.07, h + 0.07, 0), 0.014, 0.014, 10);
    }
    handle.bar(new Vec3(-0.08, h + 0.07, 0), new Vec3(0.08, h + 0.07, 0), 0.018, 0.018, 10);
    Shape card = new Shape().box(0, h * 0.55, d / 2 + 0.004, 0.2, 0.13, 0.006).mapped(0.2);
    int metal = body == leather ? tin : leather;
    String name = "case-" + ++cases;
    int mesh =
        glb.mesh(
            name,
            new Part(new Shape().box(0, h / 2, 0, w, h, d), body),
            new Part(bands, metal),
            new Part(handle, rubber),
            new Part(card, label));
    glb.place(name, parent, mesh, at, Quat.axisAngle(new Vec3(0, 1, 0), turn), 1);
  }

  private int cases;

  private void pile() {
    suitcase(-1, new Vec3(-1.75, 0, -1.5), 0.12, new Vec3(0.95, 0.55, 0.6), leather);
    suitcase(-1, new Vec3(-1.65, 0.57, -1.52), -0.1, new Vec3(0.75, 0.4, 0.5), canvas);
    suitcase(-1, new Vec3(-0.75, 0, -1.65), -0.2, new Vec3(0.6, 0.75, 0.35), tin);
    suitcase(-1, new Vec3(1.9, 0, -1.6), 0.3, new Vec3(0.8, 0.5, 0.45), canvas);
    suitcase(-1, new Vec3(1.2, 0, -1.75), -0.35, new Vec3(0.5, 0.8, 0.3), leather);
    suitcase(-1, new Vec3(-1.1, 1.53, -2.2), 0, new Vec3(0.7, 0.45, 0.36), tin);
    suitcase(-1, new Vec3(0.1, 1.53, -2.2), 0, new Vec3(0.8, 0.36, 0.38), leather);
    suitcase(-1, new Vec3(1.35, 1.53, -2.2), 0, new Vec3(0.6, 0.5, 0.36), canvas);
  }

  private void trolley() {
    Shape bed = new Shape().box(0, 0.3, 0, 1.5, 0.06, 0.8);
    Shape rail = new Shape();
    for (int side = -1; side <= 1; side += 2) {
      rail.bar(
          new Vec3(-0.72, 0.3, side * 0.36), new Vec3(-0.86, 1.05, side * 0.36), 0.02, 0.02, 12);
    }
    rail.bar(new Vec3(-0.86, 1.05, -0.36), new Vec3(-0.86, 1.05, 0.36), 0.025, 0.025, 12);
    Vec3 from = new Vec3(-WAY / 2, 0, 0.1);
    int t =
        glb.place(
            "trolley",
            -1,
            glb.mesh("trolley", new Part(bed, board), new Part(rail, tin)),
            from,
            null,
            1);
    suitcase(t, new Vec3(0.2, 0.33, 0), 0.05, new Vec3(0.9, 0.42, 0.55), leather);
    suitcase(t, new Vec3(0.12, 0.77, 0.02), -0.15, new Vec3(0.6, 0.3, 0.42), tin);
    Shape tyre = new Shape().bar(new Vec3(0, 0, -0.03), new Vec3(0, 0, 0.03), WHEEL, WHEEL, 40);
    Shape spoke =
        new Shape().box(0, 0, 0, WHEEL * 1.5, 0.03, 0.08).box(0, 0, 0, 0.03, WHEEL * 1.5, 0.08);
    int wheel = glb.mesh("wheel", new Part(tyre, rubber), new Part(spoke, tin));
    for (int i = 0; i < 4; i++) {
      Vec3 at = new Vec3(i % 2 == 0 ? -0.55 : 0.55, WHEEL, i < 2 ? -0.34 : 0.34);
      int n = glb.place("wheel-" + (i + 1), t, wheel, at, null, 1);
      roll(n);
    }
    Vec3 to = from.plus(new Vec3(WAY, 0, 0));
    glb.animate(t, "translation", "LINEAR", TIMES, floats(from, to));
  }

  /** Two turns in steps of less than half a turn, so that no key is ambiguous. */
  private void roll(int wheel) {
    int keys = 13;
    float[] times = new float[keys];
    float[] turns = new float[keys * 4];
    for (int k = 0; k < keys; k++) {
      double part = k / (keys - 1.0);
      times[k] = (float) ((FIRST + part * (LAST - FIRST)) / RATE);
      Quat q = Quat.axisAngle(new Vec3(0, 0, 1), -part * WAY / WHEEL);
      turns[k * 4] = (float) q.x();
      turns[k * 4 + 1] = (float) q.y();
      turns[k * 4 + 2] = (float) q.z();
      turns[k * 4 + 3] = (float) q.w();
    }
    glb.animate(wheel, "rotation", "LINEAR", times, turns);
  }

  private static float[] floats(Vec3 a, Vec3 b) {
    return new float[] {
      (float) a.x(), (float) a.y(), (float) a.z(), (float) b.x(), (float) b.y(), (float) b.z()
    };
  }
}
