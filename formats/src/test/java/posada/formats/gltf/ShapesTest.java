package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.lwjgl.system.MemoryUtil;
import org.lwjgl.util.meshoptimizer.MeshOptimizer;
import posada.core.image.FrameImage;
import posada.core.scene.Primitive;
import posada.core.settings.RenderSettings;

/** Every way in which a file can hold shapes, seen in small pictures. */
class ShapesTest {
  private static final int SIZE = Glb.SIZE;
  @TempDir Path folder;

  /** A square of half side 0.25 around the origin: four corners, two triangles. */
  private static final float[] SQUARE = {
    -0.25f, -0.25f, 0, 0.25f, -0.25f, 0, 0.25f, 0.25f, 0, -0.25f, 0.25f, 0
  };

  private static final int[] CORNERS = {0, 1, 2, 0, 2, 3};

  private static Map<String, Object> primitive(int positions, int indices) {
    Map<String, Object> attributes = new LinkedHashMap<>();
    attributes.put("POSITION", positions);
    Map<String, Object> p = new LinkedHashMap<>();
    p.put("attributes", attributes);
    p.put("indices", indices);
    p.put("material", 0);
    return p;
  }

  private static Map<String, Object> square(Glb g) {
    return primitive(g.floats("VEC3", 3, SQUARE), g.shorts(5123, "SCALAR", 1, false, CORNERS));
  }

  /** Mean coverage in a box of the picture, metres. */
  private static double cover(FrameImage i, double x0, double y0, double x1, double y1) {
    float[] a = i.find("A");
    double sum = 0;
    int n = 0;
    for (int y = 0; y < SIZE; y++) {
      for (int x = 0; x < SIZE; x++) {
        double px = (x + 0.5) / SIZE * 2 - 1, py = 1 - (y + 0.5) / SIZE * 2;
        if (px > x0 && px < x1 && py > y0 && py < y1) {
          sum += a[y * SIZE + x];
          n++;
        }
      }
    }
    return sum / n;
  }

  private static double area(FrameImage i) {
    return cover(i, -1, -1, 1, 1) * 4;
  }

  @Test
  void morphTargetsBlendByKeyedWeights() throws Exception {
    Glb g = new Glb();
    Map<String, Object> p = square(g);
    // A target that doubles the square.
    p.put("targets", List.of(Map.of("POSITION", g.floats("VEC3", 3, SQUARE))));
    g.root.put("meshes", List.of(Map.of("primitives", List.of(p), "weights", List.of(0.5))));
    g.nodes.add(Map.of("name", "thing", "mesh", 0));
    assertEquals(0.75 * 0.75, area(g.picture(folder, 0)), 0.01);
    int times = g.floats("SCALAR", 1, 0, 1), weights = g.floats("SCALAR", 1, 0, 1);
    g.root.put(
        "animations",
        List.of(
            Map.of(
                "name",
                "grow",
                "samplers",
                List.of(Map.of("input", times, "output", weights)),
                "channels",
                List.of(Map.of("sampler", 0, "target", Map.of("node", 1, "path", "weights"))))));
    assertEquals(0.25, area(g.picture(folder, 0)), 0.01);
    assertEquals(0.75 * 0.75, area(g.picture(folder, 0.5)), 0.01);
    assertEquals(1, area(g.picture(folder, 1)), 0.01);
    RenderSettings none = RenderSettings.of(16, 0).playing(Set.of());
    assertEquals(0.75 * 0.75, area(g.picture(folder, 1, none)), 0.01);
    var e =
        assertThrows(
            IllegalArgumentException.class,
            () -> g.picture(folder, 1, RenderSettings.of(1, 0).playing(Set.of("shrink"))));
    assertTrue(e.getMessage().contains("there are grow"), e.getMessage());
  }

  @Test
  void skinsPullVerticesAlongAndIgnoreTheirOwnNode() throws Exception {
    Glb g = new Glb();
    Map<String, Object> p = square(g);
    @SuppressWarnings("unchecked")
    Map<String, Object> a = (Map<String, Object>) p.get("attributes");
    // The left corners hang on the first joint, the right ones half on each.
    a.put(
        "JOINTS_0",
        g.shorts(5123, "VEC4", 4, false, 0, 0, 0, 0, 0, 1, 0, 0, 0, 1, 0, 0, 0, 0, 0, 0));
    a.put(
        "WEIGHTS_0",
        g.floats("VEC4", 4, 1, 0, 0, 0, 0.5f, 0.5f, 0, 0, 0.5f, 0.5f, 0, 0, 1, 0, 0, 0));
    g.root.put("meshes", List.of(Map.of("primitives", List.of(p))));
    g.root.put("skins", List.of(Map.of("joints", List.of(2, 3))));
    g.nodes.add(Map.of("name", "thing", "mesh", 0, "skin", 0, "translation", List.of(9, 9, 9)));
    g.nodes.add(Map.of("name", "a"));
    g.nodes.add(Map.of("name", "b", "translation", List.of(1, 0, 0)));
    FrameImage i = g.picture(folder, 0);
    // The right side moves by half of the second joint's metre.
    assertEquals(0.5, area(i), 0.01);
    assertEquals(1, cover(i, -0.2, -0.2, 0.7, 0.2), 1e-6);
    a.put(
        "JOINTS_0",
        g.shorts(
            5123, "VEC4", 4, false, new int[] {7, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0, 0}));
    var e = assertThrows(ImportException.class, () -> g.picture(folder, 0));
    assertTrue(e.getMessage().contains("joint 7 of 2"), e.getMessage());
  }

  @Test
  void copiesStandWhereTheirAttributesSay() throws Exception {
    Glb g = new Glb();
    g.root.put("meshes", List.of(Map.of("primitives", List.of(square(g)))));
    g.root.put("extensionsUsed", List.of("EXT_mesh_gpu_instancing"));
    Map<String, Object> attributes =
        Map.of(
            "TRANSLATION", g.floats("VEC3", 3, -0.5f, 0, 0, 0.5f, 0.5f, 0),
            "SCALE", g.floats("VEC3", 3, 1, 1, 1, -0.5f, 0.5f, 1));
    g.nodes.add(
        Map.of(
            "name",
            "many",
            "mesh",
            0,
            "extensions",
            Map.of("EXT_mesh_gpu_instancing", Map.of("attributes", attributes))));
    FrameImage i = g.picture(folder, 0);
    assertEquals(0.25 + 0.0625, area(i), 0.01);
    assertEquals(1, cover(i, -0.7, -0.2, -0.3, 0.2), 1e-6);
    assertEquals(1, cover(i, 0.4, 0.4, 0.6, 0.6), 1e-6);
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 2, 3})
  void pointsAndLinesHaveABody(int mode) throws Exception {
    Glb g = new Glb();
    Map<String, Object> p = new LinkedHashMap<>();
    p.put("attributes", Map.of("POSITION", g.floats("VEC3", 3, SQUARE)));
    p.put("mode", mode);
    p.put("material", 0);
    g.root.put("meshes", List.of(Map.of("primitives", List.of(p))));
    g.nodes.add(Map.of("name", "wire", "mesh", 0, "scale", List.of(3, 3, 3)));
    Primitive made =
        SceneImporter.load(g.write(folder)).scene().meshes().get(0).primitives().get(0);
    int bodies = mode == 0 ? 4 : mode == 1 ? 2 : mode == 2 ? 4 : 3;
    assertEquals(bodies * (mode == 0 ? 8 : 16), made.triangles());
    assertTrue(area(g.picture(folder, 0, RenderSettings.of(1024, 0))) > 1e-5);
  }

  @Test
  void whatTheCameraDoesNotSeeStillReflects() throws Exception {
    Glb g = new Glb();
    g.root.put("meshes", List.of(Map.of("primitives", List.of(square(g)))));
    g.nodes.add(Map.of("name", "hidden", "mesh", 0, "extras", Map.of("cameraSees", false)));
    assertEquals(0, area(g.picture(folder, 0)));
  }

  /** A bumpy grid whose numbers all fit 16 bits exactly. */
  private static int[] bumps() {
    int n = 17;
    int[] p = new int[n * n * 3];
    for (int i = 0; i < n * n; i++) {
      p[i * 3] = i % n * 2000 - 16000;
      p[i * 3 + 1] = i / n * 2000 - 16000;
      p[i * 3 + 2] = (i * 7919) % 9000;
    }
    return p;
  }

  private static int[] grid() {
    int n = 17;
    List<Integer> t = new ArrayList<>();
    for (int y = 0; y + 1 < n; y++) {
      for (int x = 0; x + 1 < n; x++) {
        int o = y * n + x;
        t.addAll(List.of(o, o + 1, o + n, o + 1, o + n + 1, o + n));
      }
    }
    return t.stream().mapToInt(Integer::intValue).toArray();
  }

  private static Glb lit() {
    Glb g = new Glb();
    g.root.put("materials", List.of(Map.of("pbrMetallicRoughness", Map.of("metallicFactor", 0.3))));
    g.root.put(
        "scenes",
        List.of(
            Map.of(
                "nodes",
                List.of(0, 1),
                "extras",
                Map.of(
                    "sky",
                    Map.of("zenith", List.of(1, 0.8, 0.6), "horizon", List.of(0.2, 0.3, 0.4))))));
    return g;
  }

  private static void place(Glb g) {
    double s = 1 / 20000.0;
    g.nodes.add(Map.of("name", "grid", "mesh", 0, "scale", List.of(s, s, s)));
  }

  @Test
  void plainQuantisedAndCompressedFilesGiveTheSamePicture() throws Exception {
    int[] p = bumps();
    int[] t = grid();
    float[] f = new float[p.length];
    for (int i = 0; i < f.length; i++) {
      f[i] = p[i];
    }
    Glb plain = lit();
    plain.root.put(
        "meshes",
        List.of(
            Map.of(
                "primitives",
                List.of(
                    primitive(
                        plain.floats("VEC3", 3, f), plain.shorts(5123, "SCALAR", 1, false, t))))));
    place(plain);
    float[] want = plain.picture(folder, 0).find("R");

    Glb quantised = lit();
    quantised.root.put("extensionsRequired", List.of("KHR_mesh_quantization"));
    quantised.root.put(
        "meshes",
        List.of(
            Map.of(
                "primitives",
                List.of(
                    primitive(
                        padded(quantised, p), quantised.shorts(5123, "SCALAR", 1, false, t))))));
    place(quantised);
    assertArrayEquals(want, quantised.picture(folder, 0).find("R"));
    assertArrayEquals(want, compressed(p, t, false).picture(folder, 0).find("R"));
    // Compressed triangles may begin with another of their corners, which rounds differently.
    assertArrayEquals(want, compressed(p, t, true).picture(folder, 0).find("R"), 2e-6f);
  }

  /** Three shorts to each vertex, a fourth to fill up to eight bytes. */
  private static byte[] vertices(int[] p) {
    ByteBuffer b = ByteBuffer.allocate(p.length / 3 * 8).order(ByteOrder.LITTLE_ENDIAN);
    for (int i = 0; i < p.length; i++) {
      b.putShort((short) p[i]);
      if (i % 3 == 2) {
        b.putShort((short) 0);
      }
    }
    return b.array();
  }

  private static int padded(Glb g, int[] p) {
    int v = g.view(vertices(p));
    Map<String, Object> view = new LinkedHashMap<>();
    ((Map<?, ?>) g.views.get(v)).forEach((k, x) -> view.put((String) k, x));
    view.put("byteStride", 8);
    g.views.set(v, view);
    return g.accessor(v, 5122, p.length / 3, "VEC3", false);
  }

  private static Glb compressed(int[] p, int[] t, boolean asTriangles) {
    Glb g = lit();
    g.root.put("extensionsRequired", List.of("KHR_mesh_quantization", "EXT_meshopt_compression"));
    byte[] raw = vertices(p);
    int count = p.length / 3;
    ByteBuffer in = MemoryUtil.memAlloc(raw.length).put(raw).flip();
    ByteBuffer out =
        MemoryUtil.memAlloc((int) MeshOptimizer.meshopt_encodeVertexBufferBound(count, 8));
    int n = (int) MeshOptimizer.meshopt_encodeVertexBuffer(out, in, count, 8);
    int positions =
        g.accessor(packed(g, take(out, n), 8, count, "ATTRIBUTES"), 5122, count, "VEC3", false);
    java.nio.IntBuffer indices = MemoryUtil.memAllocInt(t.length).put(t).flip();
    ByteBuffer packedIndices =
        MemoryUtil.memAlloc(
            (int)
                (asTriangles
                    ? MeshOptimizer.meshopt_encodeIndexBufferBound(t.length, count)
                    : MeshOptimizer.meshopt_encodeIndexSequenceBound(t.length, count)));
    int m =
        (int)
            (asTriangles
                ? MeshOptimizer.meshopt_encodeIndexBuffer(packedIndices, indices)
                : MeshOptimizer.meshopt_encodeIndexSequence(packedIndices, indices));
    int corners =
        g.accessor(
            packed(g, take(packedIndices, m), 2, t.length, asTriangles ? "TRIANGLES" : "INDICES"),
            5123,
            t.length,
            "SCALAR",
            false);
    MemoryUtil.memFree(in);
    MemoryUtil.memFree(indices);
    g.root.put("meshes", List.of(Map.of("primitives", List.of(primitive(positions, corners)))));
    place(g);
    return g;
  }

  private static byte[] take(ByteBuffer b, int n) {
    byte[] bytes = new byte[n];
    b.get(0, bytes);
    MemoryUtil.memFree(b);
    return bytes;
  }

  private static int packed(Glb g, byte[] data, int stride, int count, String mode) {
    int v = g.view(data);
    Map<?, ?> plain = (Map<?, ?>) g.views.get(v);
    Map<String, Object> view = new LinkedHashMap<>();
    view.put("buffer", 0);
    view.put("byteLength", stride * count);
    view.put(
        "extensions",
        Map.of(
            "EXT_meshopt_compression",
            Map.of(
                "buffer",
                0,
                "byteOffset",
                plain.get("byteOffset"),
                "byteLength",
                data.length,
                "byteStride",
                stride,
                "count",
                count,
                "mode",
                mode)));
    g.views.set(v, view);
    return v;
  }

  @Test
  void damagedCompressionIsRefused() throws Exception {
    Glb g = compressed(bumps(), grid(), true);
    byte[] all = g.bytes.toByteArray();
    for (int i = 4; i < all.length; i += 11) {
      all[i] ^= 0x5a;
    }
    g.bytes.reset();
    g.bytes.writeBytes(java.util.Arrays.copyOf(all, all.length - 40));
    assertThrows(ImportException.class, () -> SceneImporter.load(g.write(folder)));
  }

  @Test
  void materialExtensionsAreReadAndClamped() throws Exception {
    Glb g = new Glb();
    g.root.put(
        "materials",
        List.of(
            Map.of(
                "extensions",
                Map.of(
                    "KHR_materials_ior", Map.of("ior", 1.33),
                    "KHR_materials_specular",
                        Map.of("specularFactor", 0.5, "specularColorFactor", List.of(1, 0.5, 2)),
                    "KHR_materials_transmission", Map.of("transmissionFactor", 3),
                    "KHR_materials_volume",
                        Map.of(
                            "thicknessFactor", 0.2,
                            "attenuationDistance", 0.7,
                            "attenuationColor", List.of(0.1, 0.2, 0.3)),
                    "KHR_materials_clearcoat",
                        Map.of("clearcoatFactor", 0.8, "clearcoatRoughnessFactor", 0.1),
                    "KHR_materials_sheen", Map.of("sheenColorFactor", List.of(0.3, 0.2, 0.1)),
                    "KHR_materials_anisotropy",
                        Map.of("anisotropyStrength", 0.6, "anisotropyRotation", 1.5)))));
    g.root.put("meshes", List.of(Map.of("primitives", List.of(square(g)))));
    g.nodes.add(Map.of("name", "thing", "mesh", 0));
    var m = SceneImporter.load(g.write(folder)).scene().materials().get(0);
    assertEquals(1.33f, m.specular().ior());
    assertEquals(0.5f, m.specular().factor());
    assertArrayEquals(new float[] {1, 0.5f, 2}, m.specular().color());
    assertEquals(1, m.transmission().factor());
    assertEquals(0.2f, m.transmission().thickness());
    assertEquals(0.7f, m.transmission().distance());
    assertEquals(0.8f, m.coat().factor());
    assertEquals(0.3f, m.sheen().color()[0]);
    assertEquals(0.6f, m.anisotropy().strength());
    assertEquals(1.5f, m.anisotropy().rotation());
  }
}
