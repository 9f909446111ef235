package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.scene.Primitive;

/** Numbers of meshes as the standard stores them (glTF 2.0, sections 3.6 and 3.7), and faults. */
class MeshReaderTest {
  private static final int BYTE = 5120;
  private static final int UNSIGNED_BYTE = 5121;
  private static final int SHORT = 5122;
  private static final int UNSIGNED_SHORT = 5123;
  private static final int UNSIGNED_INT = 5125;
  private static final int FLOAT = 5126;

  @TempDir Path folder;
  private final Glb g = new Glb();
  private final Map<String, Object> attributes = new LinkedHashMap<>();
  private final Map<String, Object> primitive = new LinkedHashMap<>();

  private static byte[] little(int bytes, double... v) {
    ByteBuffer b = ByteBuffer.allocate(v.length * bytes).order(ByteOrder.LITTLE_ENDIAN);
    for (double d : v) {
      if (bytes == 1) {
        b.put((byte) d);
      } else if (bytes == 2) {
        b.putShort((short) d);
      } else {
        b.putInt((int) (long) d);
      }
    }
    return b.array();
  }

  /** Five corners of a fan around the first, if no others are given. */
  private MeshReaderTest corners(float... positions) {
    float[] fan = {0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, -1, 1, 0};
    attributes.put("POSITION", g.floats("VEC3", 3, positions.length == 0 ? fan : positions));
    return this;
  }

  private ImportedScene load() throws Exception {
    primitive.put("attributes", attributes);
    g.root.put(
        "meshes", List.of(Map.of("name", "thing", "primitives", List.of(primitive, primitive))));
    g.nodes.add(Map.of("name", "placed", "mesh", 0));
    return SceneImporter.load(g.write(folder));
  }

  private Primitive read() throws Exception {
    return load().scene().meshes().get(0).primitives().get(0);
  }

  private String refusal() {
    String m = assertThrows(ImportException.class, this::load).getMessage();
    assertTrue(m.startsWith("s.gltf: "), m);
    return m;
  }

  private String remarks() throws Exception {
    return load().report().remarks().toString();
  }

  @ParameterizedTest
  @CsvSource({"4, 3", "5, 3", "6, 3"})
  void stripsAndFansTurnAllTrianglesTheSameWay(int mode, int triangles) throws Exception {
    // A strip runs up a ladder, a fan around its first corner: all of them face +Z.
    corners(0, 0, 0, 1, 0, 0, 0, 1, 0, 1, 1, 0, 0, 2, 0);
    if (mode == 6) {
      corners();
    }
    if (mode == 4) {
      primitive.put(
          "indices", g.shorts(UNSIGNED_SHORT, "SCALAR", 1, false, 0, 1, 2, 2, 1, 3, 2, 3, 4));
    }
    primitive.put("mode", mode);
    Primitive p = read();
    assertEquals(triangles, p.triangles());
    float[] at = p.positions();
    int[] i = p.indices();
    for (int t = 0; t < triangles; t++) {
      int a = i[3 * t] * 3, b = i[3 * t + 1] * 3, c = i[3 * t + 2] * 3;
      float z =
          (at[b] - at[a]) * (at[c + 1] - at[a + 1]) - (at[b + 1] - at[a + 1]) * (at[c] - at[a]);
      assertTrue(z > 0, "triangle " + t + " faces away");
    }
  }

  /** Section 3.6.2.2: c / 127 and so on, where -128 is -1, too. */
  @Test
  void normalisedIntegersAreFractions() throws Exception {
    corners();
    double[][] given = {
      {-128, -127, 0, 127, 64, 1, -1, 100},
      {0, 255, 128, 1, 2, 3, 4, 254},
      {-32768, -32767, 0, 32767, 16384, 1, -1, 2},
      {0, 65535, 32768, 1, 2, 3, 4, 65534}
    };
    int[] types = {BYTE, UNSIGNED_BYTE, SHORT, UNSIGNED_SHORT};
    double[] most = {127, 255, 32767, 65535};
    for (int k = 0; k < 4; k++) {
      double[] all = java.util.Arrays.copyOf(given[k], 10);
      byte[] data = little(k < 2 ? 1 : 2, all);
      attributes.put("TEXCOORD_" + k, g.accessor(g.view(data), types[k], 5, "VEC2", true));
    }
    float[][] uvs = read().uvs();
    for (int k = 0; k < 4; k++) {
      for (int i = 0; i < 8; i++) {
        assertEquals(Math.max(-1, given[k][i] / most[k]), uvs[k][i], 1e-7, k + ", " + i);
      }
    }
  }

  private int sparse(Map<String, Object> indices, int count, int values, Integer view) {
    Map<String, Object> a = new LinkedHashMap<>();
    a.put("componentType", FLOAT);
    a.put("count", 5);
    a.put("type", "VEC3");
    if (view != null) {
      a.put("bufferView", view);
    }
    a.put(
        "sparse",
        Map.of("count", count, "indices", indices, "values", Map.of("bufferView", values)));
    g.accessors.add(a);
    return g.accessors.size() - 1;
  }

  private int view(float... v) {
    ByteBuffer b = ByteBuffer.allocate(4 * v.length).order(ByteOrder.LITTLE_ENDIAN);
    b.asFloatBuffer().put(v);
    return g.view(b.array());
  }

  private Map<String, Object> indices(int type, int bytes, double... at) {
    return Map.of("bufferView", g.view(little(bytes, at)), "componentType", type);
  }

  /** Section 3.6.2.3: elements that are stored replace those of the view, or zeros. */
  @Test
  void sparseAccessorsReplaceSomeElements() throws Exception {
    int base = view(0, 0, 0, 1, 0, 0, 1, 1, 0, 0, 1, 0, -1, 1, 0);
    attributes.put(
        "POSITION", sparse(indices(UNSIGNED_SHORT, 2, 1, 4), 2, view(7, 8, 9, 4, 5, 6), base));
    attributes.put(
        "NORMAL", sparse(indices(UNSIGNED_BYTE, 1, 0, 1, 2, 3, 4), 5, view(new float[15]), null));
    primitive.put(
        "targets",
        List.of(Map.of("POSITION", sparse(indices(UNSIGNED_INT, 4, 3), 1, view(0, 0, 2), null))));
    Primitive p = read();
    assertArrayEquals(new float[] {0, 0, 0, 7, 8, 9, 1, 1, 0, 0, 1, 0, 4, 5, 6}, p.positions());
    float[] moved = new float[15];
    moved[11] = 2;
    assertArrayEquals(moved, p.targets().get(0).positions());
  }

  @ParameterizedTest
  @CsvSource({
    "5, UNSIGNED_SHORT, writes element 5",
    "-1, BYTE, is incomplete",
    "65535, UNSIGNED_SHORT, writes element 65535"
  })
  void sparseElementsThatDoNotExistAreRefused(int at, String type, String words) {
    boolean one = type.equals("BYTE");
    attributes.put(
        "POSITION",
        sparse(indices(one ? BYTE : UNSIGNED_SHORT, one ? 1 : 2, at), 1, view(1, 2, 3), null));
    String m = refusal();
    assertTrue(m.contains("sparse part of accessor 0") && m.contains(words), m);
  }

  @Test
  void sparsePartsThatLackSomethingAreRefused() {
    g.accessors.add(
        Map.of("componentType", FLOAT, "count", 5, "type", "VEC3", "sparse", Map.of("count", 1)));
    attributes.put("POSITION", 0);
    assertTrue(refusal().contains("sparse part of accessor 0 is incomplete"));
    g.accessors.set(
        0,
        Map.of(
            "componentType",
            FLOAT,
            "count",
            5,
            "type",
            "VEC3",
            "sparse",
            Map.of("count", 1, "indices", Map.of(), "values", Map.of())));
    assertTrue(refusal().contains("sparse part of accessor 0 is incomplete"));
  }

  /** Views of interleaved vertices: a stride, and an offset into it. */
  @Test
  void interleavedAccessorsAreTakenApart() throws Exception {
    float[] both = new float[5 * 5];
    float[] uvs = new float[10];
    for (int i = 0; i < 5; i++) {
      both[5 * i] = i;
      both[5 * i + 1] = i * i;
      both[5 * i + 3] = uvs[2 * i] = 0.1f * i;
      both[5 * i + 4] = uvs[2 * i + 1] = 0.5f - i;
    }
    int v = view(both);
    Map<String, Object> strided = new LinkedHashMap<>(cast(g.views.get(v)));
    strided.put("byteStride", 20);
    g.views.set(v, strided);
    attributes.put("POSITION", g.accessor(v, FLOAT, 5, "VEC3", false));
    g.accessors.add(
        Map.of(
            "bufferView", v, "byteOffset", 12, "componentType", FLOAT, "count", 5, "type", "VEC2"));
    attributes.put("TEXCOORD_0", 1);
    Primitive p = read();
    assertArrayEquals(uvs, p.uvs()[0]);
    assertEquals(16, p.positions()[13]);
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> cast(Object o) {
    return (Map<String, Object>) o;
  }

  @Test
  void whatCannotBeRightIsRefusedByName() {
    corners();
    primitive.put("material", 7);
    assertTrue(refusal().contains("material 7, which does not exist"));
    primitive.put("material", 0);
    primitive.put("indices", g.floats("SCALAR", 1, 0, 1, 2));
    assertTrue(refusal().contains("must hold whole numbers"));
    primitive.put(
        "indices", g.accessor(g.view(little(4, 0, 1, 3e9)), UNSIGNED_INT, 3, "SCALAR", false));
    assertTrue(refusal().contains("vertex beyond 2147483647"));
    primitive.put("indices", g.shorts(UNSIGNED_SHORT, "VEC2", 2, false, 0, 1));
    String wrong = refusal();
    assertTrue(wrong.contains("accessor 3"), wrong);
    g.accessors.add(Map.of("componentType", FLOAT, "count", 2_000_000_000, "type", "VEC3"));
    attributes.put("POSITION", 4);
    assertTrue(refusal().contains("accessor 4 holds more numbers than the limit"));
  }

  @Test
  void valuesThatDoNotFitAreLeftOutAndTold() throws Exception {
    corners();
    attributes.put("NORMAL", g.floats("VEC3", 3, 0, 0, 1));
    attributes.put("TEXCOORD_0", g.floats("VEC2", 2, 0, 0, 1, Float.NaN, 2, 2, 3, 3, 4, 4));
    attributes.put("JOINTS_0", g.floats("VEC4", 4, 0, 0, 0, 0));
    attributes.put("WEIGHTS_0", g.floats("VEC4", 4, 1, 0, 0, 0));
    Primitive p = read();
    assertNull(p.normals());
    assertNull(p.binding());
    assertEquals(0, p.uvs()[0][3]);
    g.nodes.remove(1);
    String r = remarks();
    assertTrue(r.contains("\"thing\" has 1 values for 5 vertices; they are ignored"), r);
    assertTrue(r.contains("\"thing\" has values that are not numbers"), r);
    assertTrue(r.contains("\"thing\" has influences that do not fit"), r);
  }

  @Test
  void normalsAndWeightsAreMadeWhole() throws Exception {
    corners();
    attributes.put("NORMAL", g.floats("VEC3", 3, 0, 0, 2, 0, 0, 0, 3, 0, 4, 0, -1, 0, 0, 0, 1));
    byte[] joints = little(1, new double[40]);
    attributes.put("JOINTS_0", g.accessor(g.view(joints), UNSIGNED_BYTE, 5, "VEC4", false));
    attributes.put("JOINTS_1", g.accessor(g.view(joints), UNSIGNED_BYTE, 5, "VEC4", false));
    float[] weights = new float[20];
    weights[0] = 1;
    weights[5] = 0.25f;
    weights[8] = -3;
    weights[12] = Float.NaN;
    attributes.put("WEIGHTS_0", g.floats("VEC4", 4, weights));
    attributes.put("WEIGHTS_1", g.floats("VEC4", 4, weights));
    Primitive p = read();
    assertArrayEquals(
        new float[] {0, 0, 1, 0, 1, 0, 0.6f, 0, 0.8f, 0, -1, 0, 0, 0, 1}, p.normals(), 1e-6f);
    assertEquals(8, p.binding().each());
    float[] w = p.binding().weights();
    assertEquals(0.5f, w[0]);
    assertEquals(0.5f, w[4]);
    assertEquals(0.5f, w[9]);
    // Where nothing is left, the first joint takes all.
    assertEquals(1, w[16]);
    assertEquals(1, w[24]);
    g.nodes.remove(1);
    String r = remarks();
    assertTrue(r.contains("\"thing\" has normals that are not of unit length"), r);
    assertTrue(r.contains("\"thing\" has skin weights that do not add up to 1"), r);
  }

  @Test
  void partsWithoutTrianglesAreLeftOutAndTold() throws Exception {
    corners(0, 0, 0, 1, 0, 0);
    String r = remarks();
    assertTrue(r.contains("\"thing\" has a part without triangles; it is left out"), r);
    assertEquals(
        0, SceneImporter.load(g.write(folder)).scene().meshes().get(0).primitives().size());
    attributes.put("JOINTS_0", 0);
    primitive.put("mode", 1);
    g.nodes.remove(1);
    assertTrue(remarks().contains("\"thing\" bends points or lines; they keep their shape"));
    attributes.remove("POSITION");
    g.nodes.remove(1);
    assertTrue(remarks().contains("\"thing\" has a part without positions"));
  }
}
