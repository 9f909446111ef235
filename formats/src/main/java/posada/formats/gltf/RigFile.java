package posada.formats.gltf;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeSet;
import java.util.function.IntUnaryOperator;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Curve;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Animation.Value;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Property;
import posada.core.scene.Scene;
import posada.core.scene.Trs;
import posada.formats.settings.Documents;
import posada.formats.settings.EnvironmentDocument;

/**
 * Writes what a rig adds to a scene as a GLB file of its own: cameras, lights, what glows, and
 * their animation; of objects that something is fixed to only where they are. Source: glTF 2.0,
 * KHR_lights_punctual, KHR_materials_emissive_strength, KHR_animation_pointer.
 */
public final class RigFile {
  private static final String LIGHTS = "KHR_lights_punctual";
  private static final String STRENGTH = "KHR_materials_emissive_strength";
  private static final int FLOAT = 5126, UNSIGNED_INT = 5125, VERTICES = 34962, CORNERS = 34963;

  private final Scene scene;
  private final int first;
  private final Map<Integer, Integer> numbers = new LinkedHashMap<>();
  private final List<Object> accessors = new ArrayList<>();
  private final List<Object> views = new ArrayList<>();
  private final List<Object> cameras = new ArrayList<>();
  private final List<Object> lights = new ArrayList<>();
  private final List<Object> meshes = new ArrayList<>();
  private final List<Object> materials = new ArrayList<>();
  private final TreeSet<String> extensions = new TreeSet<>();
  private final ByteArrayOutputStream binary = new ByteArrayOutputStream();

  private RigFile(Scene scene, int first) {
    this.scene = scene;
    this.first = first;
  }

  /**
   * Returns the file.
   *
   * @param scene with the rig in it
   * @param first number of the rig's first node
   * @param sky kept in the extras of the file's scene; null for none
   */
  public static byte[] write(Scene scene, int first, EnvironmentDocument sky) {
    return new RigFile(scene, first).bytes(sky);
  }

  private byte[] bytes(EnvironmentDocument sky) {
    TreeSet<Integer> wanted = new TreeSet<>();
    for (int i = first; i < scene.nodes().size(); i++) {
      for (int k = i; k >= 0; k = scene.nodes().get(k).parent()) {
        wanted.add(k);
      }
    }
    wanted.forEach(i -> numbers.put(i, numbers.size()));
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("asset", Map.of("version", "2.0", "generator", "Posada"));
    all.put("scene", 0);
    Map<String, Object> root = new LinkedHashMap<>();
    root.put("name", scene.name() + " rig");
    List<Integer> tops =
        wanted.stream().filter(i -> scene.nodes().get(i).parent() < 0).map(numbers::get).toList();
    if (!tops.isEmpty()) {
      root.put("nodes", tops);
    }
    if (sky != null) {
      root.put("extras", Map.of("environment", Documents.tree(sky)));
    }
    all.put("scenes", List.of(root));
    putAll(all, "nodes", wanted.stream().map(this::node).toList());
    putAll(all, "animations", animations());
    putAll(all, "cameras", cameras);
    putAll(all, "meshes", meshes);
    putAll(all, "materials", materials);
    if (!lights.isEmpty()) {
      all.put("extensions", Map.of(LIGHTS, Map.of("lights", lights)));
      extensions.add(LIGHTS);
    }
    putAll(all, "accessors", accessors);
    putAll(all, "bufferViews", views);
    if (binary.size() > 0) {
      all.put("buffers", List.of(Map.of("byteLength", binary.size())));
    }
    putAll(all, "extensionsUsed", List.copyOf(extensions));
    return glb(Documents.write(all).getBytes(StandardCharsets.UTF_8), binary.toByteArray());
  }

  private static void putAll(Map<String, Object> all, String name, List<?> some) {
    if (!some.isEmpty()) {
      all.put(name, some);
    }
  }

  private static byte[] glb(byte[] json, byte[] binary) {
    int text = json.length + 3 & ~3;
    int more = binary.length == 0 ? 0 : 8 + binary.length;
    ByteBuffer out = ByteBuffer.allocate(20 + text + more).order(ByteOrder.LITTLE_ENDIAN);
    out.putInt(0x46546C67).putInt(2).putInt(out.capacity());
    out.putInt(text).putInt(0x4E4F534A).put(json);
    while (out.position() < 20 + text) {
      out.put((byte) ' ');
    }
    if (more > 0) {
      out.putInt(binary.length).putInt(0x004E4942).put(binary);
    }
    return out.array();
  }

  private Object node(int i) {
    Node n = scene.nodes().get(i);
    Map<String, Object> o = new LinkedHashMap<>();
    o.put("name", n.name());
    List<Integer> children =
        numbers.keySet().stream()
            .filter(k -> scene.nodes().get(k).parent() == i)
            .map(numbers::get)
            .toList();
    if (!children.isEmpty()) {
      o.put("children", children);
    }
    if (n.matrix() != null) {
      double[] m = n.matrix().m();
      o.put(
          "matrix",
          List.of(
              m[0], m[4], m[8], 0, m[1], m[5], m[9], 0, m[2], m[6], m[10], 0, m[3], m[7], m[11],
              1));
    } else if (n.trs() != null) {
      Trs t = n.trs();
      o.put("translation", List.of(t.translation().x(), t.translation().y(), t.translation().z()));
      o.put(
          "rotation",
          List.of(t.rotation().x(), t.rotation().y(), t.rotation().z(), t.rotation().w()));
      o.put("scale", List.of(t.scale().x(), t.scale().y(), t.scale().z()));
    }
    if (i < first) {
      return o;
    }
    if (n.camera() >= 0) {
      o.put("camera", cameras.size());
      cameras.add(camera(scene.cameras().get(n.camera())));
    }
    if (n.light() >= 0) {
      o.put("extensions", Map.of(LIGHTS, Map.of("light", lights.size())));
      lights.add(light(scene.lights().get(n.light())));
    }
    if (n.mesh() >= 0) {
      o.put("mesh", meshes.size());
      Primitive p = scene.meshes().get(n.mesh()).primitives().get(0);
      meshes.add(mesh(n.name(), p));
      materials.add(material(scene.materials().get(p.material())));
      if (!n.cameraSees()) {
        o.put("extras", Map.of("cameraSees", false));
      }
    }
    return o;
  }

  private static Object camera(Camera c) {
    return c.perspective()
        ? Map.of(
            "name",
            c.name(),
            "type",
            "perspective",
            "perspective",
            Map.of("yfov", c.verticalAngle(), "znear", 0.01))
        : Map.of(
            "name",
            c.name(),
            "type",
            "orthographic",
            "orthographic",
            Map.of("xmag", c.halfHeight(), "ymag", c.halfHeight(), "znear", 0.01, "zfar", 10_000));
  }

  private static Object light(Light l) {
    Map<String, Object> o = new LinkedHashMap<>();
    o.put("name", l.name());
    o.put("type", l.kind().name().toLowerCase(Locale.ROOT));
    o.put("color", List.of(l.color()[0], l.color()[1], l.color()[2]));
    o.put("intensity", l.intensity());
    if (l.kind() == Light.Kind.SPOT) {
      o.put("spot", Map.of("innerConeAngle", l.innerAngle(), "outerConeAngle", l.outerAngle()));
    }
    o.put("extras", Map.of("size", l.size(), "cameraSees", l.cameraSees()));
    return o;
  }

  private Object material(Material m) {
    float[] e = m.emission();
    float most = Math.max(e[0], Math.max(e[1], e[2]));
    Map<String, Object> o = new LinkedHashMap<>();
    o.put("name", m.name());
    o.put(
        "pbrMetallicRoughness",
        Map.of(
            "baseColorFactor",
            List.of(m.baseColor()[0], m.baseColor()[1], m.baseColor()[2], m.baseColor()[3]),
            "metallicFactor",
            m.metallic(),
            "roughnessFactor",
            m.roughness()));
    if (most > 0) {
      o.put("emissiveFactor", List.of(e[0] / most, e[1] / most, e[2] / most));
      o.put("extensions", Map.of(STRENGTH, Map.of("emissiveStrength", most)));
      extensions.add(STRENGTH);
    }
    return o;
  }

  private Object mesh(String name, Primitive p) {
    int positions = accessor(p.positions(), 3, VERTICES, true);
    int normals = accessor(p.normals(), 3, VERTICES, false);
    int indices = accessors.size();
    ByteBuffer b = little(4 * p.indices().length);
    for (int i : p.indices()) {
      b.putInt(i);
    }
    put(b, p.indices().length, UNSIGNED_INT, "SCALAR", CORNERS, null, null);
    return Map.of(
        "name",
        name,
        "primitives",
        List.of(
            Map.of(
                "attributes",
                Map.of("POSITION", positions, "NORMAL", normals),
                "indices",
                indices,
                "material",
                materials.size())));
  }

  private static ByteBuffer little(int bytes) {
    return ByteBuffer.allocate(bytes).order(ByteOrder.LITTLE_ENDIAN);
  }

  private int accessor(float[] v, int width, int target, boolean bounds) {
    float[] least = new float[width];
    float[] most = new float[width];
    ByteBuffer b = little(4 * v.length);
    for (int i = 0; i < v.length; i++) {
      int k = i % width;
      least[k] = i < width ? v[i] : Math.min(least[k], v[i]);
      most[k] = i < width ? v[i] : Math.max(most[k], v[i]);
      b.putFloat(v[i]);
    }
    String type = width == 1 ? "SCALAR" : "VEC" + width;
    put(
        b,
        v.length / width,
        FLOAT,
        type,
        target,
        bounds ? list(least) : null,
        bounds ? list(most) : null);
    return accessors.size() - 1;
  }

  private static List<Float> list(float[] v) {
    List<Float> all = new ArrayList<>();
    for (float x : v) {
      all.add(x);
    }
    return all;
  }

  private void put(
      ByteBuffer b, int count, int kind, String type, int target, List<?> min, List<?> max) {
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("buffer", 0);
    view.put("byteOffset", binary.size());
    view.put("byteLength", b.capacity());
    if (target > 0) {
      view.put("target", target);
    }
    binary.writeBytes(b.array());
    Map<String, Object> a = new LinkedHashMap<>();
    a.put("bufferView", views.size());
    a.put("componentType", kind);
    a.put("count", count);
    a.put("type", type);
    if (min != null) {
      a.put("min", min);
      a.put("max", max);
    }
    views.add(view);
    accessors.add(a);
  }

  /** What moves the nodes that are written, and changes what hangs on the rig's. */
  private List<Object> animations() {
    List<Object> all = new ArrayList<>();
    for (Animation a : scene.animations()) {
      List<Object> channels = new ArrayList<>();
      List<Object> samplers = new ArrayList<>();
      for (Channel c : a.channels()) {
        Integer node = numbers.get(c.node());
        if (node != null && c.path().places()) {
          String path = c.path() == Path.SCALE ? "scale" : word(c.path());
          channel(
              Map.of("node", node, "path", path), c.curve(), c.path().width(), channels, samplers);
        }
      }
      if (a.name().equals(Animation.RIG)) {
        a.values().forEach(v -> value(v, channels, samplers));
      }
      if (!channels.isEmpty()) {
        all.add(Map.of("name", a.name(), "channels", channels, "samplers", samplers));
      }
    }
    return all;
  }

  private static String word(Path p) {
    return p == Path.TRANSLATION ? "translation" : "rotation";
  }

  private void value(Value v, List<Object> channels, List<Object> samplers) {
    Curve curve = v.curve();
    String at =
        switch (v.property()) {
          case VIEW_ANGLE -> "/cameras/" + camera(v.index()) + "/perspective/yfov";
          case VIEW_HEIGHT -> "/cameras/" + camera(v.index()) + "/orthographic/ymag";
          case LIGHT_INTENSITY ->
              "/extensions/" + LIGHTS + "/lights/" + light(v.index()) + "/intensity";
          case EMISSION ->
              "/materials/" + material(v.index()) + "/extensions/" + STRENGTH + "/emissiveStrength";
          default -> null;
        };
    if (at == null) {
      return;
    }
    if (v.property() == Property.EMISSION) {
      curve = strengths(curve);
    }
    extensions.add(AnimationReader.POINTER);
    channel(
        Map.of(
            "path",
            "pointer",
            "extensions",
            Map.of(AnimationReader.POINTER, Map.of("pointer", at))),
        curve,
        1,
        channels,
        samplers);
  }

  /** Returns the brightest of red, green and blue at each key. */
  private static Curve strengths(Curve c) {
    float[] most = new float[c.times().length];
    for (int i = 0; i < most.length; i++) {
      float[] v = c.values();
      most[i] = Math.max(v[3 * i], Math.max(v[3 * i + 1], v[3 * i + 2]));
    }
    return new Curve(c.interpolation(), c.times(), most);
  }

  /** Returns the number of a camera among those that are written: they come in the nodes' order. */
  private int camera(int index) {
    return before(i -> scene.nodes().get(i).camera(), index);
  }

  private int light(int index) {
    return before(i -> scene.nodes().get(i).light(), index);
  }

  private int material(int index) {
    return before(
        i -> {
          int mesh = scene.nodes().get(i).mesh();
          return mesh < 0 ? -1 : scene.meshes().get(mesh).primitives().get(0).material();
        },
        index);
  }

  private int before(IntUnaryOperator of, int index) {
    int n = 0;
    for (int i = first; i < scene.nodes().size() && of.applyAsInt(i) != index; i++) {
      n += of.applyAsInt(i) >= 0 ? 1 : 0;
    }
    return n;
  }

  private void channel(
      Map<String, ?> target, Curve c, int width, List<Object> channels, List<Object> samplers) {
    int times = accessor(c.times(), 1, 0, true);
    int values = accessor(c.values(), width, 0, false);
    String how =
        c.interpolation() == Interpolation.CUBIC ? "CUBICSPLINE" : c.interpolation().name();
    channels.add(Map.of("sampler", samplers.size(), "target", target));
    samplers.add(Map.of("input", times, "output", values, "interpolation", how));
  }
}
