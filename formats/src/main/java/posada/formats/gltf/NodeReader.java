package posada.formats.gltf;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.IntStream;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Node;
import posada.core.scene.Skin;
import posada.core.scene.Trs;

/** Reads the tree of nodes of the scene that is shown, parents first, with cameras and lights. */
final class NodeReader {
  static final String VISIBILITY = "KHR_node_visibility";

  private final GltfFile file;
  private final List<de.javagl.jgltf.impl.v2.Node> given;
  final List<Node> nodes = new ArrayList<>();
  final List<Camera> cameras = new ArrayList<>();
  final List<Light> lights = new ArrayList<>();

  /** Of each camera the distance before which other programs show nothing, metres. */
  final List<Double> near = new ArrayList<>();

  /** glTF node number to the number in {@link #nodes}, -1 if the scene does not show it. */
  final int[] nodeAt;

  /** The file's number of each camera and light. */
  private final List<Integer> cameraFrom = new ArrayList<>();

  private final List<Integer> lightFrom = new ArrayList<>();
  private final Set<String> names = new HashSet<>();
  private final AccessorReader accessors;

  NodeReader(GltfFile file) throws ImportException {
    this.file = file;
    accessors = new AccessorReader(file);
    given = file.gltf.getNodes() == null ? List.of() : file.gltf.getNodes();
    nodeAt = new int[given.size()];
    Arrays.fill(nodeAt, -1);
    int[] parent = parents();
    ArrayDeque<Integer> open = new ArrayDeque<>(roots(parent));
    while (!open.isEmpty()) {
      int i = open.removeFirst();
      if (nodeAt[i] >= 0) {
        continue;
      }
      nodeAt[i] = nodes.size();
      nodes.add(node(i, parent[i] < 0 ? -1 : nodeAt[parent[i]]));
      if (given.get(i).getChildren() != null) {
        open.addAll(given.get(i).getChildren());
      }
    }
  }

  private int[] parents() throws ImportException {
    int[] parent = new int[given.size()];
    Arrays.fill(parent, -1);
    for (int i = 0; i < parent.length; i++) {
      List<Integer> children = given.get(i).getChildren();
      for (int c : children == null ? List.<Integer>of() : children) {
        if (c < 0 || c >= parent.length) {
          throw file.failure("node " + i, "has child " + c + ", which does not exist");
        }
        if (parent[c] >= 0) {
          throw file.failure(
              "node " + c, "hangs under node " + parent[c] + " and node " + i + " at once");
        }
        parent[c] = i;
      }
    }
    byte[] seen = new byte[parent.length];
    for (int i = 0; i < parent.length; i++) {
      int j = i;
      while (j >= 0 && seen[j] == 0) {
        seen[j] = 1;
        j = parent[j];
      }
      if (j >= 0 && seen[j] == 1) {
        throw file.failure("node " + j, "is its own ancestor: the nodes form a loop");
      }
      for (j = i; j >= 0 && seen[j] == 1; j = parent[j]) {
        seen[j] = 2;
      }
    }
    return parent;
  }

  private List<Integer> roots(int[] parent) throws ImportException {
    var scenes = file.gltf.getScenes();
    if (scenes == null || scenes.isEmpty()) {
      List<Integer> all = new ArrayList<>();
      for (int i = 0; i < parent.length; i++) {
        if (parent[i] < 0) {
          all.add(i);
        }
      }
      return all;
    }
    int shown = sceneIndex();
    List<Integer> roots = scenes.get(shown).getNodes();
    for (int r : roots == null ? List.<Integer>of() : roots) {
      if (r < 0 || r >= parent.length) {
        throw file.failure("scene " + shown, "shows node " + r + ", which does not exist");
      }
      if (parent[r] >= 0) {
        throw file.failure("scene " + shown, "shows node " + r + ", which is not a root");
      }
    }
    return roots == null ? List.of() : roots;
  }

  /** Returns the scene that the file says is shown, or the first. */
  int sceneIndex() {
    Integer s = file.gltf.getScene();
    return s == null || s < 0 || s >= file.gltf.getScenes().size() ? 0 : s;
  }

  private Node node(int i, int parent) throws ImportException {
    de.javagl.jgltf.impl.v2.Node n = given.get(i);
    String name = unique(n.getName() == null || n.getName().isBlank() ? "node " + i : n.getName());
    int mesh = n.getMesh() == null ? -1 : n.getMesh();
    int count = file.gltf.getMeshes() == null ? 0 : file.gltf.getMeshes().size();
    if (mesh >= count) {
      throw file.failure("node \"" + name + "\"", "shows mesh " + mesh + ", which does not exist");
    }
    Affine matrix = null;
    Trs trs = null;
    if (n.getMatrix() != null && n.getMatrix().length == 16) {
      matrix = Affine.ofColumns(numbers(n.getMatrix(), name));
    } else {
      trs =
          new Trs(
              vector(n.getTranslation(), 0, name),
              rotation(n.getRotation(), name),
              vector(n.getScale(), 1, name));
    }
    boolean seen =
        !(n.getExtras() instanceof Map<?, ?> e && Boolean.FALSE.equals(e.get("cameraSees")));
    boolean shown =
        n.getExtensions() == null
            || !(n.getExtensions().get(VISIBILITY) instanceof Map<?, ?> v)
            || !Boolean.FALSE.equals(v.get("visible"));
    return new Node(
        name,
        parent,
        trs,
        matrix,
        mesh,
        camera(n, name),
        light(n, name),
        mesh < 0 || n.getSkin() == null ? -1 : n.getSkin(),
        n.getWeights() == null ? null : floats(n.getWeights()),
        mesh < 0 ? null : copies(n, name),
        shown,
        seen);
  }

  /** Placements of EXT_mesh_gpu_instancing; null if the node has none. */
  private List<Affine> copies(de.javagl.jgltf.impl.v2.Node n, String name) throws ImportException {
    if (n.getExtensions() == null
        || !(n.getExtensions().get("EXT_mesh_gpu_instancing") instanceof Map<?, ?> e)
        || !(e.get("attributes") instanceof Map<?, ?> a)) {
      return null;
    }
    String element = "node \"" + name + "\"";
    float[] t = attribute(a.get("TRANSLATION"), 3, element);
    float[] r = attribute(a.get("ROTATION"), 4, element);
    float[] s = attribute(a.get("SCALE"), 3, element);
    int count = -1;
    for (int c : new int[] {length(t, 3), length(r, 4), length(s, 3)}) {
      count = count < 0 || c >= 0 && c < count ? c : count;
    }
    List<Affine> all = new ArrayList<>();
    for (int i = 0; i < count; i++) {
      Vec3 at = t == null ? Vec3.ZERO : new Vec3(t[i * 3], t[i * 3 + 1], t[i * 3 + 2]);
      Vec3 by = s == null ? Vec3.ONE : new Vec3(s[i * 3], s[i * 3 + 1], s[i * 3 + 2]);
      Quat q =
          r == null
              ? Quat.IDENTITY
              : new Quat(r[i * 4], r[i * 4 + 1], r[i * 4 + 2], r[i * 4 + 3]).normalized();
      all.add(Affine.of(at, q, by));
    }
    return all;
  }

  static float[] floats(List<Float> given) {
    float[] f = new float[given.size()];
    for (int i = 0; i < f.length; i++) {
      f[i] = given.get(i) == null || !Float.isFinite(given.get(i)) ? 0 : given.get(i);
    }
    return f;
  }

  private static int length(float[] a, int each) {
    return a == null ? -1 : a.length / each;
  }

  private float[] attribute(Object index, int components, String element) throws ImportException {
    if (!(index instanceof Number n)) {
      return null;
    }
    float[] v = accessors.floats(n.intValue(), components, element);
    for (float f : v) {
      if (!Float.isFinite(f)) {
        throw file.failure(element, "is placed by a number that is not finite");
      }
    }
    return v;
  }

  /** Reads all skins that shown nodes use; joints that the scene does not show are an error. */
  List<Skin> skins() throws ImportException {
    List<Skin> all = new ArrayList<>();
    var given = file.gltf.getSkins();
    for (int i = 0; given != null && i < given.size(); i++) {
      var s = given.get(i);
      String element = "skin " + i;
      List<Integer> joints = s.getJoints() == null ? List.of() : s.getJoints();
      float[] inverse =
          s.getInverseBindMatrices() == null
              ? null
              : accessors.floats(s.getInverseBindMatrices(), 16, element);
      int[] at = new int[joints.size()];
      List<Affine> rest = new ArrayList<>();
      for (int j = 0; j < at.length; j++) {
        int node = joints.get(j);
        if (node < 0 || node >= nodeAt.length) {
          throw file.failure(element, "hangs on node " + node + ", which does not exist");
        }
        at[j] = Math.max(0, nodeAt[node]);
        if (nodeAt[node] < 0) {
          file.remark("Skin " + i + " hangs on a node that the scene does not show.");
        }
        rest.add(inverse == null ? Affine.IDENTITY : matrix(inverse, j, element));
      }
      all.add(new Skin(s.getName() == null ? element : s.getName(), at, rest));
    }
    for (Node n : nodes) {
      if (n.skin() >= all.size()) {
        throw file.failure(
            "node \"" + n.name() + "\"", "has skin " + n.skin() + ", which does not exist");
      }
    }
    return all;
  }

  private Affine matrix(float[] m, int j, String element) throws ImportException {
    if ((j + 1) * 16 > m.length) {
      throw file.failure(element, "has fewer rest placements than joints");
    }
    return Affine.ofColumns(numbers(Arrays.copyOfRange(m, j * 16, j * 16 + 16), element));
  }

  String unique(String name) {
    String free = name;
    for (int k = 2; !names.add(free); k++) {
      free = name + "-" + k;
    }
    return free;
  }

  private double[] numbers(float[] f, String name) throws ImportException {
    double[] d = new double[f.length];
    for (int i = 0; i < f.length; i++) {
      if (!Float.isFinite(f[i])) {
        throw file.failure("node \"" + name + "\"", "is placed by a number that is not finite");
      }
      d[i] = f[i];
    }
    return d;
  }

  private Vec3 vector(float[] f, double otherwise, String name) throws ImportException {
    if (f == null || f.length < 3) {
      return new Vec3(otherwise, otherwise, otherwise);
    }
    double[] d = numbers(f, name);
    return new Vec3(d[0], d[1], d[2]);
  }

  private Quat rotation(float[] f, String name) throws ImportException {
    if (f == null || f.length < 4) {
      return Quat.IDENTITY;
    }
    double[] d = numbers(f, name);
    Quat q = new Quat(d[0], d[1], d[2], d[3]);
    if (Math.abs(Math.sqrt(q.dot(q)) - 1) > 1e-3) {
      file.remark(
          "Node \"" + name + "\" has a rotation that is not of unit length; it was scaled.");
    }
    return q.normalized();
  }

  private int camera(de.javagl.jgltf.impl.v2.Node n, String name) throws ImportException {
    if (n.getCamera() == null) {
      return -1;
    }
    var all = file.gltf.getCameras();
    if (all == null || n.getCamera() < 0 || n.getCamera() >= all.size()) {
      throw file.failure(
          "node \"" + name + "\"", "holds camera " + n.getCamera() + ", which does not exist");
    }
    var c = all.get(n.getCamera());
    try {
      if ("orthographic".equals(c.getType()) && c.getOrthographic() != null) {
        Float y = c.getOrthographic().getYmag();
        cameras.add(new Camera(name, 0, y == null ? 1 : Math.abs(y)));
      } else {
        Float y = c.getPerspective() == null ? null : c.getPerspective().getYfov();
        if (y == null) {
          file.remark("Camera \"" + name + "\" gives no angle of view; 45 degrees are used.");
        }
        cameras.add(new Camera(name, y == null ? Math.PI / 4 : y, 0));
      }
    } catch (IllegalArgumentException e) {
      file.remark("Camera \"" + name + "\" gives an impossible view; 45 degrees are used.");
      cameras.add(new Camera(name, Math.PI / 4, 0));
    }
    Float z =
        c.getPerspective() != null
            ? c.getPerspective().getZnear()
            : c.getOrthographic() == null ? null : c.getOrthographic().getZnear();
    near.add(z == null ? 0.0 : z);
    cameraFrom.add(n.getCamera());
    return cameras.size() - 1;
  }

  private int light(de.javagl.jgltf.impl.v2.Node n, String name) throws ImportException {
    if (n.getExtensions() == null
        || !(n.getExtensions().get("KHR_lights_punctual") instanceof Map<?, ?> ref)
        || !(ref.get("light") instanceof Number index)) {
      return -1;
    }
    List<?> all = definedLights();
    int i = index.intValue();
    if (i < 0 || i >= all.size() || !(all.get(i) instanceof Map<?, ?> m)) {
      throw file.failure("node \"" + name + "\"", "holds light " + i + ", which does not exist");
    }
    lights.add(punctual(m, name));
    lightFrom.add(i);
    return lights.size() - 1;
  }

  /** Returns the lights that the file defines, by number. */
  private List<?> definedLights() {
    return file.gltf.getExtensions() != null
            && file.gltf.getExtensions().get("KHR_lights_punctual") instanceof Map<?, ?> top
            && top.get("lights") instanceof List<?> l
        ? l
        : List.of();
  }

  /**
   * Returns the numbers in {@link #cameras} of what shows one of the file's cameras; null if there
   * is no such one.
   */
  int[] camerasOf(int given) {
    List<?> all = file.gltf.getCameras();
    return all == null || given >= all.size() ? null : of(given, cameraFrom);
  }

  /** Returns the numbers in {@link #lights} likewise. */
  int[] lightsOf(int given) {
    return given >= definedLights().size() ? null : of(given, lightFrom);
  }

  private static int[] of(int given, List<Integer> from) {
    return IntStream.range(0, from.size()).filter(i -> from.get(i) == given).toArray();
  }

  private Light punctual(Map<?, ?> m, String name) {
    Light.Kind kind =
        switch (String.valueOf(m.get("type"))) {
          case "directional" -> Light.Kind.DIRECTIONAL;
          case "spot" -> Light.Kind.SPOT;
          default -> Light.Kind.POINT;
        };
    float[] color = {1, 1, 1};
    if (m.get("color") instanceof List<?> c && c.size() >= 3) {
      for (int k = 0; k < 3; k++) {
        color[k] = (float) number(c.get(k), 1);
        if (color[k] < 0) {
          file.remark("Light \"" + name + "\" has a colour below 0; 0 is used.");
          color[k] = 0;
        }
      }
    }
    double range = number(m.get("range"), Double.POSITIVE_INFINITY);
    double inner = 0;
    double outer = Math.PI / 4;
    if (m.get("spot") instanceof Map<?, ?> s) {
      inner = number(s.get("innerConeAngle"), 0);
      outer = number(s.get("outerConeAngle"), Math.PI / 4);
    }
    if (kind == Light.Kind.SPOT && !(inner < outer && outer <= Math.PI / 2)) {
      file.remark("Light \"" + name + "\" has a cone that does not open; its edge was made hard.");
      outer = Math.max(1e-3, Math.min(Math.PI / 2, outer));
      inner = outer * 0.99;
    }
    Map<?, ?> extras = m.get("extras") instanceof Map<?, ?> e ? e : Map.of();
    double size = number(extras.get("size"), 0);
    double intensity = number(m.get("intensity"), 1);
    if (!(intensity >= 0)) {
      file.remark("Light \"" + name + "\" has intensity " + intensity + "; 0 is used.");
      intensity = 0;
    }
    return new Light(
        name,
        kind,
        color,
        intensity,
        range > 0 ? range : Double.POSITIVE_INFINITY,
        inner,
        outer,
        Math.max(0, size),
        Boolean.TRUE.equals(extras.get("cameraSees")));
  }

  static double number(Object o, double otherwise) {
    return o instanceof Number n && Double.isFinite(n.doubleValue()) ? n.doubleValue() : otherwise;
  }
}
