package posada.demo;

import static posada.demo.GlbBuilder.map;
import static posada.demo.GlbBuilder.plain;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/**
 * The scene {@code winding-engine}: the cable car's drive, brass, steel and glass, turning in a
 * loop of 48 frames. The big wheel turns once; every other wheel makes whole turns too.
 */
final class WindingEngine {
  private static final int FRAMES = 48;
  private static final Vec3 UP = new Vec3(0, 1, 0);
  private final GlbBuilder glb = new GlbBuilder();
  private int brass, steel, brushed, iron, red, glass, pane, oil, tile, copper, enamel, ink, rubber;
  private int lampCold, lampWarm, wall, felt;

  static byte[] build() {
    return new WindingEngine().scene();
  }

  private byte[] scene() {
    materials();
    floor();
    wheel();
    gears();
    piston();
    gauges();
    oilers();
    pipes();
    lights();
    cameras();
    return glb.write("turn");
  }

  private int plainMaterial(String name, Map<String, Object> p, Map<String, Object> extensions) {
    Map<String, Object> m = map("pbrMetallicRoughness", p);
    if (extensions != null) {
      m.put("extensions", extensions);
    }
    return glb.material(name, m);
  }

  private static Map<String, Object> clear(double thickness, double distance, List<Double> color) {
    return map(
        "KHR_materials_transmission",
        map("transmissionFactor", 1.0),
        "KHR_materials_ior",
        map("ior", 1.5),
        "KHR_materials_volume",
        map(
            "thicknessFactor",
            thickness,
            "attenuationDistance",
            distance,
            "attenuationColor",
            color));
  }

  private void materials() {
    int scratches = glb.texture("scratches", Pictures.paint(512, 512, Pictures::scratches));
    Map<String, Object> b = plain(0.88, 0.63, 0.26, 1, 0.3);
    b.put("metallicRoughnessTexture", map("index", scratches));
    brass = plainMaterial("brass", b, null);
    steel = plainMaterial("steel", plain(0.56, 0.57, 0.58, 1, 0.22), null);
    brushed =
        plainMaterial(
            "brushed-steel",
            plain(0.6, 0.6, 0.61, 1, 0.34),
            map("KHR_materials_anisotropy", map("anisotropyStrength", 0.75)));
    iron = plainMaterial("cast-iron", plain(0.035, 0.045, 0.04, 0.1, 0.5), null);
    red =
        plainMaterial(
            "red-enamel",
            plain(0.42, 0.025, 0.02, 0, 0.45),
            map(
                "KHR_materials_clearcoat",
                map("clearcoatFactor", 1.0, "clearcoatRoughnessFactor", 0.06)));
    glass = plainMaterial("glass", plain(1, 1, 1, 0, 0), clear(0.05, 2, List.of(0.85, 0.95, 0.9)));
    pane =
        plainMaterial(
            "gauge-glass",
            plain(1, 1, 1, 0, 0),
            map("KHR_materials_transmission", map("transmissionFactor", 1.0)));
    oil = plainMaterial("oil", plain(1, 1, 1, 0, 0), clear(0.1, 0.06, List.of(0.9, 0.45, 0.05)));
    Map<String, Object> t = plain(0.42, 0.42, 0.4, 0, 0.28);
    t.put(
        "baseColorTexture",
        map("index", glb.texture("tiles", Pictures.paint(512, 512, Pictures::tiles))));
    tile = plainMaterial("floor-tiles", t, null);
    copper = plainMaterial("copper", plain(0.82, 0.42, 0.28, 1, 0.26), null);
    enamel = plainMaterial("dial", plain(0.85, 0.83, 0.76, 0, 0.4), null);
    ink = plainMaterial("ink", plain(0.02, 0.02, 0.02, 0, 0.5), null);
    rubber = plainMaterial("rope", plain(0.12, 0.11, 0.1, 0.4, 0.55), null);
    wall = plainMaterial("wall", plain(0.3, 0.33, 0.32, 0, 0.85), null);
    felt =
        plainMaterial(
            "cloth",
            plain(0.10, 0.03, 0.03, 0, 1),
            map(
                "KHR_materials_sheen",
                map("sheenColorFactor", List.of(0.3, 0.14, 0.12), "sheenRoughnessFactor", 0.45)));
    lampCold = glb.lamp("sky-light", 0.75, 0.88, 1, 7);
    lampWarm = glb.lamp("lamp", 1, 0.66, 0.34, 22);
  }

  private int put(String name, int parent, Vec3 at, Quat turn, Part... parts) {
    for (Part p : parts) {
      p.shape().mapped(0.6);
    }
    return glb.place(name, parent, glb.mesh(name, parts), at, turn, 1);
  }

  private void floor() {
    put("floor", -1, Vec3.ZERO, null, new Part(new Shape().box(0, -0.1, 0, 14, 0.2, 12), tile));
    Shape w = new Shape().box(0, 2.5, -3.2, 14, 5, 0.2).box(-5, 2.5, 1, 0.2, 5, 10);
    put("walls", -1, Vec3.ZERO, null, new Part(w, wall));
    Shape plinth = new Shape().box(0, 0.15, 0, 5.6, 0.3, 2.6);
    Shape frame = new Shape();
    for (double z : new double[] {-0.62, 0.62}) {
      frame.box(0.1, 0.42, z, 4.6, 0.24, 0.2);
      frame.bar(new Vec3(-1.75, 0.45, z), new Vec3(-0.75, 1.75, z), 0.11, 0.08, 20);
      frame.bar(new Vec3(0.25, 0.45, z), new Vec3(-0.75, 1.75, z), 0.11, 0.08, 20);
    }
    Shape bearings = new Shape();
    for (double z : new double[] {-0.62, 0.62}) {
      bearings.bar(new Vec3(-0.75, 1.75, z - 0.15), new Vec3(-0.75, 1.75, z + 0.15), 0.2, 0.2, 40);
    }
    put(
        "bed",
        -1,
        Vec3.ZERO,
        null,
        new Part(plinth, iron),
        new Part(frame, red),
        new Part(bearings, brass));
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

  private static final Quat AXLE = Quat.axisAngle(new Vec3(1, 0, 0), Math.PI / 2);

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
    int pivot = glb.node("wheel-pivot", -1, new Vec3(-0.75, 1.75, 0), null, 1);
    put(
        "wheel",
        pivot,
        Vec3.ZERO,
        AXLE,
        new Part(new Shape().lathe(rim, 128), red),
        new Part(spokes, red),
        new Part(new Shape().lathe(hub, 48), brass));
    Shape bolts = new Shape();
    for (int i = 0; i < 8; i++) {
      double a = 2 * Math.PI * (i + 0.5) / 8;
      Vec3 at = new Vec3(0.14 * Math.cos(a), 0.14 * Math.sin(a), 0.2);
      bolts.bar(at, at.plus(new Vec3(0, 0, 0.03)), 0.022, 0.022, 6);
    }
    put("bolts", pivot, Vec3.ZERO, null, new Part(bolts, steel));
    spin(pivot, 1);
    Shape axle =
        new Shape().bar(new Vec3(-0.75, 1.75, -1.05), new Vec3(-0.75, 1.75, 1.2), 0.085, 0.085, 40);
    put("axle", -1, Vec3.ZERO, null, new Part(axle, steel));
    Shape rope = ring(new Shape(), 1.125, 0.028, 160, 10);
    Vec3 top = new Vec3(0, 1.125, 0);
    rope.tube(new Vec3[] {top, top.plus(new Vec3(-6, 1.2, 0))}, 0.028, 10);
    put("rope", -1, new Vec3(-0.75, 1.75, 0), null, new Part(rope, rubber));
  }

  /** Adds keys that turn a node about its z axis a whole number of times. */
  private void spin(int node, int turns) {
    int n = 4 * Math.abs(turns) + 1;
    float[] times = new float[n];
    float[] q = new float[4 * n];
    for (int i = 0; i < n; i++) {
      // From frame 1 to frame 48, which is where frame 1 follows on.
      double frame = Math.max(1, i / (double) (n - 1) * FRAMES);
      times[i] = (float) (frame / 24);
      double a = 2 * Math.PI * turns * frame / FRAMES;
      q[i * 4 + 2] = (float) StrictMath.sin(a / 2);
      q[i * 4 + 3] = (float) StrictMath.cos(a / 2);
    }
    glb.animate(node, "rotation", "LINEAR", times, q);
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
      {"gear-large", 48, 0.62, new Vec3(-0.75, 1.75, z), 1, brass, 0.0},
      {"gear-middle", 24, 0.31, new Vec3(0.17, 1.64, z), -2, steel, 0.5},
      {"gear-small", 16, 0.2067, new Vec3(0.62, 1.39, z), 3, brass, 0.0}
    };
    Shape pins = new Shape();
    for (Object[] g : all) {
      Vec3 at = (Vec3) g[3];
      int pivot = glb.node(g[0] + "-pivot", -1, at, null, 1);
      Shape s = gear((Integer) g[1], (Double) g[2], 0.13, (Double) g[6]);
      put((String) g[0], pivot, Vec3.ZERO, null, new Part(s, (Integer) g[5]));
      spin(pivot, (Integer) g[4]);
      pins.bar(at.plus(new Vec3(0, 0, -0.45)), at.plus(new Vec3(0, 0, 0.13)), 0.035, 0.035, 20);
    }
    Shape plate = new Shape().box(0.4, 1.1, z - 0.3, 0.85, 1.3, 0.06);
    put("gear-plate", -1, Vec3.ZERO, null, new Part(plate, brushed), new Part(pins, steel));
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
    put(
        "cylinder",
        -1,
        Vec3.ZERO,
        null,
        new Part(cylinder, brushed),
        new Part(bands, brass),
        new Part(feet, red));
    Shape head =
        new Shape()
            .box(0, 0, 0, 0.16, 0.2, 0.16)
            .bar(new Vec3(0.08, 0, 0), new Vec3(0.62, 0, 0), 0.035, 0.035, 24);
    int cross = put("crosshead", -1, slide, null, new Part(head, steel));
    Shape arm = new Shape().bar(Vec3.ZERO, new Vec3(rod, 0, 0), 0.035, 0.028, 20);
    arm.bar(new Vec3(0, 0, -0.04), new Vec3(0, 0, 0.04), 0.07, 0.07, 28);
    arm.bar(new Vec3(rod, 0, -0.04), new Vec3(rod, 0, 0.04), 0.055, 0.055, 28);
    int link = put("rod", -1, Vec3.ZERO, null, new Part(arm, steel));
    int n = FRAMES;
    float[] times = new float[n];
    float[] heads = new float[3 * n];
    float[] pins = new float[3 * n];
    float[] turns = new float[4 * n];
    for (int i = 0; i < n; i++) {
      times[i] = (i + 1) / 24f;
      double a = 2 * Math.PI * 3 * (i + 1) / FRAMES;
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
    glb.animate(cross, "translation", "LINEAR", times, heads);
    glb.animate(link, "translation", "LINEAR", times, pins);
    glb.animate(link, "rotation", "LINEAR", times, turns);
  }

  private static void put(float[] a, int i, double x, double y, double z) {
    a[i * 3] = (float) x;
    a[i * 3 + 1] = (float) y;
    a[i * 3 + 2] = (float) z;
  }

  private void gauges() {
    double[][] body = {
      {0, -0.08},
      {0.15, -0.08},
      {0.15, -0.08},
      {0.165, -0.05},
      {0.165, 0.02},
      {0.15, 0.035},
      {0.138, 0.035},
      {0.138, 0.035},
      {0.138, 0.0},
      {0.138, 0.0},
      {0, 0.0}
    };
    double[][] dome = new double[12][];
    for (int i = 0; i < 12; i++) {
      double a = Math.PI / 2 * i / 11;
      dome[i] = new double[] {0.137 * Math.cos(a), 0.026 + 0.045 * Math.sin(a)};
    }
    for (int k = 0; k < 3; k++) {
      Shape marks = new Shape();
      for (int i = 0; i <= 10; i++) {
        double a = Math.toRadians(-220 + 26 * i);
        double l = i % 5 == 0 ? 0.03 : 0.018;
        Vec3 p = new Vec3(0.122 * Math.cos(a), 0.003, -0.122 * Math.sin(a));
        marks.bar(
            p, p.times(1 - l / 0.122).plus(new Vec3(0, 0.003 * l / 0.122, 0)), 0.0025, 0.0025, 6);
      }
      Shape needle = new Shape();
      double a = Math.toRadians(-150 + 65 * k);
      Vec3 dir = new Vec3(Math.cos(a), 0, -Math.sin(a));
      Vec3 h = new Vec3(0, 0.009, 0);
      needle.bar(dir.times(-0.03).plus(h), dir.times(0.1).plus(h), 0.006, 0.0015, 8);
      needle.bar(new Vec3(0, 0.002, 0), new Vec3(0, 0.014, 0), 0.012, 0.012, 20);
      double[][] dial = {{0.137, 0.002}, {0, 0.002}};
      Vec3 at = new Vec3(1.1 + 0.42 * k, 2.05, 0.35);
      Quat facing =
          Quat.axisAngle(UP, 0.1 - 0.08 * k).times(Quat.axisAngle(new Vec3(1, 0, 0), 1.35));
      put(
          "gauge-" + (k + 1),
          -1,
          at,
          facing,
          new Part(new Shape().lathe(body, 64), brass),
          new Part(new Shape().lathe(dial, 64), enamel),
          new Part(marks, ink),
          new Part(needle, ink),
          new Part(new Shape().lathe(dome, 64), pane));
    }
    Shape board = new Shape().box(1.52, 2.05, 0.22, 1.5, 0.5, 0.06);
    board.box(0.9, 1.1, 0.22, 0.07, 2.0, 0.06).box(2.14, 1.1, 0.22, 0.07, 2.0, 0.06);
    put("gauge-board", -1, Vec3.ZERO, null, new Part(board, brushed));
  }

  private void oilers() {
    for (int k = 0; k < 2; k++) {
      Vec3 at = new Vec3(-0.75, 2.0, k == 0 ? -0.62 : 0.62);
      Shape cap =
          new Shape()
              .bar(new Vec3(0, -0.07, 0), new Vec3(0, 0, 0), 0.03, 0.03, 24)
              .bar(new Vec3(0, 0, 0), new Vec3(0, 0.015, 0), 0.072, 0.072, 40)
              .bar(new Vec3(0, 0.2, 0), new Vec3(0, 0.225, 0), 0.072, 0.05, 40)
              .bar(new Vec3(0, 0.225, 0), new Vec3(0, 0.26, 0), 0.014, 0.014, 16);
      double[][] fill = {
        {0, 0.018}, {0.05, 0.018}, {0.05, 0.018}, {0.05, 0.13}, {0.05, 0.13}, {0, 0.13}
      };
      double[][] jar = {
        {0.054, 0.0155},
        {0.064, 0.0155},
        {0.064, 0.0155},
        {0.064, 0.199},
        {0.064, 0.199},
        {0.054, 0.199},
        {0.054, 0.199},
        {0.054, 0.0155}
      };
      put(
          "oiler-" + (k + 1),
          -1,
          at,
          null,
          new Part(cap, brass),
          new Part(new Shape().lathe(fill, 48), oil),
          new Part(new Shape().lathe(jar, 48), glass));
    }
  }

  private static Vec3[] bent(Vec3... corners) {
    List<Vec3> path = new ArrayList<>();
    path.add(corners[0]);
    for (int i = 1; i + 1 < corners.length; i++) {
      Vec3 in = corners[i].plus(corners[i - 1].minus(corners[i]).normalized().times(0.12));
      Vec3 out = corners[i].plus(corners[i + 1].minus(corners[i]).normalized().times(0.12));
      for (int k = 0; k <= 8; k++) {
        double f = k / 8.0;
        path.add(in.lerp(corners[i], f).lerp(corners[i].lerp(out, f), f));
      }
    }
    path.add(corners[corners.length - 1]);
    return path.toArray(new Vec3[0]);
  }

  private void pipes() {
    Shape s = new Shape();
    for (int k = 0; k < 3; k++) {
      double x = 1.1 + 0.42 * k, d = 0.07 * k;
      s.tube(
          bent(
              new Vec3(x, 2.05, 0.18),
              new Vec3(x, 2.05, -0.25 - d),
              new Vec3(x, 0.45 + d, -0.25 - d),
              new Vec3(2.45 - d, 0.45 + d, -0.25 - d),
              new Vec3(2.45 - d, 0.45 + d, 1.2),
              new Vec3(2.45 - d, 1.0, 1.2)),
          0.024,
          16);
    }
    put("pipes", -1, Vec3.ZERO, null, new Part(s, copper));
    Shape can =
        new Shape()
            .bar(new Vec3(0, 0, 0), new Vec3(0, 0.16, 0), 0.12, 0.12, 48)
            .bar(new Vec3(0, 0.16, 0), new Vec3(0, 0.24, 0), 0.12, 0.02, 48)
            .tube(
                bent(new Vec3(0, 0.22, 0), new Vec3(0, 0.36, 0), new Vec3(0.25, 0.5, 0)),
                0.012,
                12);
    put("oil-can", -1, new Vec3(1.75, 0.3, 0.95), Quat.axisAngle(UP, 0.7), new Part(can, copper));
    Shape cloth =
        new Shape().box(0, 0.012, 0, 0.34, 0.024, 0.24).box(0.05, 0.03, 0.02, 0.22, 0.02, 0.2);
    put("cloth", -1, new Vec3(2.25, 0.3, 1.1), Quat.axisAngle(UP, -0.3), new Part(cloth, felt));
  }

  private void lights() {
    Shape panel =
        new Shape()
            .quad(
                new Vec3(-3, 4.6, -1.5),
                new Vec3(2, 4.6, -1.5),
                new Vec3(2, 4.6, 0.8),
                new Vec3(-3, 4.6, 0.8));
    put("sky-light", -1, Vec3.ZERO, null, new Part(panel, lampCold));
    for (int k = 0; k < 2; k++) {
      Vec3 at = new Vec3(k == 0 ? 3.1 : -2.9, 3.1, 2.2);
      Shape ball = new Shape().ball(at, 0.13, 20);
      put("lamp-" + (k + 1), -1, Vec3.ZERO, null, new Part(ball, lampWarm));
    }
    glb.sky(
        map(
            "zenith",
            List.of(0.05, 0.06, 0.075),
            "horizon",
            List.of(0.11, 0.10, 0.09),
            "ground",
            List.of(0.03, 0.03, 0.03)));
  }

  private void cameras() {
    glb.camera("overview", -1, new Vec3(2.5, 2.2, 4.9), new Vec3(0.25, 1.25, 0), 36);
    glb.camera("gauges", -1, new Vec3(1.35, 2.25, 1.75), new Vec3(1.5, 1.95, 0.3), 38);
    glb.camera("gear-train", -1, new Vec3(0.15, 1.55, 3.1), new Vec3(0.15, 1.5, 1), 40);
  }
}
