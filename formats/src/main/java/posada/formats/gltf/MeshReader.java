package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.Accessor;
import de.javagl.jgltf.impl.v2.MeshPrimitive;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import posada.core.scene.Mesh;
import posada.core.scene.Primitive;

/** Reads meshes: strips and fans become triangles, small faults are mended and remarked on. */
final class MeshReader {
  private static final int TRIANGLES = 4;
  private static final int STRIP = 5;
  private static final int FAN = 6;

  /** How far bounds may be off, as a share of a mesh's size: by rounding, and by compression. */
  private static final double SLACK = 1e-5;

  private static final double PACKED_SLACK = 2e-3;

  private final GltfFile file;
  private final PackedMeshes packed;
  private final int materials;

  /** Number of the material that stands for "none given". */
  private final int defaultMaterial;

  /** Reads what belongs to the part that is being read. */
  private AccessorReader accessors;

  MeshReader(GltfFile file, int materials) {
    this.file = file;
    this.packed = new PackedMeshes(file);
    this.materials = materials;
    this.defaultMaterial = materials;
  }

  Mesh read(int index) throws ImportException {
    de.javagl.jgltf.impl.v2.Mesh m = file.gltf.getMeshes().get(index);
    String name = m.getName() == null || m.getName().isBlank() ? "mesh " + index : m.getName();
    List<Primitive> primitives = new ArrayList<>();
    List<MeshPrimitive> given = m.getPrimitives() == null ? List.of() : m.getPrimitives();
    for (int i = 0; i < given.size(); i++) {
      Primitive p = primitive(given.get(i), "mesh \"" + name + "\" part " + i, name);
      if (p != null) {
        primitives.add(p);
      }
    }
    float[] weights = m.getWeights() == null ? new float[0] : NodeReader.floats(m.getWeights());
    return new Mesh(name, primitives, weights);
  }

  private Primitive primitive(MeshPrimitive p, String element, String name) throws ImportException {
    int mode = p.getMode() == null || PackedMeshes.packed(p) ? TRIANGLES : p.getMode();
    if (mode < 0 || mode > FAN) {
      throw file.failure(element, "has mode " + mode + ", which does not exist");
    }
    var a = p.getAttributes();
    if (a == null || a.get("POSITION") == null) {
      file.remark("Mesh \"" + name + "\" has a part without positions; it is left out.");
      return null;
    }
    accessors = packed.reader(p, element);
    float[] positions = accessors.floats(a.get("POSITION"), 3, element);
    finite(positions, element);
    bounds(a.get("POSITION"), positions, name, PackedMeshes.packed(p) ? PACKED_SLACK : SLACK);
    int vertices = positions.length / 3;
    int[] given = indices(p, vertices, element);
    if (mode < TRIANGLES) {
      float[] colors = colors(a.get("COLOR_0"), vertices, name, element);
      Primitive thick =
          new Wires(positions, colors, material(p.getMaterial(), element)).of(mode, given);
      if (p.getTargets() != null || a.get("JOINTS_0") != null) {
        file.remark("Mesh \"" + name + "\" bends points or lines; they keep their shape.");
      }
      return thick;
    }
    int[] indices = triangles(mode, given);
    if (indices.length == 0) {
      file.remark("Mesh \"" + name + "\" has a part without triangles; it is left out.");
      return null;
    }
    return new Primitive(
        positions,
        normals(a.get("NORMAL"), vertices, name, element),
        optional(a.get("TANGENT"), 4, vertices, name, element),
        uvs(a, vertices, name, element),
        colors(a.get("COLOR_0"), vertices, name, element),
        indices,
        material(p.getMaterial(), element),
        binding(a, vertices, name, element),
        targets(p, vertices, name, element));
  }

  private float[][] uvs(Map<String, Integer> a, int vertices, String name, String element)
      throws ImportException {
    int n = 0;
    for (String key : a.keySet()) {
      if (key.matches("TEXCOORD_[0-9]{1,2}")) {
        n = Math.max(n, 1 + Integer.parseInt(key.substring("TEXCOORD_".length())));
      }
    }
    float[][] sets = new float[n][];
    for (int i = 0; i < n; i++) {
      sets[i] = optional(a.get("TEXCOORD_" + i), 2, vertices, name, element);
    }
    return sets;
  }

  /** Joins all sets of influences; weights are made to add up to 1. */
  private Primitive.Binding binding(
      Map<String, Integer> a, int vertices, String name, String element) throws ImportException {
    int sets = 0;
    while (a.get("JOINTS_" + sets) != null && a.get("WEIGHTS_" + sets) != null) {
      sets++;
    }
    if (sets == 0) {
      return null;
    }
    int each = sets * 4;
    int[] joints = new int[vertices * each];
    float[] weights = new float[vertices * each];
    for (int s = 0; s < sets; s++) {
      float[] j = accessors.floats(a.get("JOINTS_" + s), 4, element);
      float[] w = accessors.floats(a.get("WEIGHTS_" + s), 4, element);
      if (j.length != vertices * 4 || w.length != vertices * 4) {
        file.remark("Mesh \"" + name + "\" has influences that do not fit; it is not bent.");
        return null;
      }
      for (int i = 0; i < w.length; i++) {
        int to = i / 4 * each + s * 4 + i % 4;
        joints[to] = (int) j[i];
        weights[to] = Float.isFinite(w[i]) ? Math.max(0, w[i]) : 0;
      }
    }
    normalise(weights, each, name);
    return new Primitive.Binding(each, joints, weights);
  }

  private void normalise(float[] w, int each, String name) {
    for (int v = 0; v < w.length; v += each) {
      float sum = 0;
      for (int i = 0; i < each; i++) {
        sum += w[v + i];
      }
      if (Math.abs(sum - 1) > 0.01) {
        file.remark("Mesh \"" + name + "\" has skin weights that do not add up to 1.");
      }
      for (int i = 0; i < each; i++) {
        w[v + i] = sum > 0 ? w[v + i] / sum : i == 0 ? 1 : 0;
      }
    }
  }

  private List<Primitive.Target> targets(MeshPrimitive p, int vertices, String name, String element)
      throws ImportException {
    List<Primitive.Target> all = new ArrayList<>();
    List<Map<String, Integer>> given = p.getTargets() == null ? List.of() : p.getTargets();
    for (Map<String, Integer> t : given) {
      all.add(
          new Primitive.Target(
              optional(t.get("POSITION"), 3, vertices, name, element),
              optional(t.get("NORMAL"), 3, vertices, name, element),
              optional(t.get("TANGENT"), 3, vertices, name, element)));
    }
    return all;
  }

  private int material(Integer m, String element) throws ImportException {
    if (m == null) {
      return defaultMaterial;
    }
    if (m < 0 || m >= materials) {
      throw file.failure(element, "refers to material " + m + ", which does not exist");
    }
    return m;
  }

  private void finite(float[] v, String element) throws ImportException {
    for (int i = 0; i < v.length; i++) {
      if (!Float.isFinite(v[i])) {
        throw file.failure(element, "has position " + i / 3 + " that is not a finite number");
      }
    }
  }

  /**
   * Remarks on bounds that are wrong.
   *
   * @param rounding how far they may be off, as a share of the size
   */
  private void bounds(Integer index, float[] positions, String name, double rounding)
      throws ImportException {
    Accessor a = file.accessor(index, name);
    if (a.getMin() == null || a.getMax() == null) {
      file.remark("Mesh \"" + name + "\" does not say its bounds; they were worked out.");
      return;
    }
    for (int k = 0; k < 3 && k < a.getMin().length && k < a.getMax().length; k++) {
      float lo = Float.POSITIVE_INFINITY;
      float hi = Float.NEGATIVE_INFINITY;
      for (int i = k; i < positions.length; i += 3) {
        lo = Math.min(lo, positions[i]);
        hi = Math.max(hi, positions[i]);
      }
      double slack = rounding * (hi - lo) + 1e-6 * Math.max(Math.abs(lo), Math.abs(hi));
      boolean normalized = Boolean.TRUE.equals(a.isNormalized());
      if (!normalized
          && (Math.abs(a.getMin()[k].doubleValue() - lo) > slack
              || Math.abs(a.getMax()[k].doubleValue() - hi) > slack)) {
        file.remark("Mesh \"" + name + "\" says wrong bounds; they were worked out anew.");
        return;
      }
    }
  }

  private int[] indices(MeshPrimitive p, int vertices, String element) throws ImportException {
    if (p.getIndices() == null) {
      int[] all = new int[vertices];
      for (int i = 0; i < vertices; i++) {
        all[i] = i;
      }
      return all;
    }
    int[] given = accessors.ints(p.getIndices(), element);
    for (int i : given) {
      if (i < 0 || i >= vertices) {
        throw file.failure(
            element,
            "uses vertex "
                + (i < 0 ? "beyond 2147483647" : i)
                + " of "
                + vertices
                + ": an index out of bounds");
      }
    }
    return given;
  }

  private static int[] triangles(int mode, int[] i) {
    if (mode == TRIANGLES) {
      return i.length % 3 == 0 ? i : java.util.Arrays.copyOf(i, i.length / 3 * 3);
    }
    int n = Math.max(0, i.length - 2);
    int[] t = new int[n * 3];
    for (int k = 0; k < n; k++) {
      boolean odd = mode == STRIP && (k & 1) == 1;
      t[k * 3] = mode == FAN ? i[0] : i[odd ? k + 1 : k];
      t[k * 3 + 1] = i[odd ? k : k + 1];
      t[k * 3 + 2] = i[k + 2];
    }
    return t;
  }

  private float[] optional(Integer index, int components, int vertices, String name, String element)
      throws ImportException {
    if (index == null) {
      return null;
    }
    float[] v = accessors.floats(index, components, element);
    if (v.length != vertices * components) {
      file.remark(
          "Mesh \""
              + name
              + "\" has "
              + v.length / components
              + " values for "
              + vertices
              + " vertices; they are ignored.");
      return null;
    }
    for (int i = 0; i < v.length; i++) {
      if (!Float.isFinite(v[i])) {
        v[i] = 0;
        file.remark("Mesh \"" + name + "\" has values that are not numbers; 0 is used for them.");
      }
    }
    return v;
  }

  private float[] normals(Integer index, int vertices, String name, String element)
      throws ImportException {
    float[] n = optional(index, 3, vertices, name, element);
    if (n == null) {
      file.remark("Mesh \"" + name + "\" has no normals; its triangles are shaded flat.");
      return null;
    }
    for (int i = 0; i < n.length; i += 3) {
      double l =
          Math.sqrt(
              (double) n[i] * n[i] + (double) n[i + 1] * n[i + 1] + (double) n[i + 2] * n[i + 2]);
      if (Math.abs(l - 1) > 0.01) {
        file.remark(
            "Mesh \"" + name + "\" has normals that are not of unit length; they were scaled.");
      }
      if (l > 0) {
        for (int k = 0; k < 3; k++) {
          n[i + k] /= (float) l;
        }
      } else {
        n[i + 1] = 1;
      }
    }
    return n;
  }

  private float[] colors(Integer index, int vertices, String name, String element)
      throws ImportException {
    if (index == null) {
      return null;
    }
    int n = accessors.components(index, element);
    float[] c = optional(index, n == 3 ? 3 : 4, vertices, name, element);
    if (c == null || n == 4) {
      return c;
    }
    float[] rgba = new float[vertices * 4];
    for (int i = 0; i < vertices; i++) {
      System.arraycopy(c, i * 3, rgba, i * 4, 3);
      rgba[i * 4 + 3] = 1;
    }
    return rgba;
  }
}
