package posada.demo;

import static posada.demo.GlbBuilder.map;
import static posada.demo.GlbBuilder.plain;

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
  static final int FRAMES = 48;
  final GlbBuilder glb = new GlbBuilder();

  /** Numbers of materials. */
  int brass, steel, brushed, iron, red, glass, pane, oil, copper, enamel, ink, rubber, felt;

  private int lampCold, lampWarm, wall, tile;

  static byte[] build() {
    return new WindingEngine().scene();
  }

  private byte[] scene() {
    materials();
    floor();
    new EngineDrive(this).build();
    new EngineFittings(this).build();
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

  /** Places a mesh of some parts; returns its node. */
  int put(String name, int parent, Vec3 at, Quat turn, Part... parts) {
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
    glb.environment(
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
