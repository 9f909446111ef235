package posada.demo;

import static posada.demo.GlbBuilder.map;
import static posada.demo.GlbBuilder.plain;

import java.util.List;
import java.util.Map;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.demo.GlbBuilder.Part;

/**
 * The scene {@code ticket-hall}: the waiting room of the lower station in the light of three tall
 * windows. The camera glides; nothing else moves. X runs from the windows' wall to the right, Z
 * towards the door behind the camera.
 */
final class TicketHall {
  private static final double WIDTH = 8;
  private static final double DEPTH = 10;
  private static final double HEIGHT = 3.9;
  private static final double WALL = 0.3;
  private static final double[] WINDOWS = {-3.1, 0, 3.1};
  private static final double SILL = 0.85;
  private static final double TOP = 3.15;
  private static final double HALF = 0.72;

  private final GlbBuilder glb = new GlbBuilder();
  private int plaster, floor, oak, darkOak, brass, iron, white, leather, pane, globe, paper, felt;

  static byte[] build() {
    return new TicketHall().scene();
  }

  private byte[] scene() {
    materials();
    room();
    windows();
    counter();
    bench();
    luggage();
    clock();
    lamps();
    posters();
    radiator();
    outside();
    light();
    cameras();
    return glb.write("glide");
  }

  private static Map<String, Object> pbr(Map<String, Object> p) {
    return map("pbrMetallicRoughness", p);
  }

  private static Map<String, Object> with(Map<String, Object> m, Map<String, Object> extensions) {
    m.put("extensions", extensions);
    return m;
  }

  private static Map<String, Object> varnished(Map<String, Object> m, double roughness) {
    return with(
        m,
        map(
            "KHR_materials_clearcoat",
            map("clearcoatFactor", 0.6, "clearcoatRoughnessFactor", roughness)));
  }

  private void materials() {
    plaster = glb.material("lime-plaster", pbr(plain(0.72, 0.66, 0.54, 0, 0.95)));
    Map<String, Object> tile = plain(1, 1, 1, 0, 0.32);
    tile.put(
        "baseColorTexture",
        map("index", glb.texture("tiles", Pictures.paint(512, 512, Pictures::tiles))));
    floor = glb.material("floor-tiles", pbr(tile));
    int boards = glb.texture("boards", Pictures.paint(512, 512, Pictures::boards));
    Map<String, Object> light = plain(1, 0.95, 0.88, 0, 0.5);
    light.put("baseColorTexture", map("index", boards));
    oak = glb.material("oak", varnished(pbr(light), 0.12));
    Map<String, Object> dark = plain(0.5, 0.42, 0.36, 0, 0.5);
    dark.put("baseColorTexture", map("index", boards));
    darkOak = glb.material("dark-oak", varnished(pbr(dark), 0.2));
    brass = glb.material("brass", pbr(plain(0.86, 0.62, 0.27, 1, 0.24)));
    iron = glb.material("cast-iron", pbr(plain(0.06, 0.065, 0.07, 0.3, 0.55)));
    white = glb.material("enamel", pbr(plain(0.8, 0.79, 0.75, 0, 0.25)));
    leather = glb.material("leather", varnished(pbr(plain(0.23, 0.085, 0.04, 0, 0.6)), 0.35));
    pane =
        glb.material(
            "window-pane",
            with(
                pbr(plain(0.97, 0.985, 0.97, 0, 0)),
                map("KHR_materials_transmission", map("transmissionFactor", 1.0))));
    globe =
        glb.material(
            "milk-glass",
            with(
                map(
                    "pbrMetallicRoughness",
                    plain(0.9, 0.88, 0.82, 0, 0.3),
                    "emissiveFactor",
                    List.of(1.0, 0.74, 0.42)),
                map("KHR_materials_emissive_strength", map("emissiveStrength", 1.4))));
    paper = glb.material("paper", pbr(plain(0.85, 0.82, 0.74, 0, 0.9)));
    felt =
        glb.material(
            "green-cloth",
            with(
                pbr(plain(0.03, 0.13, 0.07, 0, 0.95)),
                map(
                    "KHR_materials_sheen",
                    map(
                        "sheenColorFactor",
                        List.of(0.10, 0.22, 0.14),
                        "sheenRoughnessFactor",
                        0.5))));
  }

  private void put(String name, Shape s, int material, double mapped) {
    glb.place(name, -1, glb.mesh(name, new Part(s.mapped(mapped), material)), Vec3.ZERO, null, 1);
  }

  private void room() {
    Shape f = new Shape().box(0, -0.1, 0, WIDTH + 1, 0.2, DEPTH + 1);
    put("floor", f, floor, 1.2);
    Shape w = new Shape();
    w.box(WIDTH / 2 + WALL / 2, HEIGHT / 2, 0, WALL, HEIGHT, DEPTH + 2 * WALL);
    w.box(0, HEIGHT / 2, -DEPTH / 2 - WALL / 2, WIDTH, HEIGHT, WALL);
    w.box(0, HEIGHT / 2, DEPTH / 2 + WALL / 2, WIDTH, HEIGHT, WALL);
    // The window wall in pieces around its openings.
    double x = -WIDTH / 2 - WALL / 2;
    w.box(x, SILL / 2, 0, WALL, SILL, DEPTH + 2 * WALL);
    w.box(x, (TOP + HEIGHT) / 2, 0, WALL, HEIGHT - TOP, DEPTH + 2 * WALL);
    double from = -DEPTH / 2 - WALL;
    for (int i = 0; i <= WINDOWS.length; i++) {
      double to = i < WINDOWS.length ? WINDOWS[i] - HALF : DEPTH / 2 + WALL;
      w.box(x, (SILL + TOP) / 2, (from + to) / 2, WALL, TOP - SILL, to - from);
      from = i < WINDOWS.length ? WINDOWS[i] + HALF : 0;
    }
    put("walls", w, plaster, 2);
    put("ceiling", new Shape().box(0, HEIGHT + 0.1, 0, WIDTH + 1, 0.2, DEPTH + 1), plaster, 2);
    Shape beams = new Shape();
    for (double z = -4; z <= 4; z += 2) {
      beams.box(0, HEIGHT - 0.13, z, WIDTH, 0.26, 0.22);
    }
    put("beams", beams, darkOak, 1.1);
    Shape panels = new Shape();
    panels.box(WIDTH / 2 - 0.03, 0.55, 0, 0.06, 1.1, DEPTH);
    panels.box(0, 0.55, -DEPTH / 2 + 0.03, WIDTH, 1.1, 0.06);
    put("panelling", panels, oak, 1);
    Shape rail = new Shape();
    rail.box(WIDTH / 2 - 0.05, 1.13, 0, 0.1, 0.06, DEPTH);
    rail.box(0, 1.13, -DEPTH / 2 + 0.05, WIDTH, 0.06, 0.1);
    rail.box(WIDTH / 2 - 0.05, 0.09, 0, 0.1, 0.18, DEPTH);
    rail.box(0, 0.09, -DEPTH / 2 + 0.05, WIDTH, 0.18, 0.1);
    put("rails", rail, darkOak, 1);
  }

  private void windows() {
    Shape frame = new Shape();
    Shape glass = new Shape();
    double x = -WIDTH / 2 - 0.16;
    for (double z : WINDOWS) {
      double middle = (SILL + TOP) / 2, height = TOP - SILL;
      frame.box(x, middle, z - HALF + 0.04, 0.09, height, 0.08);
      frame.box(x, middle, z + HALF - 0.04, 0.09, height, 0.08);
      frame.box(x, SILL + 0.04, z, 0.09, 0.08, 2 * HALF);
      frame.box(x, TOP - 0.04, z, 0.09, 0.08, 2 * HALF);
      frame.box(x, middle, z, 0.07, height, 0.06);
      for (int k = 1; k < 4; k++) {
        frame.box(x, SILL + height * k / 4, z, 0.05, 0.035, 2 * HALF);
      }
      frame.box(-WIDTH / 2 + 0.02, SILL - 0.025, z, 0.4, 0.05, 2 * HALF + 0.2);
      glass.quad(
          new Vec3(x, SILL, z + HALF),
          new Vec3(x, SILL, z - HALF),
          new Vec3(x, TOP, z - HALF),
          new Vec3(x, TOP, z + HALF));
    }
    put("window-frames", frame, darkOak, 0.9);
    put("panes", glass, pane, 1);
  }

  private void counter() {
    double z = -3.1;
    Shape body = new Shape().box(1.2, 0.52, z, 3.6, 1.04, 0.5);
    for (int i = 0; i < 5; i++) {
      body.box(-0.35 + i * 0.78, 0.52, z + 0.265, 0.56, 0.72, 0.03);
    }
    put("counter", body, oak, 0.9);
    Shape top = new Shape().box(1.2, 1.07, z + 0.04, 3.8, 0.06, 0.66);
    top.box(-0.55, 1.95, z, 0.12, 1.7, 0.14).box(2.95, 1.95, z, 0.12, 1.7, 0.14);
    top.box(1.2, 1.95, z, 0.12, 1.7, 0.14).box(1.2, 2.85, z, 3.8, 0.2, 0.22);
    put("counter-top", top, darkOak, 0.9);
    Shape bars = new Shape();
    for (int i = 0; i < 30; i++) {
      double x = -0.43 + i * 0.113;
      if (Math.abs(x - 1.2) < 0.09) {
        continue;
      }
      // Left open over the two hatches.
      double low = Math.abs(x - 0.32) < 0.3 || Math.abs(x - 2.08) < 0.3 ? 1.5 : 1.1;
      bars.bar(new Vec3(x, low, z), new Vec3(x, 2.76, z), 0.011, 0.011, 10);
    }
    for (double y : new double[] {1.5, 2.2, 2.7}) {
      bars.bar(new Vec3(-0.5, y, z), new Vec3(2.9, y, z), 0.014, 0.014, 10);
    }
    bars.bar(new Vec3(-0.5, 0.22, z + 0.42), new Vec3(2.9, 0.22, z + 0.42), 0.025, 0.025, 14);
    for (double x : new double[] {-0.3, 1.2, 2.7}) {
      bars.bar(new Vec3(x, 0.22, z + 0.42), new Vec3(x, 0.22, z + 0.25), 0.018, 0.018, 10);
    }
    put("grille", bars, brass, 1);
    put("cloth", new Shape().box(0.32, 1.108, z + 0.12, 0.62, 0.016, 0.34), felt, 1);
    Shape tickets = new Shape();
    for (int i = 0; i < 6; i++) {
      tickets.box(
          0.12 + i * 0.075, 1.118 + 0.004 * (i % 3), z + 0.12 + 0.02 * (i % 2), 0.06, 0.006, 0.11);
    }
    tickets.box(2.1, 1.112, z + 0.1, 0.3, 0.02, 0.22);
    put("tickets", tickets, paper, 1);
    double[][] bell = {
      {0.075, 0},
      {0.08, 0.008},
      {0.08, 0.008},
      {0.07, 0.02},
      {0.055, 0.05},
      {0.03, 0.068},
      {0, 0.073}
    };
    int mesh = glb.mesh("bell", new Part(new Shape().lathe(bell, 40).mapped(1), brass));
    glb.place("bell", -1, mesh, new Vec3(0.95, 1.1, z + 0.2), null, 1);
  }

  private void bench() {
    Shape slats = new Shape();
    double x = 3.35;
    for (int i = 0; i < 6; i++) {
      slats.box(x - 0.22 + i * 0.085, 0.46, 1.2, 0.07, 0.03, 2.6);
    }
    for (int i = 0; i < 5; i++) {
      slats.box(x + 0.27 + i * 0.012, 0.58 + i * 0.1, 1.2, 0.03, 0.08, 2.6);
    }
    put("bench", slats, oak, 0.8);
    Shape legs = new Shape();
    for (double z : new double[] {0.1, 1.2, 2.3}) {
      legs.box(x - 0.2, 0.22, z, 0.05, 0.44, 0.05).box(x + 0.25, 0.5, z, 0.05, 1.0, 0.05);
      legs.box(x + 0.02, 0.43, z, 0.5, 0.04, 0.05);
    }
    put("bench-legs", legs, iron, 1);
  }

  private void trunk(String name, Vec3 at, double w, double h, double d, double turn) {
    Shape body = new Shape().box(0, h / 2, 0, w, h, d);
    Shape metal = new Shape();
    for (int i = 0; i < 8; i++) {
      double sx = (i & 1) == 0 ? -1 : 1, sy = (i & 2) == 0 ? 0 : 1, sz = (i & 4) == 0 ? -1 : 1;
      metal.box(
          sx * (w / 2 - 0.02), 0.022 + sy * (h - 0.044), sz * (d / 2 - 0.02), 0.05, 0.05, 0.05);
    }
    for (double sx : new double[] {-0.25, 0.25}) {
      metal.box(sx * w, h * 0.68, d / 2 + 0.006, 0.05, 0.07, 0.016);
    }
    Shape straps = new Shape();
    for (double sx : new double[] {-0.25, 0.25}) {
      straps.box(sx * w, h / 2, 0, 0.045, h + 0.012, d + 0.012);
    }
    Vec3 a = new Vec3(-0.08, h + 0.005, 0), b = new Vec3(0.08, h + 0.005, 0);
    Vec3 up = new Vec3(0, 0.05, 0);
    straps.tube(new Vec3[] {a, a.plus(up), b.plus(up), b}, 0.012, 8);
    int mesh =
        glb.mesh(
            name,
            new Part(body.mapped(1), leather),
            new Part(metal.mapped(1), brass),
            new Part(straps.mapped(1), darkOak));
    glb.place(name, -1, mesh, at, Quat.axisAngle(new Vec3(0, 1, 0), turn), 1);
  }

  private void luggage() {
    trunk("trunk", new Vec3(-1.7, 0, -1.5), 0.85, 0.48, 0.5, 0.35);
    trunk("suitcase", new Vec3(-1.62, 0.49, -1.52), 0.6, 0.2, 0.38, 0.1);
    trunk("hat-case", new Vec3(-0.95, 0, -0.95), 0.45, 0.34, 0.2, -0.5);
  }

  private void clock() {
    double[][] ring = {
      {0.29, 0}, {0.34, 0}, {0.34, 0}, {0.345, 0.03}, {0.33, 0.07}, {0.3, 0.075}, {0.29, 0.05}
    };
    double[][] face = {{0.3, 0.03}, {0, 0.03}};
    Shape hands = new Shape();
    hands.box(0.06, 0.04, 0.03, 0.17, 0.006, 0.016).box(0.0, 0.045, -0.1, 0.012, 0.006, 0.24);
    for (int i = 0; i < 12; i++) {
      double a = Math.PI * i / 6;
      hands.box(0.25 * Math.cos(a), 0.034, 0.25 * Math.sin(a), 0.022, 0.006, 0.022);
    }
    int mesh =
        glb.mesh(
            "clock",
            new Part(new Shape().lathe(ring, 64).mapped(1), brass),
            new Part(new Shape().lathe(face, 64).mapped(1), white),
            new Part(hands.mapped(1), iron));
    Quat facing = Quat.axisAngle(new Vec3(1, 0, 0), Math.PI / 2);
    glb.place("clock", -1, mesh, new Vec3(-2.2, 2.75, -DEPTH / 2 + 0.01), facing, 1);
  }

  private void lamps() {
    Shape ball = new Shape().ball(Vec3.ZERO, 0.15, 24);
    double[][] cap = {{0.02, 0.3}, {0.05, 0.16}, {0.08, 0.135}, {0.08, 0.12}};
    Shape metal = new Shape().bar(new Vec3(0, 0.15, 0), new Vec3(0, 1.0, 0), 0.008, 0.008, 8);
    double[][] shade = new double[cap.length][];
    for (int i = 0; i < cap.length; i++) {
      shade[i] = cap[cap.length - 1 - i];
    }
    metal.lathe(shade, 32);
    int mesh =
        glb.mesh("pendant", new Part(ball.mapped(1), globe), new Part(metal.mapped(1), brass));
    for (int i = 0; i < 3; i++) {
      glb.place("pendant-" + (i + 1), -1, mesh, new Vec3(0.9, 2.75, -2.2 + i * 2.6), null, 1);
    }
  }

  private void posters() {
    for (int i = 0; i < 3; i++) {
      double hue = i / 2.0;
      int t =
          glb.texture(
              "poster-" + (i + 1), Pictures.paint(320, 480, (u, v) -> Pictures.poster(u, v, hue)));
      Map<String, Object> p = plain(1, 1, 1, 0, 0.7);
      p.put("baseColorTexture", map("index", t));
      int print = glb.material("poster-" + (i + 1), pbr(p));
      double z = -3.3 + i * 1.45, x = WIDTH / 2 - 0.02, y = 2.05, w = 0.4, h = 0.6;
      Shape s =
          new Shape()
              .quad(
                  new Vec3(x, y - h, z - w),
                  new Vec3(x, y - h, z + w),
                  new Vec3(x, y + h, z + w),
                  new Vec3(x, y + h, z - w));
      s.uvs = new float[] {0, 1, 1, 1, 1, 0, 0, 0};
      Shape frame = new Shape();
      frame.box(x, y - h, z, 0.04, 0.05, 2 * w + 0.09).box(x, y + h, z, 0.04, 0.05, 2 * w + 0.09);
      frame.box(x, y, z - w, 0.04, 2 * h, 0.05).box(x, y, z + w, 0.04, 2 * h, 0.05);
      int mesh =
          glb.mesh("poster-" + (i + 1), new Part(s, print), new Part(frame.mapped(0.6), darkOak));
      glb.place("poster-" + (i + 1), -1, mesh, Vec3.ZERO, null, 1);
    }
  }

  private void radiator() {
    Shape s = new Shape();
    for (double z : new double[] {0, 3.1}) {
      for (int i = 0; i < 11; i++) {
        Vec3 a = new Vec3(-WIDTH / 2 + 0.14, 0.12, z - 0.5 + i * 0.1);
        s.bar(a, a.plus(new Vec3(0, 0.55, 0)), 0.035, 0.035, 12);
      }
      s.bar(
          new Vec3(-WIDTH / 2 + 0.14, 0.15, z - 0.55),
          new Vec3(-WIDTH / 2 + 0.14, 0.15, z + 0.55),
          0.02,
          0.02,
          10);
    }
    put("radiators", s, white, 1);
  }

  private void outside() {
    int snow = glb.material("snow", pbr(plain(0.62, 0.66, 0.72, 0, 0.9)));
    int needles = glb.material("needles", pbr(plain(0.03, 0.065, 0.045, 0, 0.85)));
    put("yard", new Shape().box(-34, -0.6, 0, 58, 1, 90), snow, 4);
    Shape trees = new Shape();
    for (int i = 0; i < 26; i++) {
      double x = -12 - 22 * Noise.hash(i, 1, 4), z = -38 + 76 * Noise.hash(i, 2, 4);
      double h = 3.5 + 4 * Noise.hash(i, 3, 4);
      for (int k = 0; k < 4; k++) {
        double y = h * (0.12 + 0.22 * k);
        double r = h * (0.24 - 0.05 * k);
        trees.bar(new Vec3(x, y, z), new Vec3(x, y + 0.36 * h, z), r, 0.01, 11);
      }
    }
    put("pines", trees, needles, 2);
  }

  private void light() {
    glb.environment(
        map(
            "day",
            map(
                "latitude",
                46.5,
                "longitude",
                9.8,
                "date",
                "2026-02-18",
                "time",
                "14:40",
                "zone",
                1,
                "turbidity",
                2.6,
                "strength",
                7,
                "north",
                60,
                "ground",
                List.of(0.5, 0.52, 0.56))));
  }

  private void cameras() {
    int glide = glb.camera("glide", -1, new Vec3(-2.4, 1.55, 4.3), new Vec3(0.6, 1.45, -3), 46);
    float[] times = new float[7];
    float[] places = new float[21];
    float[] turns = new float[28];
    for (int i = 0; i < 7; i++) {
      double f = i / 6.0, ease = f * f * (3 - 2 * f);
      times[i] = (float) ((1 + f * 71) / 24);
      Vec3 eye = new Vec3(-2.4 + 2.1 * ease, 1.55 + 0.05 * ease, 4.3 - 1.7 * ease);
      Quat q = Quat.looking(new Vec3(0.6 + 0.5 * ease, 1.45, -3).minus(eye), new Vec3(0, 1, 0));
      float[] p = {(float) eye.x(), (float) eye.y(), (float) eye.z()};
      float[] r = {(float) q.x(), (float) q.y(), (float) q.z(), (float) q.w()};
      System.arraycopy(p, 0, places, i * 3, 3);
      System.arraycopy(r, 0, turns, i * 4, 4);
    }
    glb.animate(glide, "translation", "LINEAR", times, places);
    glb.animate(glide, "rotation", "LINEAR", times, turns);
    glb.camera("hatch", -1, new Vec3(-0.25, 1.45, -1.75), new Vec3(0.62, 1.2, -3.1), 34);
  }
}
