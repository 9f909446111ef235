package posada.formats.gltf;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.image.BufferedImage;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.scene.AlphaMode;
import posada.core.scene.Material;
import posada.core.scene.Texture;
import posada.core.scene.TextureUse;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/**
 * Materials and textures as a file says them, with the standard's defaults for what it does not.
 */
class MaterialReaderTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  private static byte[] png(int side) throws IOException {
    var out = new ByteArrayOutputStream();
    ImageIO.write(new BufferedImage(side, 1, BufferedImage.TYPE_INT_RGB), "png", out);
    return out.toByteArray();
  }

  private static String uri(byte[] data) {
    return "data:image/png;base64," + Base64.getEncoder().encodeToString(data);
  }

  /** Reads a scene of one triangle, with more on top level. */
  private ImportedScene read(String more) throws Exception {
    JsonNode added = JSON.readTree("{" + more + "}");
    return SceneImporter.load(
        GltfJson.write(
            folder, s -> added.properties().forEach(e -> s.set(e.getKey(), e.getValue()))));
  }

  private static final String TEXTURE =
      "\"images\":[{\"uri\":\"%s\"}],\"textures\":[{\"source\":0}],";

  /** Reads one material; texture 0 is there. */
  private Material material(String json) throws Exception {
    return read(TEXTURE.formatted(uri(png(1))) + "\"materials\":[" + json + "]")
        .scene()
        .materials()
        .get(0);
  }

  private Texture texture(String sampler) throws Exception {
    String samplers = "\"samplers\":[" + sampler + "],";
    String images = "\"images\":[{\"uri\":\"%s\"}],".formatted(uri(png(1)));
    return read(samplers + images + "\"textures\":[{\"source\":0,\"sampler\":0}]")
        .scene()
        .textures()
        .get(0);
  }

  @Test
  void whatIsNotSaidIsTheStandardsDefault() throws Exception {
    Material m = material("{}");
    assertArrayEquals(new float[] {1, 1, 1, 1}, m.baseColor());
    assertEquals(1, m.metallic());
    assertEquals(1, m.roughness());
    assertArrayEquals(new float[3], m.emission());
    assertEquals(AlphaMode.OPAQUE, m.alphaMode());
    assertEquals(0.5f, m.alphaCutoff());
    assertEquals(1.5f, m.specular().ior());
    assertEquals(1, m.specular().factor());
    assertEquals(0, m.transmission().factor());
    assertEquals(Float.POSITIVE_INFINITY, m.transmission().distance());
    assertEquals(0, m.coat().factor());
    assertEquals(0, m.anisotropy().strength());
    assertNull(m.normal());
  }

  @Test
  void everyNumberOfTheExtensionsIsRead() throws Exception {
    Material m =
        material(
            """
            {"emissiveFactor":[0.5,0.25,0],"alphaMode":"MASK","alphaCutoff":0.3,"doubleSided":true,
             "extensions":{
              "KHR_materials_emissive_strength":{"emissiveStrength":8},
              "KHR_materials_ior":{"ior":1.33},
              "KHR_materials_specular":{"specularFactor":0.7,"specularColorFactor":[2,1,0.5]},
              "KHR_materials_transmission":{"transmissionFactor":0.9},
              "KHR_materials_volume":{"thicknessFactor":0.2,"attenuationDistance":3,
                "attenuationColor":[0.1,0.2,0.3]},
              "KHR_materials_clearcoat":{"clearcoatFactor":0.6,"clearcoatRoughnessFactor":0.15,
                "clearcoatNormalTexture":{"index":0,"scale":0.4}},
              "KHR_materials_sheen":{"sheenColorFactor":[0.3,0.2,0.1],"sheenRoughnessFactor":0.45},
              "KHR_materials_anisotropy":{"anisotropyStrength":0.8,"anisotropyRotation":0.5}}}
            """);
    assertArrayEquals(new float[] {4, 2, 0}, m.emission());
    assertEquals(AlphaMode.MASK, m.alphaMode());
    assertEquals(0.3f, m.alphaCutoff());
    assertTrue(m.doubleSided());
    assertEquals(1.33f, m.specular().ior());
    assertEquals(0.7f, m.specular().factor());
    assertArrayEquals(new float[] {2, 1, 0.5f}, m.specular().color());
    assertEquals(0.9f, m.transmission().factor());
    assertEquals(0.2f, m.transmission().thickness());
    assertEquals(3, m.transmission().distance());
    assertArrayEquals(new float[] {0.1f, 0.2f, 0.3f}, m.transmission().color());
    assertEquals(0.6f, m.coat().factor());
    assertEquals(0.15f, m.coat().roughness());
    assertEquals(0.4f, m.coat().normal().scale());
    assertArrayEquals(new float[] {0.3f, 0.2f, 0.1f}, m.sheen().color());
    assertEquals(0.45f, m.sheen().roughness());
    assertEquals(0.8f, m.anisotropy().strength());
    assertEquals(0.5f, m.anisotropy().rotation());
    assertEquals(AlphaMode.BLEND, material("{\"alphaMode\":\"BLEND\"}").alphaMode());
  }

  @Test
  void numbersOutOfRangeAreBroughtIntoItOrToldOf() throws Exception {
    ImportedScene read =
        read(
            """
            "materials":[{"name":"paint","pbrMetallicRoughness":{"metallicFactor":3},
             "emissiveFactor":[1,0.5,0],
             "extensions":{
              "KHR_materials_emissive_strength":{"emissiveStrength":1e60},
              "KHR_materials_ior":{"ior":0.2},
              "KHR_materials_volume":{"thicknessFactor":-1,"attenuationDistance":0},
              "KHR_materials_sheen":{"sheenColorFactor":["red",-2,7]}}}]
            """);
    Material m = read.scene().materials().get(0);
    String remarks = read.report().remarks().toString();
    assertEquals(1, m.metallic());
    assertTrue(
        remarks.contains("/materials/0/pbrMetallicRoughness/metallicFactor could not"), remarks);
    assertArrayEquals(new float[] {1, 0.5f, 0}, m.emission());
    assertTrue(remarks.contains("\"paint\" has emissive strength 1.0E60"), remarks);
    assertEquals(1, m.specular().ior());
    assertEquals(0, m.transmission().thickness());
    assertEquals(Float.POSITIVE_INFINITY, m.transmission().distance());
    assertArrayEquals(new float[] {0, 0, 1}, m.sheen().color());
    // KHR_materials_ior: 0 is for materials that reflect everything.
    String mirror = "{\"extensions\":{\"KHR_materials_ior\":{\"ior\":0}}}";
    assertEquals(0, material(mirror).specular().ior());
  }

  /** A fault that every material has is told once. */
  @Test
  void whatIsIgnoredManyTimesIsToldOnce() throws Exception {
    String one = "{\"pbrMetallicRoughness\":{\"roughnessFactor\":7}}";
    ImportedScene s = read("\"materials\":[{}," + one + "," + one + "," + one + "]");
    List<String> told =
        s.report().remarks().stream().filter(r -> r.contains("roughnessFactor")).toList();
    assertEquals(1, told.size(), told.toString());
    assertTrue(told.get(0).contains("/materials/1/pbrMetallicRoughness/rough"), told.get(0));
    assertTrue(told.get(0).contains("so were 2 more like it"), told.get(0));
  }

  @ParameterizedTest
  @CsvSource({
    "'{}', REPEAT, REPEAT, false, false, false",
    "'{\"wrapS\":33071,\"wrapT\":33648}', CLAMP, MIRROR, false, false, false",
    "'{\"wrapS\":10497,\"wrapT\":33071}', REPEAT, CLAMP, false, false, false",
    "'{\"magFilter\":9728,\"minFilter\":9729}', REPEAT, REPEAT, true, false, false",
    "'{\"magFilter\":9729,\"minFilter\":9984}', REPEAT, REPEAT, false, true, true",
    "'{\"minFilter\":9985}', REPEAT, REPEAT, false, false, true",
    "'{\"minFilter\":9986}', REPEAT, REPEAT, false, true, false",
    "'{\"minFilter\":9987}', REPEAT, REPEAT, false, false, false",
  })
  void samplersAreReadByTheStandardsNumbers(
      String json, Texture.Wrap u, Texture.Wrap v, boolean near, boolean far, boolean level)
      throws Exception {
    Texture t = texture(json);
    assertEquals(u, t.wrapU());
    assertEquals(v, t.wrapV());
    assertEquals(near, t.nearest());
    assertEquals(far, t.nearestFar());
    assertEquals(level, t.nearestLevel());
  }

  private static float[] applied(TextureUse use, float u, float v) {
    float[] m = use.placement().matrix();
    return new float[] {m[0] * u + m[1] * v + m[2], m[3] * u + m[4] * v + m[5]};
  }

  private TextureUse use(String transform) throws Exception {
    return material(
            """
            {"pbrMetallicRoughness":{"baseColorTexture":{"index":0,"texCoord":1,
              "extensions":{"KHR_texture_transform":%s}}}}
            """
                .formatted(transform))
        .baseTexture();
  }

  /**
   * The extension's text: scaled, then turned counter-clockwise as seen (v goes down), then moved.
   */
  @Test
  void transformsOfTexturesAreInTheExtensionsOrder() throws Exception {
    TextureUse turned = use("{\"rotation\":1.5707963267948966}");
    assertArrayEquals(new float[] {0, -1}, applied(turned, 1, 0), 1e-6f);
    assertArrayEquals(new float[] {1, 0}, applied(turned, 0, 1), 1e-6f);
    assertEquals(1, turned.uvSet());
    TextureUse all =
        use("{\"offset\":[10,20],\"rotation\":1.5707963267948966,\"scale\":[2,3],\"texCoord\":4}");
    assertArrayEquals(new float[] {10, 18}, applied(all, 1, 0), 1e-5f);
    assertArrayEquals(new float[] {13, 20}, applied(all, 0, 1), 1e-5f);
    assertEquals(4, all.uvSet());
    TextureUse none = use("{\"offset\":[1],\"scale\":\"large\"}");
    assertArrayEquals(new float[] {0.3f, 0.6f}, applied(none, 0.3f, 0.6f));
  }

  @Test
  void allInputsReadTheirTextures() throws Exception {
    String t = "{\"index\":0,\"texCoord\":2}";
    Material m =
        material(
            """
            {"normalTexture":{"index":0,"texCoord":2,"scale":0.5},"emissiveTexture":@,
             "pbrMetallicRoughness":{"baseColorTexture":@,"metallicRoughnessTexture":@},
             "extensions":{
              "KHR_materials_specular":{"specularTexture":@,"specularColorTexture":@},
              "KHR_materials_transmission":{"transmissionTexture":@},
              "KHR_materials_clearcoat":{"clearcoatTexture":@,"clearcoatRoughnessTexture":@},
              "KHR_materials_sheen":{"sheenColorTexture":@,"sheenRoughnessTexture":@},
              "KHR_materials_anisotropy":{"anisotropyTexture":@}}}
            """
                .replace("@", t));
    assertEquals(0.5f, m.normal().scale());
    for (TextureUse use :
        new TextureUse[] {
          m.normal().texture(),
          m.emissionTexture(),
          m.baseTexture(),
          m.metallicRoughnessTexture(),
          m.specular().texture(),
          m.specular().colorTexture(),
          m.transmission().texture(),
          m.coat().texture(),
          m.coat().roughnessTexture(),
          m.sheen().texture(),
          m.sheen().roughnessTexture(),
          m.anisotropy().texture()
        }) {
      assertEquals(new TextureUse(0, 2, null), use);
    }
    String gone = "{\"pbrMetallicRoughness\":{\"baseColorTexture\":{\"index\":5}}}";
    assertNull(material(gone).baseTexture());
    assertNull(material("{\"normalTexture\":{\"index\":5}}").normal());
  }

  private String remark(String image) throws Exception {
    ImportedScene s =
        read(
            "\"images\":["
                + image
                + "],\"textures\":[{\"source\":0},{\"source\":3},{}],"
                + "\"materials\":[{\"emissiveTexture\":{\"index\":0}}]");
    assertNull(s.scene().materials().get(0).emissionTexture());
    assertEquals(0, s.scene().textures().size());
    return s.report().remarks().toString();
  }

  @Test
  void imagesThatCannotBeReadAreNamedAndLeftOut() throws Exception {
    byte[] whole = png(200);
    byte[] half = Arrays.copyOf(whole, whole.length / 2);
    assertTrue(remark("{\"name\":\"oak\"}").contains("\"oak\" has no data"));
    assertTrue(remark("{\"uri\":\"oak.png\"}").contains("\"oak.png\" is missing"));
    assertTrue(
        remark("{\"uri\":\"" + uri("bark".getBytes()) + "\"}")
            .contains("\"image 0\" is neither PNG nor JPEG"));
    assertTrue(
        remark("{\"name\":\"oak\",\"uri\":\"" + uri(half) + "\"}").contains("\"oak\" is damaged"));
    Files.write(folder.resolve("large.png"), png(16385));
    String large = remark("{\"uri\":\"large.png\"}");
    assertTrue(
        large.contains("\"large.png\" is 16385 x 1 pixels") && large.contains("16384"), large);
  }
}
