package posada.demo;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import javax.imageio.ImageIO;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import tools.jackson.databind.json.JsonMapper;

/** Collects a scene and writes it as GLB (glTF 2.0, section 4). */
final class GlbBuilder {
  private final ByteArrayOutputStream binary = new ByteArrayOutputStream();
  private final List<Object> views = new ArrayList<>();
  private final List<Object> accessors = new ArrayList<>();
  private final List<Object> materials = new ArrayList<>();
  private final List<Object> meshes = new ArrayList<>();
  private final List<Map<String, Object>> nodes = new ArrayList<>();
  private final List<Object> cameras = new ArrayList<>();
  private final List<Object> lights = new ArrayList<>();
  private final List<Object> samplers = new ArrayList<>();
  private final List<Object> channels = new ArrayList<>();
  private final List<Integer> roots = new ArrayList<>();
  private final Map<String, Object> sceneExtras = new LinkedHashMap<>();
  private final List<Object> images = new ArrayList<>();
  private final TreeSet<String> extensions = new TreeSet<>();

  static Map<String, Object> map(Object... pairs) {
    Map<String, Object> m = new LinkedHashMap<>();
    for (int i = 0; i < pairs.length; i += 2) {
      m.put((String) pairs[i], pairs[i + 1]);
    }
    return m;
  }

  int material(String name, double r, double g, double b, double metallic, double roughness) {
    materials.add(
        map(
            "name",
            name,
            "pbrMetallicRoughness",
            map(
                "baseColorFactor",
                List.of(r, g, b, 1.0),
                "metallicFactor",
                metallic,
                "roughnessFactor",
                roughness)));
    return materials.size() - 1;
  }

  /** Adds a material that gives off light: colour of up to 1 times a strength. */
  int lamp(String name, double r, double g, double b, double strength) {
    extensions.add("KHR_materials_emissive_strength");
    materials.add(
        map(
            "name",
            name,
            "pbrMetallicRoughness",
            map(
                "baseColorFactor",
                List.of(0.02, 0.02, 0.02, 1.0),
                "metallicFactor",
                0.0,
                "roughnessFactor",
                0.4),
            "emissiveFactor",
            List.of(r, g, b),
            "extensions",
            map("KHR_materials_emissive_strength", map("emissiveStrength", strength))));
    return materials.size() - 1;
  }

  /**
   * Adds a material as glTF describes it; its extensions are listed by themselves.
   *
   * @param m a map without name
   */
  int material(String name, Map<String, Object> m) {
    Map<String, Object> named = map("name", name);
    named.putAll(m);
    if (m.get("extensions") instanceof Map<?, ?> e) {
      e.keySet().forEach(k -> extensions.add((String) k));
    }
    materials.add(named);
    return materials.size() - 1;
  }

  /** Returns the plain part of a material: base colour, metallic and roughness. */
  static Map<String, Object> plain(double r, double g, double b, double metallic, double rough) {
    return map(
        "baseColorFactor",
        List.of(r, g, b, 1.0),
        "metallicFactor",
        metallic,
        "roughnessFactor",
        rough);
  }

  /** Adds an image as a PNG inside the file; returns the number of its texture. */
  int texture(String name, BufferedImage image) {
    ByteArrayOutputStream png = new ByteArrayOutputStream();
    try {
      ImageIO.write(image, "png", png);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    images.add(
        map("name", name, "mimeType", "image/png", "bufferView", view(png.toByteArray(), 0)));
    return images.size() - 1;
  }

  /** Adds a reference to a file that is not there; returns the number of its texture. */
  int missingTexture(String file) {
    images.add(map("name", file, "uri", file));
    return images.size() - 1;
  }

  /** One shape of a mesh with its material. */
  record Part(Shape shape, int material) {}

  int mesh(String name, Part... parts) {
    List<Object> primitives = new ArrayList<>();
    for (Part p : parts) {
      Shape s = p.shape;
      Map<String, Object> attributes = new LinkedHashMap<>();
      attributes.put(
          "POSITION", floats(Arrays.copyOf(s.positions, s.vertices * 3), 3, 34962, true));
      attributes.put("NORMAL", floats(Arrays.copyOf(s.normals, s.vertices * 3), 3, 34962, false));
      if (s.uvs != null) {
        attributes.put("TEXCOORD_0", floats(s.uvs, 2, 34962, false));
      }
      if (s.colors != null) {
        attributes.put("COLOR_0", floats(s.colors, 4, 34962, false));
      }
      primitives.add(
          map(
              "attributes",
              attributes,
              "indices",
              indices(Arrays.copyOf(s.indices, s.corners)),
              "material",
              p.material));
    }
    meshes.add(map("name", name, "primitives", primitives));
    return meshes.size() - 1;
  }

  private int view(byte[] bytes, int target) {
    while (binary.size() % 4 != 0) {
      binary.write(0);
    }
    Map<String, Object> v =
        map("buffer", 0, "byteOffset", binary.size(), "byteLength", bytes.length);
    if (target != 0) {
      v.put("target", target);
    }
    binary.writeBytes(bytes);
    views.add(v);
    return views.size() - 1;
  }

  private int floats(float[] v, int components, int target, boolean bounds) {
    ByteBuffer b = ByteBuffer.allocate(v.length * 4).order(ByteOrder.LITTLE_ENDIAN);
    for (float f : v) {
      b.putFloat(f);
    }
    Map<String, Object> a =
        map(
            "bufferView",
            view(b.array(), target),
            "componentType",
            5126,
            "count",
            v.length / components,
            "type",
            components == 1 ? "SCALAR" : "VEC" + components);
    if (bounds) {
      float[] lo = Arrays.copyOf(v, components);
      float[] hi = Arrays.copyOf(v, components);
      for (int i = 0; i < v.length; i++) {
        lo[i % components] = Math.min(lo[i % components], v[i]);
        hi[i % components] = Math.max(hi[i % components], v[i]);
      }
      a.put("min", lo);
      a.put("max", hi);
    }
    accessors.add(a);
    return accessors.size() - 1;
  }

  private int indices(int[] v) {
    ByteBuffer b = ByteBuffer.allocate(v.length * 4).order(ByteOrder.LITTLE_ENDIAN);
    for (int i : v) {
      b.putInt(i);
    }
    accessors.add(
        map(
            "bufferView",
            view(b.array(), 34963),
            "componentType",
            5125,
            "count",
            v.length,
            "type",
            "SCALAR"));
    return accessors.size() - 1;
  }

  /**
   * Adds a node.
   *
   * @param parent number of the parent, or -1
   */
  int node(String name, int parent, Vec3 t, Quat r, double scale) {
    Map<String, Object> n = map("name", name, "translation", List.of(t.x(), t.y(), t.z()));
    if (r != null) {
      n.put("rotation", List.of(r.x(), r.y(), r.z(), r.w()));
    }
    if (scale != 1) {
      n.put("scale", List.of(scale, scale, scale));
    }
    nodes.add(n);
    int i = nodes.size() - 1;
    if (parent < 0) {
      roots.add(i);
    } else {
      @SuppressWarnings("unchecked")
      List<Object> children =
          (List<Object>) nodes.get(parent).computeIfAbsent("children", k -> new ArrayList<>());
      children.add(i);
    }
    return i;
  }

  int place(String name, int parent, int mesh, Vec3 t, Quat r, double scale) {
    int n = node(name, parent, t, r, scale);
    nodes.get(n).put("mesh", mesh);
    return n;
  }

  /** Adds a camera looking from {@code eye} to {@code target} in its parent's space. */
  int camera(String name, int parent, Vec3 eye, Vec3 target, double verticalDegrees) {
    cameras.add(
        map(
            "name",
            name,
            "type",
            "perspective",
            "perspective",
            map("yfov", Math.toRadians(verticalDegrees), "znear", 0.1, "zfar", 20000.0)));
    int n = node(name, parent, eye, Quat.looking(target.minus(eye), new Vec3(0, 1, 0)), 1);
    nodes.get(n).put("camera", cameras.size() - 1);
    return n;
  }

  /** Adds a point light, or a directional one if {@code direction} is given. */
  void light(
      String name,
      int parent,
      Vec3 at,
      Vec3 direction,
      float[] color,
      double intensity,
      double size) {
    lights.add(
        map(
            "name",
            name,
            "type",
            direction == null ? "point" : "directional",
            "color",
            color,
            "intensity",
            intensity,
            "extras",
            map("size", size)));
    Quat r = direction == null ? null : Quat.looking(direction, new Vec3(0, 1, 0));
    int n = node(name, parent, at, r, 1);
    nodes.get(n).put("extensions", map("KHR_lights_punctual", map("light", lights.size() - 1)));
  }

  void environment(Map<String, Object> environment) {
    sceneExtras.put("environment", environment);
  }

  /**
   * Adds keys.
   *
   * @param path translation or rotation
   * @param how LINEAR, STEP or CUBICSPLINE
   */
  void animate(int node, String path, String how, float[] times, float[] values) {
    samplers.add(
        map(
            "input",
            floats(times, 1, 0, true),
            "output",
            floats(values, path.equals("rotation") ? 4 : 3, 0, false),
            "interpolation",
            how));
    channels.add(map("sampler", samplers.size() - 1, "target", map("node", node, "path", path)));
  }

  /** Returns the file. */
  byte[] write(String animationName) {
    while (binary.size() % 4 != 0) {
      binary.write(0);
    }
    Map<String, Object> g = new LinkedHashMap<>();
    g.put("asset", map("version", "2.0", "generator", "Posada demo", "copyright", "Larkspur Line"));
    List<String> used = new ArrayList<>();
    if (!lights.isEmpty()) {
      used.add("KHR_lights_punctual");
      g.put("extensions", map("KHR_lights_punctual", map("lights", lights)));
    }
    used.addAll(extensions);
    if (!used.isEmpty()) {
      g.put("extensionsUsed", used);
    }
    g.put("scene", 0);
    Map<String, Object> scene = map("nodes", roots);
    if (!sceneExtras.isEmpty()) {
      scene.put("extras", sceneExtras);
    }
    g.put("scenes", List.of(scene));
    g.put("nodes", nodes);
    g.put("meshes", meshes);
    g.put("materials", materials);
    if (!images.isEmpty()) {
      List<Object> textures = new ArrayList<>();
      for (int i = 0; i < images.size(); i++) {
        textures.add(map("source", i, "sampler", 0));
      }
      g.put("samplers", List.of(map("wrapS", 10497, "wrapT", 10497)));
      g.put("textures", textures);
      g.put("images", images);
    }
    if (!cameras.isEmpty()) {
      g.put("cameras", cameras);
    }
    if (!channels.isEmpty()) {
      g.put(
          "animations",
          List.of(map("name", animationName, "samplers", samplers, "channels", channels)));
    }
    g.put("accessors", accessors);
    g.put("bufferViews", views);
    g.put("buffers", List.of(map("byteLength", binary.size())));
    return container(g);
  }

  private byte[] container(Map<String, Object> gltf) {
    byte[] json = new JsonMapper().writeValueAsBytes(gltf);
    int padded = (json.length + 3) / 4 * 4;
    int total = 12 + 8 + padded + 8 + binary.size();
    ByteBuffer out = ByteBuffer.allocate(total).order(ByteOrder.LITTLE_ENDIAN);
    out.putInt(0x46546C67).putInt(2).putInt(total);
    out.putInt(padded).putInt(0x4E4F534A).put(json);
    for (int i = json.length; i < padded; i++) {
      out.put((byte) ' ');
    }
    out.putInt(binary.size()).putInt(0x004E4942).put(binary.toByteArray());
    return out.array();
  }
}
