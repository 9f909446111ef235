package posada.formats.gltf;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.SrgbTransfer;
import posada.core.image.TexelImage;
import posada.core.motion.Keys;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.Environment;
import posada.core.scene.Material;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Trs;

/** What a scene needs to be seen and does not bring along. */
final class Additions {
  /** Name of the camera that is added to a scene without one. */
  static final String CAMERA = "overview";

  /**
   * A scene without lamps and an environment is lit by its own glow if that is at least so much in
   * the mean over all surfaces, or brighter than white anywhere. Small lamps that only show that a
   * thing is switched on are less.
   */
  private static final double LEAST_GLOW = 0.05;

  /** Texels of a picture that are looked at. */
  private static final int PROBES = 1 << 16;

  private Additions() {}

  /** Adds a plain sky to a scene without an environment if nothing else lights it. */
  static Scene light(Scene s, GltfFile file) {
    if (s.lights().stream().anyMatch(l -> l.intensity() > 0)
        || Values.of(s, Property.LIGHT_INTENSITY).anyMatch(Additions::above)) {
      return s;
    }
    double glow = glow(s);
    if (glow >= LEAST_GLOW) {
      return s;
    }
    file.remark(
        glow > 0
            ? "The scene has no lamps and hardly glows; it got a plain sky."
            : "The scene has no light; it got a plain sky.");
    return s.withEnvironment(Environment.of(Sky.PLAIN));
  }

  private static boolean above(Animation.Value v) {
    return atKeys(v).anyMatch(x -> x[0] > 0);
  }

  private static Stream<double[]> atKeys(Animation.Value v) {
    return IntStream.range(0, v.curve().times().length)
        .mapToObj(k -> Keys.at(v.curve(), v.curve().times()[k]));
  }

  /** Returns the mean radiance that surfaces give off; infinite if any is brighter than white. */
  private static double glow(Scene s) {
    double[] each = IntStream.range(0, s.materials().size()).mapToDouble(i -> glow(s, i)).toArray();
    if (Arrays.stream(each).allMatch(g -> g == 0)) {
      return 0;
    }
    Pose pose = Pose.at(s, start(s));
    double area = 0;
    double light = 0;
    for (int i = 0; i < s.nodes().size(); i++) {
      Node n = s.nodes().get(i);
      if (n.mesh() < 0) {
        continue;
      }
      List<Affine> copies = n.copies() == null ? List.of(Affine.IDENTITY) : n.copies();
      for (Primitive p : s.meshes().get(n.mesh()).primitives()) {
        double g = each[p.material()];
        if (Double.isInfinite(g)) {
          return g;
        }
        for (Affine c : copies) {
          double own = area(p, pose.world(i).times(c));
          area += own;
          light += g * own;
        }
      }
    }
    return area > 0 ? light / area : 0;
  }

  /** Returns what a material gives off at its brightest. */
  private static double glow(Scene s, int material) {
    Material m = s.materials().get(material);
    if (m.unlit()) {
      return 0;
    }
    float[] e = m.emission();
    double most =
        Values.of(s, Property.EMISSION)
            .filter(v -> v.index() == material)
            .flatMap(Additions::atKeys)
            .flatMapToDouble(Arrays::stream)
            .reduce(Math.max(e[0], Math.max(e[1], e[2])), Math::max);
    if (most > 1) {
      return Double.POSITIVE_INFINITY;
    }
    return most > 0 && m.emissionTexture() != null
        ? most * mean(s.textures().get(m.emissionTexture().texture()).image())
        : most;
  }

  /** Returns the mean of the brightest of red, green and blue over a picture's texels. */
  private static double mean(TexelImage image) {
    int[] texels = image.rgba();
    int step = Math.max(1, texels.length / PROBES);
    double sum = 0;
    int n = 0;
    for (int i = 0; i < texels.length; i += step) {
      int t = texels[i];
      int most = Math.max(t >> 16 & 255, Math.max(t >> 8 & 255, t & 255));
      sum += SrgbTransfer.decode8(most);
      n++;
    }
    return sum / n;
  }

  private static double area(Primitive p, Affine world) {
    float[] x = p.positions();
    int[] t = p.indices();
    double area = 0;
    for (int i = 0; i < t.length; i += 3) {
      Vec3 a = corner(x, t[i], world);
      Vec3 b = corner(x, t[i + 1], world);
      Vec3 c = corner(x, t[i + 2], world);
      area += b.minus(a).cross(c.minus(a)).length() / 2;
    }
    return area;
  }

  private static Vec3 corner(float[] x, int i, Affine world) {
    return world.point(new Vec3(x[3 * i], x[3 * i + 1], x[3 * i + 2]));
  }

  /** Returns when the first animation begins, seconds; 0 if there is none. */
  static double start(Scene s) {
    return s.animations().stream().mapToDouble(Animation::start).min().orElse(0);
  }

  /** Adds a camera of 35 degrees from the front, right and above that sees the whole scene. */
  static Scene withCamera(Scene s, Bounds bounds, NodeReader tree, GltfFile file) {
    file.remark("The scene has no camera; \"" + CAMERA + "\" was added to frame it.");
    double angle = Math.toRadians(35);
    Vec3 centre = bounds.empty() ? Vec3.ZERO : bounds.centre();
    double radius = Math.max(1e-4, bounds.diagonal() / 2);
    Vec3 direction = new Vec3(0.6, 0.4, 1).normalized();
    Vec3 eye = centre.plus(direction.times(radius / StrictMath.sin(angle / 2)));
    Quat look = Quat.looking(centre.minus(eye), new Vec3(0, 1, 0));
    List<Node> nodes = new ArrayList<>(s.nodes());
    String name = tree.unique(CAMERA);
    nodes.add(new Node(name, -1, new Trs(eye, look, Vec3.ONE), null, -1, 0, -1));
    return new Scene(
        s.name(),
        nodes,
        s.meshes(),
        s.materials(),
        s.textures(),
        List.of(new Camera(name, angle, 0)),
        s.lights(),
        s.animations(),
        s.skins(),
        s.environment());
  }
}
