package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.Light;
import posada.core.scene.Node;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Nodes with what hangs on them, and what moves them; faults by name. */
class NodeReaderTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  /** A scene whose nodes are given; other parts may be. */
  private Path file(String nodes, String more) throws Exception {
    JsonNode list = JSON.readTree(nodes);
    JsonNode added = JSON.readTree("{" + more + "}");
    return GltfJson.write(
        folder,
        s -> {
          s.set("nodes", list);
          s.remove("scenes");
          s.remove("scene");
          added.properties().forEach(e -> s.set(e.getKey(), e.getValue()));
        });
  }

  private ImportedScene load(String nodes, String more) throws Exception {
    return SceneImporter.load(file(nodes, more));
  }

  private void refused(String words, String nodes, String more) throws Exception {
    Path f = file(nodes, more);
    String m = assertThrows(ImportException.class, () -> SceneImporter.load(f)).getMessage();
    assertTrue(m.contains(words), m);
  }

  private static void tells(ImportedScene s, String words) {
    String r = s.report().remarks().toString();
    assertTrue(r.contains(words), r + " lacks " + words);
  }

  @Test
  void namesAreMadeUniqueAndMatricesAreKept() throws Exception {
    ImportedScene s =
        load(
            """
            [{"name":"lamp","mesh":0},{"name":"lamp"},{"name":"lamp"},{"name":" "},
             {"matrix":[1,0,0,0, 0,0,1,0, 0,-1,0,0, 5,6,7,1]}]
            """,
            "");
    List<Node> nodes = s.scene().nodes();
    List<String> names = nodes.stream().limit(5).map(Node::name).toList();
    assertEquals(List.of("lamp", "lamp-2", "lamp-3", "node 3", "node 4"), names);
    // Columns: the third is where z goes, the last the place.
    var m = nodes.get(4).local();
    assertArrayEquals(new double[] {1, 0, 0, 5, 0, 0, -1, 6, 0, 1, 0, 7}, m.m(), 1e-12);
  }

  @Test
  void treesThatAreNoneAreRefused() throws Exception {
    refused("node 2", "[{\"children\":[2]},{\"children\":[2]},{\"mesh\":0}]", "");
    refused(
        "scene 0 shows node 1, which is not a root",
        "[{\"children\":[1]},{\"mesh\":0}]",
        "\"scenes\":[{\"nodes\":[1]}]");
    refused("scene 0", "[{\"mesh\":0}]", "\"scenes\":[{\"nodes\":[4]}]");
    refused("holds camera 3, which does not exist", "[{\"camera\":3}]", "");
    String light = "[{\"name\":\"bulb\",\"extensions\":{\"KHR_lights_punctual\":{\"light\":2}}}]";
    refused("node \"bulb\" holds light 2, which does not exist", light, "");
    refused("placed by a number that is not finite", "[{\"translation\":[1e39,0,0]}]", "");
    String columns = "1,0,0,0, 0,1,0,0, 0,0,1,0, 0,0,1e39,1";
    refused("placed by a number that is not finite", "[{\"matrix\":[" + columns + "]}]", "");
  }

  private Light light(String json) throws Exception {
    return lit(json).scene().lights().get(0);
  }

  private ImportedScene lit(String json) throws Exception {
    return load(
        "[{\"name\":\"bulb\",\"extensions\":{\"KHR_lights_punctual\":{\"light\":0}}}]",
        "\"extensions\":{\"KHR_lights_punctual\":{\"lights\":[" + json + "]}}");
  }

  /** KHR_lights_punctual: what is not said is white, 1, without range, and opens to 45 degrees. */
  @Test
  void lightsHaveTheExtensionsDefaults() throws Exception {
    Light spot = light("{\"type\":\"spot\"}");
    assertEquals(Light.Kind.SPOT, spot.kind());
    assertArrayEquals(new float[] {1, 1, 1}, spot.color());
    assertEquals(1, spot.intensity());
    assertEquals(Double.POSITIVE_INFINITY, spot.range());
    assertEquals(0, spot.innerAngle());
    assertEquals(Math.PI / 4, spot.outerAngle());
    Light sun = light("{\"type\":\"directional\",\"intensity\":9,\"color\":[1,0.5,0.25]}");
    assertEquals(Light.Kind.DIRECTIONAL, sun.kind());
    assertEquals(9, sun.intensity());
    assertArrayEquals(new float[] {1, 0.5f, 0.25f}, sun.color());
    assertEquals(12, light("{\"type\":\"point\",\"range\":12}").range());
    assertEquals(Double.POSITIVE_INFINITY, light("{\"type\":\"point\",\"range\":0}").range());
  }

  @Test
  void lightsThatCannotBeAreMendedAndTold() throws Exception {
    String closed = "{\"type\":\"spot\",\"spot\":{\"innerConeAngle\":0.5,\"outerConeAngle\":0.5}}";
    Light hard = light(closed);
    assertTrue(hard.innerAngle() < hard.outerAngle());
    tells(lit(closed), "\"bulb\" has a cone that does not open");
    String dark = "{\"type\":\"point\",\"intensity\":-4}";
    assertEquals(0, light(dark).intensity());
    tells(lit(dark), "\"bulb\" has intensity -4.0; 0 is used");
    String red = "{\"type\":\"point\",\"color\":[2,-1,0]}";
    assertArrayEquals(new float[] {2, 0, 0}, light(red).color());
    tells(lit(red), "\"bulb\" has a colour below 0");
  }

  private ImportedScene seen(String camera) throws Exception {
    return load("[{\"name\":\"eye\",\"camera\":0}]", "\"cameras\":[" + camera + "]");
  }

  @Test
  void camerasWithoutAViewSeeFortyFiveDegrees() throws Exception {
    ImportedScene none = seen("{\"type\":\"perspective\"}");
    assertEquals(Math.PI / 4, none.scene().cameras().get(0).verticalAngle());
    tells(none, "\"eye\" gives no angle of view; 45 degrees are used");
    ImportedScene wide =
        seen("{\"type\":\"perspective\",\"perspective\":{\"yfov\":9,\"znear\":1}}");
    assertEquals(Math.PI / 4, wide.scene().cameras().get(0).verticalAngle());
    tells(wide, "\"eye\" gives an impossible view; 45 degrees are used");
    Camera flat =
        seen("""
                {"type":"orthographic",
                 "orthographic":{"xmag":2,"ymag":-3,"znear":0,"zfar":9}}
                """)
            .scene()
            .cameras()
            .get(0);
    assertEquals(3, flat.halfHeight());
  }

  private static final String THREE_TIMES =
      """
      "animations":[{"name":"turn","samplers":[{"input":%s,"output":%s,"interpolation":"%s"}],
        "channels":[{"sampler":%s,"target":{"node":%s,"path":"%s"}}]}],
      "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3"},
        {"bufferView":1,"componentType":5123,"count":3,"type":"SCALAR"},
        {"bufferView":0,"componentType":5126,"count":3,"type":"SCALAR"},
        {"bufferView":0,"byteOffset":12,"componentType":5126,"count":2,"type":"SCALAR"},
        {"bufferView":0,"componentType":5126,"count":2,"type":"VEC4"}]
      """;

  private static String animation(
      int input, int output, String how, int sampler, int node, String path) {
    return THREE_TIMES.formatted(input, output, how, sampler, node, path);
  }

  @Test
  void animationsThatCannotPlayAreRefusedOrTold() throws Exception {
    String nodes = "[{\"name\":\"wheel\",\"mesh\":0}]";
    refused(
        "animation \"turn\" moves node 6, which does not exist",
        nodes,
        animation(3, 0, "LINEAR", 0, 6, "translation"));
    refused(
        "animation \"turn\" uses sampler 4, which does not exist",
        nodes,
        animation(3, 0, "LINEAR", 4, 0, "translation"));
    refused(
        "animation \"turn\" has a channel without a complete key",
        nodes,
        animation(3, 4, "CUBICSPLINE", 0, 0, "rotation"));
    // Times 1, 0 (of 3 positions 0 0 0, 1 0 0, 0 1 0): the second goes back.
    ImportedScene back = load(nodes, animation(3, 0, "STEP", 0, 0, "scale"));
    tells(back, "Animation \"turn\" has keys out of order or not finite");
    tells(back, "Animation \"turn\" has a channel of 2 times and 3 values; the first 2 are used");
    Animation.Channel c = back.scene().animations().get(0).channels().get(0);
    assertEquals(Animation.Path.SCALE, c.path());
    assertEquals(Animation.Interpolation.STEP, c.curve().interpolation());
    assertArrayEquals(new float[] {1}, c.curve().times());
    tells(
        load(nodes, animation(3, 2, "LINEAR", 0, 0, "weights")),
        "Animation \"turn\" blends morph targets that its mesh does not have");
    String placed =
        "[{\"name\":\"wheel\",\"mesh\":0,\"matrix\":[1,0,0,0,0,1,0,0,0,0,1,0,0,0,0,1]}]";
    tells(
        load(placed, animation(3, 0, "LINEAR", 0, 0, "translation")),
        "Node \"wheel\" is placed by a matrix and animated");
    assertEquals(
        0, load(nodes, animation(3, 0, "LINEAR", 0, 0, "colour")).scene().animations().size());
  }

  @ParameterizedTest
  @CsvSource({
    "'\"joints\":[9]', hangs on node 9",
    "'\"joints\":[1,1],\"inverseBindMatrices\":0', fewer rest placements than joints",
  })
  void skinsThatCannotBeAreRefused(String skin, String words) throws Exception {
    refused(
        words,
        "[{\"name\":\"arm\",\"mesh\":0,\"skin\":0},{\"name\":\"bone\"}]",
        "\"skins\":[{"
            + skin
            + "}],\"accessors\":[{\"componentType\":5126,\"count\":1,\"type\":\"MAT4\"},"
            + "{\"bufferView\":1,\"componentType\":5123,\"count\":3,\"type\":\"SCALAR\"}],"
            + "\"meshes\":[{\"primitives\":[{\"attributes\":{}}]}]");
  }
}
