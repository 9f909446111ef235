package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static posada.formats.Tools.run;

import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.scene.Primitive;
import tools.jackson.databind.json.JsonMapper;

/** Meshes that the Draco library's own encoder has compressed. */
class PackedMeshesTest {
  private static final int ACROSS = 17;
  private static final int DOWN = 13;

  /** What every vertex of the test's mesh has, and what the encoder is to take it for. */
  private enum Part {
    POSITION("POSITION", "VEC3", 3, true),
    NORMAL("NORMAL", "VEC3", 3, true),
    TEXCOORD_0("TEX_COORD", "VEC2", 2, true),
    COLOR_0("COLOR", "VEC4", 4, false),
    JOINTS_0("GENERIC", "VEC4", 4, false),
    WEIGHTS_0("GENERIC", "VEC4", 4, true);
    final String kind, shape;
    final int components;
    final boolean floats;

    Part(String kind, String shape, int components, boolean floats) {
      this.kind = kind;
      this.shape = shape;
      this.components = components;
      this.floats = floats;
    }

    float[] numbers() {
      float[] v = new float[ACROSS * DOWN * components];
      for (int i = 0; i < v.length; i++) {
        int x = i / components % ACROSS, y = i / components / ACROSS, k = i % components;
        v[i] =
            switch (this) {
              case POSITION -> k == 0 ? x * 0.1f : k == 1 ? y * 0.1f : (float) Math.sin(x + y) / 9;
              case NORMAL -> k == 0 ? 0.6f * (x % 2) : k == 1 ? 0 : x % 2 == 0 ? 1 : 0.8f;
              case TEXCOORD_0 -> (k == 0 ? x : y) / 16f;
              case COLOR_0 -> (x * 7 + y * 11 + k * 50) % 256;
              case JOINTS_0 -> (x + k) % 5;
              case WEIGHTS_0 -> k == 0 ? 0.75f : k == 1 ? 0.25f : 0;
            };
      }
      return v;
    }
  }

  @TempDir Path folder;

  private static int[] indices() {
    List<Integer> t = new ArrayList<>();
    for (int y = 0; y + 1 < DOWN; y++) {
      for (int x = 0; x + 1 < ACROSS; x++) {
        int a = y * ACROSS + x;
        t.addAll(List.of(a, a + 1, a + ACROSS, a + 1, a + ACROSS + 1, a + ACROSS));
      }
    }
    return t.stream().mapToInt(i -> i).toArray();
  }

  private static byte[] bytes(float[] v) {
    byte[] b = new byte[v.length];
    for (int i = 0; i < b.length; i++) {
      b[i] = (byte) (int) v[i];
    }
    return b;
  }

  private byte[] encoded(String method, int bits) throws Exception {
    List<Object> attributes = new ArrayList<>();
    for (Part p : Part.values()) {
      attributes.add(
          Map.of(
              "kind",
              p.kind,
              "components",
              p.components,
              "type",
              p.floats ? "Float" : "UInt8",
              "data",
              p.numbers()));
    }
    Path given = folder.resolve("mesh.json");
    Path out = folder.resolve("mesh.drc");
    new JsonMapper()
        .writeValue(given.toFile(), Map.of("indices", indices(), "attributes", attributes));
    run("node", "draco/encode.js", given.toString(), method, bits + "", out.toString());
    return Files.readAllBytes(out);
  }

  /**
   * Returns a file with the mesh.
   *
   * @param packed null for a plain one
   */
  private static Glb file(byte[] packed) {
    Glb g = new Glb();
    Map<String, Object> attributes = new LinkedHashMap<>();
    Map<String, Object> ids = new LinkedHashMap<>();
    for (Part p : Part.values()) {
      float[] v = p.numbers();
      attributes.put(
          p.name(),
          p.floats
              ? g.floats(p.shape, p.components, v)
              : g.accessor(g.view(bytes(v)), 5121, ACROSS * DOWN, p.shape, p == Part.COLOR_0));
      ids.put(p.name(), p.ordinal());
    }
    Map<String, Object> part = new LinkedHashMap<>();
    part.put("attributes", attributes);
    part.put("indices", g.shorts(5123, "SCALAR", 1, false, indices()));
    if (packed != null) {
      // Only the compressed mesh is left.
      g.views.clear();
      g.bytes.reset();
      g.accessors.replaceAll(
          a -> {
            Map<Object, Object> bare = new LinkedHashMap<>((Map<?, ?>) a);
            bare.remove("bufferView");
            return bare;
          });
      Map<String, Object> extension =
          new LinkedHashMap<>(Map.of("bufferView", g.view(packed), "attributes", ids));
      part.put("extensions", new LinkedHashMap<>(Map.of(PackedMeshes.EXTENSION, extension)));
      g.root.put("extensionsRequired", List.of(PackedMeshes.EXTENSION));
    }
    g.root.put("meshes", List.of(Map.of("primitives", List.of(part))));
    g.nodes.add(Map.of("name", "grid", "mesh", 0));
    return g;
  }

  private Primitive read(Glb g) throws Exception {
    return SceneImporter.load(g.write(folder)).scene().meshes().get(0).primitives().get(0);
  }

  private static void add(StringBuilder s, float[] v, int each, int at) {
    s.append(Arrays.toString(Arrays.copyOfRange(v, at * each, (at + 1) * each)));
  }

  /**
   * All that the triangles' corners have: neither the order of triangles nor of vertices counts.
   */
  private static List<String> triangles(Primitive p) {
    List<String> all = new ArrayList<>();
    for (int t = 0; t < p.indices().length; t += 3) {
      List<String> corners = new ArrayList<>();
      for (int k = 0; k < 3; k++) {
        int v = p.indices()[t + k];
        StringBuilder s = new StringBuilder();
        add(s, p.positions(), 3, v);
        add(s, p.normals(), 3, v);
        add(s, p.uvs()[0], 2, v);
        add(s, p.colors(), 4, v);
        add(s, p.binding().weights(), 4, v);
        s.append(Arrays.toString(Arrays.copyOfRange(p.binding().joints(), 4 * v, 4 * v + 4)));
        corners.add(s.toString());
      }
      int first = corners.indexOf(corners.stream().min(String::compareTo).orElseThrow());
      Collections.rotate(corners, -first);
      all.add(String.join(" ", corners));
    }
    all.sort(null);
    return all;
  }

  @ParameterizedTest
  @ValueSource(strings = {"MESH_SEQUENTIAL_ENCODING", "MESH_EDGEBREAKER_ENCODING"})
  void whatIsCompressedWithoutLossesIsReadAsPlain(String method) throws Exception {
    List<String> plain = triangles(read(file(null)));
    assertEquals(2 * (ACROSS - 1) * (DOWN - 1), plain.size());
    assertEquals(plain, triangles(read(file(encoded(method, 0)))));
  }

  @Test
  void roundedFloatsAreAsCloseAsTheirBitsSay() throws Exception {
    // One after the other keeps the order of the vertices.
    byte[] packed = encoded("MESH_SEQUENTIAL_ENCODING", 12);
    Primitive plain = read(file(null));
    Glb g = file(packed);
    Primitive p = read(g);
    float step = 1.6f / (1 << 12);
    assertArrayEquals(plain.positions(), p.positions(), step);
    assertArrayEquals(plain.uvs()[0], p.uvs()[0], 1f / (1 << 12));
    assertArrayEquals(plain.normals(), p.normals(), 4f / (1 << 12));
    assertArrayEquals(plain.colors(), p.colors());
    assertArrayEquals(plain.indices(), p.indices());
    String said = SceneImporter.load(g.write(folder)).report().remarks().toString();
    assertTrue(!said.contains("wrong bounds"), said);
  }

  @SuppressWarnings("unchecked")
  private static Map<String, Object> extension(Glb g) {
    var mesh = (Map<String, List<Map<String, Map<String, Object>>>>) meshes(g).get(0);
    return (Map<String, Object>)
        mesh.get("primitives").get(0).get("extensions").get(PackedMeshes.EXTENSION);
  }

  private static List<?> meshes(Glb g) {
    return (List<?>) g.root.get("meshes");
  }

  private void refused(Glb g, String... words) {
    var e = assertThrows(ImportException.class, () -> SceneImporter.load(g.write(folder)));
    for (String w : words) {
      assertTrue(e.getMessage().contains(w), e.getMessage());
    }
  }

  @Test
  void whatDoesNotFitIsRefusedByName() throws Exception {
    byte[] packed = encoded("MESH_EDGEBREAKER_ENCODING", 11);
    Glb g = file(packed);
    extension(g).put("attributes", Map.of("POSITION", 77));
    refused(g, "mesh \"mesh 0\" part 0", "lacks the compressed attribute 77");
    g = file(packed);
    extension(g).put("attributes", Map.of("POSITION", Part.TEXCOORD_0.ordinal()));
    refused(g, "mesh \"mesh 0\" part 0", "has 2 numbers in the compressed attribute 2");
    g = file(packed);
    extension(g).remove("bufferView");
    refused(g, "mesh \"mesh 0\" part 0", "without saying what is where");
    g = file(packed);
    g.accessors.set(
        0, Map.of("componentType", 5126, "count", 4000, "type", "VEC3", "normalized", false));
    refused(g, "accessor 0", "has a count of 4000; 221 were compressed");
    refused(file(Arrays.copyOf(packed, packed.length / 2)), "mesh \"mesh 0\" part 0");
  }

  @Test
  void damageNeverDoesMoreThanBeRefused() throws Exception {
    byte[] packed = encoded("MESH_EDGEBREAKER_ENCODING", 11);
    Random random = new Random(3);
    int refused = 0;
    for (int i = 0; i < 40; i++) {
      byte[] bad = packed.clone();
      for (int k = 0; k < 3; k++) {
        bad[random.nextInt(bad.length)] = (byte) random.nextInt(256);
      }
      // A count of four thousand million.
      if (i % 4 == 0) {
        ByteBuffer.wrap(bad).putInt(12 + i / 4, -1);
      }
      Glb g = file(bad);
      try {
        read(g);
      } catch (ImportException e) {
        refused++;
        assertTrue(e.getMessage().startsWith("s.gltf: "), e.getMessage());
      }
    }
    assertTrue(refused > 20, refused + " refused");
  }
}
