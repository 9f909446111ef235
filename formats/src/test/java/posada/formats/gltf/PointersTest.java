package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayOutputStream;
import java.nio.ByteBuffer;
import java.nio.ByteOrder;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Base64;
import java.util.List;
import java.util.Random;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.Camera;
import posada.core.scene.Digest;
import posada.core.scene.Scene;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Keys of KHR_animation_pointer: the scene at the time of a key is what a file says that has the
 * key's value in that place.
 */
class PointersTest {
  private static final JsonMapper JSON = new JsonMapper();
  private static final float AT = 2;

  @TempDir Path folder;

  private static final String MATERIAL =
      """
      {"alphaMode":"MASK","alphaCutoff":0.3,"emissiveFactor":[0.1,0.2,0.4],
       "normalTexture":T,"emissiveTexture":T,
       "pbrMetallicRoughness":{"baseColorTexture":T,"metallicRoughnessTexture":T,
         "baseColorFactor":[0.1,0.2,0.3,1],"metallicFactor":0.25,"roughnessFactor":0.75},
       "extensions":{
         "KHR_materials_emissive_strength":{"emissiveStrength":3},
         "KHR_materials_ior":{"ior":1.25},
         "KHR_materials_specular":{"specularTexture":T,"specularColorTexture":T,
           "specularFactor":0.5,"specularColorFactor":[0.5,0.25,0.125]},
         "KHR_materials_transmission":{"transmissionFactor":0.5,"transmissionTexture":T},
         "KHR_materials_volume":{"thicknessFactor":0.5,"attenuationDistance":2,
           "attenuationColor":[0.9,0.8,0.7]},
         "KHR_materials_clearcoat":{"clearcoatFactor":0.5,"clearcoatRoughnessFactor":0.25,
           "clearcoatTexture":T,"clearcoatRoughnessTexture":T,"clearcoatNormalTexture":T},
         "KHR_materials_sheen":{"sheenColorFactor":[0.1,0.1,0.2],"sheenRoughnessFactor":0.5,
           "sheenColorTexture":T,"sheenRoughnessTexture":T},
         "KHR_materials_anisotropy":{"anisotropyStrength":0.5,"anisotropyRotation":0.25,
           "anisotropyTexture":T}}}
      """
          .replace(
              ":T",
              ":{\"index\":0,\"extensions\":{\"KHR_texture_transform\":"
                  + "{\"offset\":[0.5,0.25],\"rotation\":0.5,\"scale\":[2,4]}}}");

  private static final String LIGHTS = "/extensions/KHR_lights_punctual/lights/0";

  private static ObjectNode scene() throws Exception {
    ObjectNode s = GltfJson.scene(GltfJson.buffer());
    var png = new ByteArrayOutputStream();
    javax.imageio.ImageIO.write(
        new java.awt.image.BufferedImage(1, 1, java.awt.image.BufferedImage.TYPE_INT_RGB),
        "png",
        png);
    String uri = "data:image/png;base64," + Base64.getEncoder().encodeToString(png.toByteArray());
    s.set("images", JSON.readTree("[{\"uri\":\"" + uri + "\"}]"));
    s.set("textures", JSON.readTree("[{\"source\":0}]"));
    s.set("materials", JSON.readTree("[{\"name\":\"plain\"}," + MATERIAL + "]"));
    s.set(
        "cameras",
        JSON.readTree(
            """
            [{"type":"perspective","perspective":{"yfov":1,"znear":0.1}},
             {"type":"orthographic","orthographic":{"xmag":2,"ymag":2,"znear":0.1,"zfar":9}}]
            """));
    s.set(
        "extensions",
        JSON.readTree(
            """
            {"KHR_lights_punctual":{"lights":[{"type":"spot","color":[1,0.5,0.25],"intensity":10,
              "range":20,"spot":{"innerConeAngle":0.25,"outerConeAngle":0.5}}]}}
            """));
    // The lamp hangs twice, and one camera is used twice.
    s.set(
        "nodes",
        JSON.readTree(
            """
            [{"name":"thing","mesh":0},{"name":"wide","camera":0},{"name":"flat","camera":1},
             {"name":"again","camera":0},
             {"name":"a","extensions":{"KHR_lights_punctual":{"light":0}}},
             {"name":"b","extensions":{"KHR_lights_punctual":{"light":0}}}]
            """));
    s.set("scenes", JSON.readTree("[{\"nodes\":[0,1,2,3,4,5]}]"));
    return s;
  }

  /** Appends a key at one time. */
  private static void key(ObjectNode s, String pointer, List<Double> value) throws Exception {
    ByteBuffer b = ByteBuffer.allocate(4 * (1 + value.size())).order(ByteOrder.LITTLE_ENDIAN);
    b.putFloat(AT);
    value.forEach(v -> b.putFloat(v.floatValue()));
    int buffer = s.withArray("buffers").size();
    int view = s.withArray("bufferViews").size();
    int accessor = s.withArray("accessors").size();
    s.withArray("buffers")
        .addObject()
        .put("byteLength", b.capacity())
        .put(
            "uri",
            "data:application/octet-stream;base64,"
                + Base64.getEncoder().encodeToString(b.array()));
    s.withArray("bufferViews").addObject().put("buffer", buffer).put("byteLength", 4);
    s.withArray("bufferViews")
        .addObject()
        .put("buffer", buffer)
        .put("byteOffset", 4)
        .put("byteLength", 4 * value.size());
    String[] shapes = {"", "SCALAR", "VEC2", "VEC3", "VEC4"};
    for (int k = 0; k < 2; k++) {
      s.withArray("accessors")
          .addObject()
          .put("bufferView", view + k)
          .put("componentType", 5126)
          .put("count", 1)
          .put("type", k == 0 ? "SCALAR" : shapes[value.size()]);
    }
    s.withArray("animations")
        .add(
            JSON.readTree(
                """
                {"name":"change","samplers":[{"input":%d,"output":%d}],
                 "channels":[{"sampler":0,"target":{"path":"pointer","extensions":
                   {"KHR_animation_pointer":{"pointer":"%s"}}}}]}
                """
                    .formatted(accessor, accessor + 1, pointer)));
    s.set("extensionsUsed", JSON.readTree("[\"KHR_animation_pointer\"]"));
  }

  private ImportedScene load(ObjectNode s) throws Exception {
    Path file = folder.resolve("s.gltf");
    Files.write(file, JSON.writeValueAsBytes(s));
    return SceneImporter.load(file);
  }

  private static String hash(Scene s) {
    return Digest.of(s.cameras(), s.lights(), s.materials());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ' ',
      value = {
        "/cameras/0/perspective/yfov [0.5]",
        "/cameras/1/orthographic/ymag [3]",
        LIGHTS + "/color [0.25,1,0]",
        LIGHTS + "/intensity [25]",
        LIGHTS + "/range [5]",
        LIGHTS + "/spot/innerConeAngle [0.375]",
        LIGHTS + "/spot/outerConeAngle [0.75]",
        "/materials/1/alphaCutoff [0.75]",
        "/materials/1/emissiveFactor [1,0.5,0]",
        "/materials/1/normalTexture/scale [0.5]",
        "/materials/1/pbrMetallicRoughness/baseColorFactor [1,0.5,0.25,0.5]",
        "/materials/1/pbrMetallicRoughness/metallicFactor [1]",
        "/materials/1/pbrMetallicRoughness/roughnessFactor [0]",
        "/materials/1/extensions/KHR_materials_emissive_strength/emissiveStrength [8]",
        "/materials/1/extensions/KHR_materials_ior/ior [2]",
        "/materials/1/extensions/KHR_materials_specular/specularFactor [0.25]",
        "/materials/1/extensions/KHR_materials_specular/specularColorFactor [1,0,2]",
        "/materials/1/extensions/KHR_materials_transmission/transmissionFactor [1]",
        "/materials/1/extensions/KHR_materials_volume/thicknessFactor [0.125]",
        "/materials/1/extensions/KHR_materials_volume/attenuationDistance [4]",
        "/materials/1/extensions/KHR_materials_volume/attenuationColor [0.5,0.25,0]",
        "/materials/1/extensions/KHR_materials_clearcoat/clearcoatFactor [1]",
        "/materials/1/extensions/KHR_materials_clearcoat/clearcoatRoughnessFactor [0.5]",
        "/materials/1/extensions/KHR_materials_clearcoat/clearcoatNormalTexture/scale [0.5]",
        "/materials/1/extensions/KHR_materials_sheen/sheenColorFactor [1,0.5,0]",
        "/materials/1/extensions/KHR_materials_sheen/sheenRoughnessFactor [0.25]",
        "/materials/1/extensions/KHR_materials_anisotropy/anisotropyStrength [1]",
        "/materials/1/extensions/KHR_materials_anisotropy/anisotropyRotation [1.5]",
      })
  void aKeyIsWhatTheFileWouldSay(String pointer, String value) throws Exception {
    same(pointer, value);
  }

  @ParameterizedTest
  @CsvSource({
    "normalTexture",
    "emissiveTexture",
    "pbrMetallicRoughness/baseColorTexture",
    "pbrMetallicRoughness/metallicRoughnessTexture",
    "extensions/KHR_materials_specular/specularTexture",
    "extensions/KHR_materials_specular/specularColorTexture",
    "extensions/KHR_materials_transmission/transmissionTexture",
    "extensions/KHR_materials_clearcoat/clearcoatTexture",
    "extensions/KHR_materials_clearcoat/clearcoatRoughnessTexture",
    "extensions/KHR_materials_clearcoat/clearcoatNormalTexture",
    "extensions/KHR_materials_sheen/sheenColorTexture",
    "extensions/KHR_materials_sheen/sheenRoughnessTexture",
    "extensions/KHR_materials_anisotropy/anisotropyTexture",
  })
  void texturesAreMovedLikewise(String texture) throws Exception {
    String at = "/materials/1/" + texture + "/extensions/KHR_texture_transform";
    same(at + "/offset", "[-1,0.125]");
    same(at + "/rotation", "[1.25]");
    same(at + "/scale", "[0.5,1]");
  }

  private void same(String pointer, String value) throws Exception {
    List<Double> numbers = JSON.readerForListOf(Double.class).readValue(value);
    ObjectNode keyed = scene();
    key(keyed, pointer, numbers);
    ObjectNode told = scene();
    int slash = pointer.lastIndexOf('/');
    JsonNode v = numbers.size() == 1 ? JSON.valueToTree(numbers.get(0)) : JSON.readTree(value);
    ((ObjectNode) told.at(pointer.substring(0, slash))).set(pointer.substring(slash + 1), v);
    Scene rest = load(scene()).scene();
    Scene s = load(keyed).scene();
    assertEquals(hash(load(told).scene()), hash(Values.at(s, AT, null)), pointer);
    assertNotEquals(hash(rest), hash(Values.at(s, AT, Set.of("change"))), pointer);
    assertEquals(hash(rest), hash(Values.at(s, AT, Set.of())), pointer);
  }

  @Test
  void nodesAreMovedByPointersToo() throws Exception {
    ObjectNode s = scene();
    key(s, "/nodes/4/translation", List.of(1.0, 2.0, 3.0));
    Scene scene = load(s).scene();
    assertEquals(2, Pose.at(scene, AT).world(scene.node("a")).translation().y());
  }

  @Test
  void nodesAreShownByKeysAndLeftOutByTheFile() throws Exception {
    ObjectNode s = scene();
    key(s, "/nodes/0/extensions/KHR_node_visibility/visible", List.of(1.0));
    ((ObjectNode) s.at("/nodes/0"))
        .set("extensions", JSON.readTree("{\"KHR_node_visibility\":{\"visible\":false}}"));
    Scene scene = load(s).scene();
    assertTrue(Pose.at(scene, AT).shown(scene.node("thing")));
    assertFalse(Pose.at(scene, AT, Set.of()).shown(scene.node("thing")));
    assertTrue(Pose.at(scene, AT, Set.of()).shown(scene.node("wide")));
  }

  @Test
  void theReportTellsOfWhatChanges() throws Exception {
    ObjectNode s = scene();
    key(s, "/cameras/0/perspective/yfov", List.of(0.5));
    SceneReport r = load(s).report();
    assertEquals(
        List.of(true, false, true),
        r.cameras().stream().map(SceneReport.CameraLine::moves).toList());
    // Two cameras zoom.
    assertEquals(2, r.animations().get(0).channels());
    assertEquals(AT, r.animations().get(0).end());
  }

  @Test
  void animationsOfTheSameThingAreTold() throws Exception {
    ObjectNode s = scene();
    key(s, LIGHTS + "/intensity", List.of(5.0));
    key(s, "/nodes/4/translation", List.of(1.0, 2.0, 3.0));
    String told = String.join(" ", load(s).report().remarks());
    assertFalse(told.contains("same things"), told);
    key(s, "/nodes/4/translation", List.of(3.0, 2.0, 1.0));
    ((ObjectNode) s.at("/animations/2")).put("name", "other");
    told = String.join(" ", load(s).report().remarks());
    assertTrue(told.contains("change the same things (change, other); where several"), told);
  }

  @Test
  void colourAndStrengthOfAGlowTogetherAreTold() throws Exception {
    ObjectNode s = scene();
    ((ObjectNode) s.at("/materials/1")).put("name", "lamp");
    String at = "/materials/1/";
    key(s, at + "emissiveFactor", List.of(1.0, 0.5, 0.0));
    key(s, at + "extensions/KHR_materials_emissive_strength/emissiveStrength", List.of(8.0));
    // Both in one animation.
    ObjectNode first = (ObjectNode) s.at("/animations/0");
    first.withArray("samplers").add(s.at("/animations/1/samplers/0"));
    ObjectNode channel = (ObjectNode) s.at("/animations/1/channels/0");
    first.withArray("channels").add(channel.put("sampler", 1));
    s.withArray("animations").remove(1);
    ImportedScene back = load(s);
    String told = String.join(" ", back.report().remarks());
    assertTrue(told.contains("strength of what material \"lamp\" gives off; the last"), told);
    float[] e = Values.at(back.scene(), AT, null).materials().get(1).emission();
    assertArrayEquals(new float[] {0.8f, 1.6f, 3.2f}, e, 1e-6f);
  }

  @Test
  void numbersThatCannotBeAreClamped() throws Exception {
    ObjectNode s = scene();
    key(s, "/cameras/0/perspective/yfov", List.of(-1.0));
    key(s, LIGHTS + "/intensity", List.of(-5.0));
    key(s, "/materials/1/pbrMetallicRoughness/roughnessFactor", List.of(7.0));
    key(s, "/cameras/1/perspective/yfov", List.of(1.0));
    Scene now = Values.at(load(s).scene(), AT, null);
    assertFalse(now.cameras().get(1).perspective());
    Camera c = now.cameras().get(0);
    assertTrue(c.verticalAngle() > 0 && c.verticalAngle() < 0.001);
    assertEquals(0, now.lights().get(1).intensity());
    assertEquals(1, now.materials().get(1).roughness());
  }

  @Test
  void whatIsNotThereIsToldOrRefused() throws Exception {
    ObjectNode s = scene();
    key(s, "/materials/1/occlusionTexture/strength", List.of(0.5));
    String told = String.join(" ", load(s).report().remarks());
    assertTrue(
        told.contains("\"change\" changes /materials/1/occlusionTexture/strength, which is not"),
        told);
    ObjectNode wrong = scene();
    key(wrong, "/materials/9/alphaCutoff", List.of(0.5));
    String why = assertThrows(ImportException.class, () -> load(wrong)).getMessage();
    assertTrue(why.contains("changes material 9, which does not exist"), why);
  }

  @Test
  void lightThatOnlyGoesOnLaterIsLight() throws Exception {
    ObjectNode s = scene();
    ((ObjectNode) s.at(LIGHTS)).put("intensity", 0);
    s.set("materials", JSON.readTree("[{\"name\":\"plain\"}]"));
    assertTrue(String.join(" ", load(s).report().remarks()).contains("plain sky"));
    ObjectNode glows = s.deepCopy();
    key(s, LIGHTS + "/intensity", List.of(5.0));
    assertFalse(String.join(" ", load(s).report().remarks()).contains("plain sky"));
    // As much as a pilot light is none, as everywhere.
    ObjectNode faintly = glows.deepCopy();
    for (ObjectNode g : List.of(glows, faintly)) {
      ((ObjectNode) g.at("/meshes/0/primitives/0")).put("material", 0);
    }
    key(faintly, "/materials/0/emissiveFactor", List.of(0.01, 0.0, 0.0));
    assertTrue(String.join(" ", load(faintly).report().remarks()).contains("plain sky"));
    key(glows, "/materials/0/emissiveFactor", List.of(0.0, 0.5, 0.0));
    assertFalse(String.join(" ", load(glows).report().remarks()).contains("plain sky"));
  }

  @Test
  void whateverIsWrongIsOneSentenceOrStillPlays() throws Exception {
    ObjectNode whole = scene();
    key(whole, "/nodes/4/weights", List.of(1.0));
    key(whole, "/nodes/3/rotation", List.of(0.0, 0.0, 0.0, 1.0));
    key(whole, LIGHTS + "/spot/outerConeAngle", List.of(1.0));
    key(whole, "/materials/1/extensions/KHR_materials_ior/ior", List.of(1.0));
    key(
        whole,
        "/materials/1/normalTexture/extensions/KHR_texture_transform/scale",
        List.of(2.0, 3.0));
    String json = JSON.writeValueAsString(whole);
    Random random = new Random(5);
    int played = 0;
    for (int i = 0; i < 400; i++) {
      StringBuilder s = new StringBuilder(json);
      for (int k = 0; k < 3; k++) {
        s.setCharAt(random.nextInt(s.length()), "0123456789-[],.e/".charAt(random.nextInt(17)));
      }
      Path file = Files.writeString(folder.resolve("wrong.gltf"), s);
      try {
        Scene scene = SceneImporter.load(file).scene();
        Pose.at(scene, AT);
        Values.at(scene, AT, null);
        played++;
      } catch (ImportException e) {
        assertTrue(e.getMessage().startsWith("wrong.gltf: "), e.getMessage());
      }
    }
    assertTrue(played > 50, played + " played");
  }
}
