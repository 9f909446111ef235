package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.ByteBuffer;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.function.Consumer;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

class SceneImporterTest {
  @TempDir Path folder;

  private void refused(String words, Path file) {
    var e = assertThrows(ImportException.class, () -> SceneImporter.load(file));
    String m = e.getMessage();
    assertTrue(m.startsWith(file.getFileName().toString()), m);
    for (String w : words.split("\\|")) {
      assertTrue(m.contains(w), m + " lacks " + w);
    }
    assertTrue(m.endsWith("."), m);
  }

  private void refused(String words, Consumer<ObjectNode> change) throws IOException {
    refused(words, GltfJson.write(folder, change));
  }

  private Path file(String name, byte[] bytes) throws IOException {
    return Files.write(folder.resolve(name), bytes);
  }

  private static ObjectNode at(ObjectNode root, String pointer) {
    return (ObjectNode) root.at(pointer);
  }

  @Test
  void refusesWhatIsNoGltf() throws Exception {
    refused("is not glTF", file("a.glb", "hello".getBytes()));
    refused("is not glTF", file("b.glb", new byte[0]));
    refused("version 1", file("c.glb", GltfJson.glb(1, 0)));
    refused("cut off", file("d.glb", GltfJson.glb(2, 400)));
    refused("cannot be read", file("e.gltf", "{\"asset\":".getBytes()));
    refused("asset.version|1.0", s -> at(s, "/asset").put("version", "1.0"));
    refused("asset.version", s -> s.remove("asset"));
  }

  @Test
  void refusesBrokenReferences() throws Exception {
    refused("node 0|child 7", s -> at(s, "/nodes/0").putArray("children").add(7));
    refused("loop", s -> at(s, "/nodes/0").putArray("children").add(0));
    refused("accessor 9", s -> at(s, "/meshes/0/primitives/0").put("indices", 9));
    refused("mesh 3", s -> at(s, "/nodes/0").put("mesh", 3));
    refused("bytes", s -> at(s, "/accessors/0").put("count", 4));
    refused("buffer view 1", s -> at(s, "/bufferViews/1").put("byteLength", 4000));
    refused("gone.bin|missing", s -> at(s, "/buffers/0").put("uri", "gone.bin"));
    refused("FOO_thing|not supported", s -> s.putArray("extensionsRequired").add("FOO_thing"));
  }

  @Test
  void refusesVerticesThatDoNotExistOrAreNoNumbers() throws Exception {
    ByteBuffer b = GltfJson.buffer();
    b.putShort(38, (short) 77);
    refused("\"tri\"|vertex 77|out of bounds", GltfJson.write(folder, b, s -> {}));
    b = GltfJson.buffer();
    b.putFloat(16, Float.NaN);
    refused("\"tri\"|position 1|not a finite number", GltfJson.write(folder, b, s -> {}));
  }

  @Test
  void aBareTriangleGetsACameraALightAndRemarks() throws Exception {
    ImportedScene s = SceneImporter.load(GltfJson.write(folder, x -> {}));
    SceneReport r = s.report();
    assertEquals(1, r.triangles());
    assertEquals("overview", r.cameras().get(0).name());
    assertTrue(r.cameras().get(0).added());
    assertTrue(r.remarks().toString().contains("no light"), r.remarks().toString());
    assertTrue(r.remarks().toString().contains("no camera"));
    assertTrue(r.remarks().toString().contains("no normals"));
    assertTrue(!s.scene().environment().sky().dark());
  }

  /** Gives the triangle's material an emission and its strength; beside it stands a dark one. */
  private ImportedScene glowing(double factor, double strength, double darkScale) throws Exception {
    return SceneImporter.load(
        GltfJson.write(
            folder,
            s -> {
              ObjectNode m = s.putArray("materials").addObject();
              m.putArray("emissiveFactor").add(factor).add(factor).add(factor);
              m.putObject("extensions")
                  .putObject("KHR_materials_emissive_strength")
                  .put("emissiveStrength", strength);
              at(s, "/meshes/0/primitives/0").put("material", 0);
              ObjectNode dark = at(s, "/meshes/0").deepCopy();
              at(dark, "/primitives/0").remove("material");
              s.withArray("meshes").add(dark);
              ObjectNode n = s.withArray("nodes").addObject().put("mesh", 1);
              n.putArray("scale").add(darkScale).add(darkScale).add(1);
              s.withArray("/scenes/0/nodes").add(1);
            }));
  }

  /** A pilot light is no reason to leave all else in the dark; a lamp or a glowing wall is. */
  @Test
  void whatHardlyGlowsGetsASkyAndWhatLightsGetsNone() throws Exception {
    // A hundred and first part of the surface glows as bright as white: 0.0099 in the mean.
    ImportedScene pilot = glowing(1, 1, 10);
    assertTrue(!pilot.scene().environment().sky().dark());
    assertTrue(pilot.report().remarks().toString().contains("hardly glows"));
    for (ImportedScene lit : List.of(glowing(1, 1, 4), glowing(0.5, 3, 10))) {
      assertTrue(lit.scene().environment().sky().dark());
      assertTrue(!lit.report().remarks().toString().contains("sky"));
    }
    assertTrue(!glowing(1, 1, 4.5).scene().environment().sky().dark(), "0.047 in the mean");
  }

  /** A triangle with sides of 1 m, scaled by 2,000: the report and its remark say the same. */
  @Test
  void whatIsTooLargeIsSaidAsItIsListed() throws Exception {
    Path large =
        GltfJson.write(
            folder, s -> at(s, "/nodes/0").putArray("scale").add(2000).add(2000).add(2000));
    SceneReport r = SceneImporter.load(large).report();
    String said = String.format(java.util.Locale.ROOT, "is %.1f km across", r.sizeMetres() / 1000);
    assertTrue(r.sizeMetres() > 900, "scaled to " + r.sizeMetres());
    assertTrue(r.remarks().toString().contains(said), said + ": " + r.remarks());
  }

  private String remarks(Consumer<ObjectNode> change) throws Exception {
    return SceneImporter.load(GltfJson.write(folder, change)).report().remarks().toString();
  }

  /** A file of a few hundred bytes can ask for any memory: it is refused by what it says. */
  @Test
  void whatCannotBeHeldIsRefusedAtOnce() throws Exception {
    refused(
        "GB of vertices|POSADA_MEMORY",
        s -> {
          for (int k = 0; k < 400; k++) {
            s.withArray("/accessors")
                .addObject()
                .put("componentType", 5126)
                .put("count", 1 << 27)
                .put("type", "VEC4");
          }
        });
  }

  @Test
  void mendsSmallFaults() throws Exception {
    assertTrue(
        remarks(s -> at(s, "/accessors/0").putArray("max").add(9).add(9).add(9))
            .contains("bounds"));
    assertTrue(
        remarks(s -> at(s, "/nodes/0").putArray("rotation").add(0).add(0).add(0).add(0.5))
            .contains("unit length"));
    assertTrue(remarks(s -> s.putArray("extensionsUsed").add("FOO_x")).contains("FOO_x"));
    String tiny = remarks(s -> at(s, "/nodes/0").putArray("scale").add(0.01).add(0.01).add(0.01));
    assertTrue(tiny.contains("1.0 cm across"), tiny);
    String huge = remarks(s -> at(s, "/nodes/0").putArray("scale").add(1e4).add(1e4).add(1e4));
    assertTrue(huge.contains("10.0 km across"), huge);
    refused("skin 0", s -> at(s, "/nodes/0").put("skin", 0));
  }

  @Test
  void listsImagesThatAreMissing() throws Exception {
    Path file =
        GltfJson.write(
            folder,
            s -> {
              s.putArray("images").addObject().put("uri", "wood.png");
              s.putArray("textures").addObject().put("source", 0);
            });
    assertEquals("[wood.png]", SceneImporter.load(file).report().missing().toString());
    Path up =
        GltfJson.write(
            folder, s -> s.putArray("images").addObject().put("uri", "../../../etc/passwd"));
    assertEquals(1, SceneImporter.load(up).report().missing().size());
  }

  @Test
  void anythingAtAllIsASceneOrOneSentence() throws Exception {
    var random = new java.util.Random(9);
    String json = new JsonMapper().writeValueAsString(GltfJson.scene(GltfJson.buffer()));
    for (int i = 0; i < 500; i++) {
      StringBuilder s = new StringBuilder(json);
      for (int k = 0; k < 2; k++) {
        int at = random.nextInt(s.length());
        s.setCharAt(at, "0123456789-[]{}\",:.eanul".charAt(random.nextInt(24)));
      }
      Path f = file("fuzz.gltf", s.toString().getBytes());
      try {
        SceneImporter.load(f);
      } catch (ImportException e) {
        assertTrue(e.getMessage().startsWith("fuzz.gltf: "), e.getMessage());
      }
    }
  }
}
