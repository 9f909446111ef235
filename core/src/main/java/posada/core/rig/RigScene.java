package posada.core.rig;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.DoubleFunction;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Curve;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Animation.Value;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.MaterialBuilder;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.Trs;

/**
 * Puts a rig into a scene. Moves become keys with straight lines between them, so dense that no
 * frame tells them from the curve: 240 a second, 48 for what takes longer than ten minutes.
 */
public final class RigScene {
  private static final double DENSE = 240, SPARSE = 48;

  /** Seconds up to which keys are dense. */
  private static final double LONG = 600;

  /** Corners of a disc. */
  private static final int CORNERS = 64;

  /**
   * A part of the rig that does not fit the scene.
   *
   * @param kind camera, light, object or material
   * @param name of that part
   * @param why a sentence with the way out
   */
  public record Unfit(String kind, String name, String why) {}

  /**
   * A scene with a rig in it.
   *
   * @param unfit what was left out, or left as it is
   */
  public record Rigged(Scene scene, List<Unfit> unfit) {}

  private final Scene scene;
  private final Set<String> clips;
  private final List<Node> nodes;
  private final List<Mesh> meshes;
  private final List<Material> materials;
  private final List<Camera> cameras;
  private final List<Light> lights;
  private final List<Channel> channels = new ArrayList<>();
  private final List<Value> values = new ArrayList<>();
  private final List<Unfit> unfit = new ArrayList<>();
  private final Set<String> names = new HashSet<>();
  private final Map<String, Integer> numbers = new HashMap<>();

  private RigScene(Scene scene, Set<String> clips) {
    this.scene = scene;
    this.clips = clips;
    nodes = new ArrayList<>(scene.nodes());
    meshes = new ArrayList<>(scene.meshes());
    materials = new ArrayList<>(scene.materials());
    cameras = new ArrayList<>(scene.cameras());
    lights = new ArrayList<>(scene.lights());
    for (int i = 0; i < nodes.size(); i++) {
      names.add(nodes.get(i).name());
      numbers.putIfAbsent(nodes.get(i).name(), i);
    }
  }

  /**
   * Returns a scene with a rig in it; the numbers of what was there stay the same.
   *
   * @param clips names of the animations that play; null for all
   */
  public static Rigged apply(Scene scene, Rig rig, Set<String> clips) {
    if (rig.empty()) {
      return new Rigged(scene, List.of());
    }
    RigScene r = new RigScene(scene, clips);
    rig.cameras().forEach(r::add);
    rig.lights().stream().filter(RigLight::on).forEach(r::add);
    rig.objects().stream().filter(ObjectChange::on).forEach(r::change);
    List<Animation> animations = new ArrayList<>(scene.animations());
    for (MaterialChange m : rig.materials()) {
      if (m.on()) {
        r.change(m, animations);
      }
    }
    if (!r.channels.isEmpty() || !r.values.isEmpty()) {
      animations.add(new Animation(Animation.RIG, List.copyOf(r.channels), List.copyOf(r.values)));
    }
    Scene made =
        new Scene(
            scene.name(),
            List.copyOf(r.nodes),
            r.meshes.size() == scene.meshes().size() ? scene.meshes() : List.copyOf(r.meshes),
            List.copyOf(r.materials),
            scene.textures(),
            List.copyOf(r.cameras),
            List.copyOf(r.lights),
            List.copyOf(animations),
            scene.skins(),
            scene.environment());
    return new Rigged(made, List.copyOf(r.unfit));
  }

  private void unfit(String kind, String name, String why) {
    unfit.add(new Unfit(kind, name, why));
  }

  /** Returns the number of an object; -1 for none, -2 if it is not there, which is told. */
  private int object(String kind, String name, String object, String doing) {
    if (object.isEmpty()) {
      return -1;
    }
    Integer n = numbers.get(object);
    if (n == null) {
      unfit(
          kind,
          name,
          "The "
              + kind
              + " \""
              + name
              + "\" "
              + doing
              + " \""
              + object
              + "\", which is not in this scene; choose another object, or none.");
      return -2;
    }
    return n;
  }

  private String unique(String wanted) {
    String name = wanted;
    for (int k = 2; !names.add(name); k++) {
      name = wanted + "-" + k;
    }
    return name;
  }

  private void add(RigCamera c) {
    if (scene.cameraNode(c.name()) >= 0) {
      unfit(
          "camera",
          c.name(),
          "The file has a camera \"" + c.name() + "\" itself; give the rig's another name.");
      return;
    }
    int parent = object("camera", c.name(), c.fixedTo(), "is fixed to");
    int lookAt = object("camera", c.name(), c.lookAt(), "looks at");
    if (parent == -2 || lookAt == -2) {
      return;
    }
    CameraMove move = new CameraMove(c, scene, parent, lookAt, clips);
    int node = nodes.size();
    int index = cameras.size();
    double[] span = move.span();
    double[] times = times(span, c.keys(), move.worked());
    CameraMove.Placed[] at = new CameraMove.Placed[times.length];
    Arrays.setAll(at, i -> move.at(times[i]));
    nodes.add(
        new Node(
            unique(c.name()), parent, single(at[0].place(), at[0].turn()), null, -1, index, -1));
    double view = move.view(times[0]);
    cameras.add(
        c.orthographic()
            ? new Camera(c.name(), 0, (float) (view / 2))
            : new Camera(c.name(), (float) Math.toRadians(view), 0));
    float[] t = floats(times);
    place(node, t, i -> at[i].place());
    turn(node, t, i -> at[i].turn());
    float[] views = new float[t.length];
    for (int i = 0; i < views.length; i++) {
      double v = move.view(times[i]);
      views[i] = (float) (c.orthographic() ? v / 2 : Math.toRadians(v));
    }
    value(c.orthographic() ? Property.VIEW_HEIGHT : Property.VIEW_ANGLE, index, t, views, 1);
  }

  /** Returns a placement in single precision, as a file would hold it. */
  private static Trs single(Vec3 p, Quat q) {
    Quat u = q.normalized();
    return new Trs(
        new Vec3((float) p.x(), (float) p.y(), (float) p.z()),
        new Quat((float) u.x(), (float) u.y(), (float) u.z(), (float) u.w()),
        Vec3.ONE);
  }

  /** A thing for each time. */
  private interface Of<T> {
    T time(int i);
  }

  private void place(int node, float[] t, Of<Vec3> of) {
    float[] v = new float[3 * t.length];
    for (int i = 0; i < t.length; i++) {
      Vec3 p = of.time(i);
      v[3 * i] = (float) p.x();
      v[3 * i + 1] = (float) p.y();
      v[3 * i + 2] = (float) p.z();
    }
    channel(node, Path.TRANSLATION, t, v);
  }

  private void turn(int node, float[] t, Of<Quat> of) {
    float[] v = new float[4 * t.length];
    for (int i = 0; i < t.length; i++) {
      Quat q = of.time(i).normalized();
      v[4 * i] = (float) q.x();
      v[4 * i + 1] = (float) q.y();
      v[4 * i + 2] = (float) q.z();
      v[4 * i + 3] = (float) q.w();
    }
    channel(node, Path.ROTATION, t, v);
  }

  private void channel(int node, Path path, float[] t, float[] v) {
    if (changes(v, path.width())) {
      channels.add(new Channel(node, path, Interpolation.LINEAR, t, v));
    }
  }

  private void value(Property p, int index, float[] t, float[] v, int width) {
    if (changes(v, width)) {
      values.add(new Value(p, index, null, new Curve(Interpolation.LINEAR, t, v)));
    }
  }

  private static boolean changes(float[] v, int width) {
    for (int i = width; i < v.length; i++) {
      if (v[i] != v[i - width]) {
        return true;
      }
    }
    return false;
  }

  private static float[] floats(double[] v) {
    float[] f = new float[v.length];
    for (int i = 0; i < f.length; i++) {
      f[i] = (float) v[i];
    }
    return f;
  }

  /** Returns the times of the keys that a move becomes, no two the same in single precision. */
  private static double[] times(double[] span, List<RigKey> keys, boolean worked) {
    TreeSet<Float> times = new TreeSet<>();
    times.add((float) span[0]);
    times.add((float) span[1]);
    for (int i = 0; i < keys.size(); i++) {
      times.add((float) keys.get(i).time());
      if (i > 0 && keys.get(i - 1).ease() == Ease.STEP) {
        times.add(Math.nextDown((float) keys.get(i).time()));
      }
    }
    double rate = span[1] - span[0] > LONG ? SPARSE : DENSE;
    if (worked) {
      fill(times, span[0], span[1], rate);
    } else {
      for (int i = 0; i + 1 < keys.size(); i++) {
        Ease e = keys.get(i).ease();
        if (e == Ease.EASED || e == Ease.SMOOTH) {
          fill(times, keys.get(i).time(), keys.get(i + 1).time(), rate);
        }
      }
    }
    return times.stream().mapToDouble(f -> f).toArray();
  }

  private static void fill(TreeSet<Float> times, double from, double to, double rate) {
    for (long k = (long) Math.ceil(from * rate); k <= to * rate; k++) {
      times.add((float) (k / rate));
    }
  }

  private void add(RigLight l) {
    int parent = object("light", l.name(), l.fixedTo(), "is fixed to");
    if (parent == -2) {
      return;
    }
    KeyPath path = new KeyPath(l.keys(), Vec3.ZERO);
    double[] span = {l.keys().get(0).time(), l.keys().get(l.keys().size() - 1).time()};
    double[] times = times(span, l.keys(), false);
    int node = nodes.size();
    Trs at = single(path.place(times[0]), path.turn(times[0]));
    float[] rgb = l.rgb();
    float[] t = floats(times);
    DoubleFunction<Double> strength = x -> path.value(x, l.strength());
    String name = unique(l.name());
    // A colour of at most 1 and a factor on it, as a file holds them.
    float most = Math.max(rgb[0], Math.max(rgb[1], rgb[2]));
    float[] unit = new float[3];
    for (int k = 0; k < 3 && most > 0; k++) {
      unit[k] = rgb[k] / most;
    }
    if (l.kind().surface()) {
      int material = materials.size();
      float s = (float) (strength.apply(times[0]) * most);
      materials.add(
          Material.named(name)
              .base(0, 0, 0, 1)
              .emission(s * unit[0], s * unit[1], s * unit[2])
              .build());
      nodes.add(
          new Node(name, parent, at, null, meshes.size(), -1, -1, -1, null, null, true, l.seen()));
      meshes.add(new Mesh(name, List.of(surface(l, material))));
      float[] e = new float[3 * t.length];
      for (int i = 0; i < e.length; i++) {
        e[i] = (float) (strength.apply(times[i / 3]) * most) * unit[i % 3];
      }
      value(Property.EMISSION, material, t, e, 3);
    } else {
      nodes.add(new Node(name, parent, at, null, -1, -1, lights.size()));
      float[] e = new float[t.length];
      for (int i = 0; i < e.length; i++) {
        e[i] = (float) (strength.apply(times[i]) * most);
      }
      value(Property.LIGHT_INTENSITY, lights.size(), t, e, 1);
      double half = Math.toRadians(l.cone()) / 2;
      lights.add(
          new Light(
              name,
              switch (l.kind()) {
                case SUN -> Light.Kind.DIRECTIONAL;
                case SPOT -> Light.Kind.SPOT;
                default -> Light.Kind.POINT;
              },
              unit,
              e[0],
              Double.POSITIVE_INFINITY,
              half * (1 - l.soft()),
              half,
              l.kind() == RigLight.Kind.SUN ? Math.toRadians(l.size()) / 2 : l.size(),
              l.seen()));
    }
    place(node, t, i -> path.place(times[i]));
    turn(node, t, i -> path.turn(times[i]));
  }

  /** Returns a flat shape that faces -Z. */
  private static Primitive surface(RigLight l, int material) {
    boolean panel = l.kind() == RigLight.Kind.PANEL;
    int n = panel ? 4 : CORNERS;
    float[] p = new float[3 * n];
    float[] normals = new float[3 * n];
    for (int i = 0; i < n; i++) {
      // Clockwise seen from +Z, so that the front is on the other side.
      double a = -2 * Math.PI * i / n;
      p[3 * i] = (float) (panel ? l.size() / 2 * (i < 2 ? -1 : 1) : l.size() * StrictMath.cos(a));
      p[3 * i + 1] =
          (float) (panel ? l.depth() / 2 * (i % 3 == 0 ? -1 : 1) : l.size() * StrictMath.sin(a));
      normals[3 * i + 2] = -1;
    }
    int[] corners = new int[3 * (n - 2)];
    for (int i = 0; i < n - 2; i++) {
      corners[3 * i + 1] = i + 1;
      corners[3 * i + 2] = i + 2;
    }
    return new Primitive(p, normals, null, new float[0][], null, corners, material);
  }

  private void change(ObjectChange o) {
    Integer node = numbers.get(o.object());
    if (node == null) {
      unfit(
          "object",
          o.object(),
          "There is no object \"" + o.object() + "\" in this scene; remove its visibility keys.");
      return;
    }
    float[] t = new float[o.shown().size()];
    float[] v = new float[t.length];
    for (int i = 0; i < t.length; i++) {
      t[i] = (float) o.shown().get(i).time();
      v[i] = o.shown().get(i).there() ? 1 : 0;
    }
    channels.add(new Channel(node, Path.SHOWN, Interpolation.STEP, t, v));
  }

  private void change(MaterialChange c, List<Animation> animations) {
    boolean any = false;
    for (int i = 0; i < scene.materials().size(); i++) {
      Material m = scene.materials().get(i);
      if (!m.name().equals(c.material())) {
        continue;
      }
      any = true;
      float[] b = m.baseColor();
      MaterialBuilder changed = m.changed();
      changed.base(
          Math.min(1, b[0] * c.factor(0)),
          Math.min(1, b[1] * c.factor(1)),
          Math.min(1, b[2] * c.factor(2)),
          b[3]);
      changed.roughness((float) Math.min(1, m.roughness() * c.roughness()));
      materials.set(i, changed.build());
      keys(c, i, animations);
    }
    if (!any) {
      unfit(
          "material",
          c.material(),
          "There is no material \"" + c.material() + "\" in this scene; remove its change.");
    }
  }

  /** Changes what the file's keys say about a material likewise. */
  private static void keys(MaterialChange c, int material, List<Animation> animations) {
    for (int k = 0; k < animations.size(); k++) {
      Animation a = animations.get(k);
      List<Value> changed = new ArrayList<>();
      for (Value v : a.values()) {
        boolean mine = v.index() == material && v.property().owner() == Property.Owner.MATERIAL;
        Curve curve = v.curve();
        if (mine && v.property() == Property.BASE_COLOR) {
          curve = curve.times(c.factor(0), c.factor(1), c.factor(2), 1);
        } else if (mine && v.property() == Property.ROUGHNESS) {
          curve = curve.times((float) c.roughness());
        }
        changed.add(curve == v.curve() ? v : new Value(v.property(), v.index(), v.slot(), curve));
      }
      if (!changed.equals(a.values())) {
        animations.set(k, new Animation(a.name(), a.channels(), List.copyOf(changed)));
      }
    }
  }
}
