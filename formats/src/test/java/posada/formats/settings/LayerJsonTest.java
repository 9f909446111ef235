package posada.formats.settings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.networknt.schema.InputFormat;
import com.networknt.schema.JsonSchema;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.settings.Layer;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;

/** Layers' files, and that the schema in the docs says the same as the reader. */
class LayerJsonTest {
  private static final Path DOCS = Path.of("../docs");
  @TempDir Path folder;

  private RenderSettings read(String json) throws Exception {
    return SettingsJson.layer(
        Files.writeString(folder.resolve("l.json"), json), RenderSettings.DEFAULT);
  }

  private static boolean fitsSchema(String json) throws Exception {
    return fitsSchema("layer", json);
  }

  private static boolean fitsSchema(String name, String json) throws Exception {
    JsonSchema schema =
        JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
            .getSchema(Files.readString(DOCS.resolve(name + ".schema.json")));
    return schema.validate(json, InputFormat.JSON).isEmpty();
  }

  private static String example() throws Exception {
    return example("layers.md");
  }

  private static String example(String file) throws Exception {
    String text = Files.readString(DOCS.resolve(file));
    int from = text.indexOf("```json\n") + 8;
    return text.substring(from, text.indexOf("```", from));
  }

  @Test
  void theExampleOfTheDocsIsRead() throws Exception {
    assertTrue(fitsSchema(example()));
    RenderSettings s = read(example());
    Layer l = s.layer();
    assertEquals("cars", l.name());
    assertEquals(Layer.Role.HOLDOUT, l.otherwise());
    assertEquals(Layer.Role.SEEN, l.objects().get(0).role());
    assertFalse(l.objects().get(1).castsShadows());
    assertEquals(List.of("lamps"), l.objects().get(2).receives());
    assertEquals(new Layer.Plain(Layer.Plain.Kind.CLAY, 0.6, List.of("car-1")), l.material());
    assertEquals(List.of(0.5f, 0.4f, 0.3f), l.lights().get(0).color());
    assertEquals(1.9f, l.sky().get(1), 1e-6);
    assertEquals(new Layer.Region(null, List.of("car-1"), 8, 16, true), l.region());
    assertFalse(s.background());
    assertEquals(128, s.sampling().most());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"nam\": \"x\"}",
        "{\"name\": \"No Blanks\"}",
        "{\"otherwise\": \"gone\"}",
        "{\"objects\": [{\"role\": \"seen\"}]}",
        "{\"objects\": [{\"match\": [\"a\"], \"role\": \"left out\"}]}",
        "{\"objects\": [{\"match\": \"a\"}]}",
        "{\"material\": {\"kind\": \"wax\"}}",
        "{\"material\": {\"grey\": 2}}",
        "{\"lights\": [{\"factor\": 2}]}",
        "{\"lights\": [{\"match\": [\"a\"], \"factor\": -1}]}",
        "{\"sky\": {\"color\": [1, 2]}}",
        "{\"region\": {\"pad\": 3}}",
        "{\"region\": {\"follow\": [\"a\"], \"snap\": 0}}",
        "{\"region\": {\"follow\": [\"a\"], \"constantSize\": 1}}",
        "{\"under\": \"yes\"}"
      })
  void readerAndSchemaRefuseTheSame(String json) throws Exception {
    assertFalse(fitsSchema(json));
    var e = assertThrows(IllegalArgumentException.class, () -> read(json));
    assertTrue(e.getMessage().startsWith("l.json: "), e.getMessage());
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"wantd\": []}",
        "{\"wanted\": []}",
        "{\"lightGroups\": {\"Key Light\": [\"a\"]}}",
        "{\"lightGroups\": {\"key\": []}}",
        "{\"occlusion\": {\"radius\": 0}}",
        "{\"matteRanks\": 5}",
        "{\"deep\": {\"tolerance\": 2}}",
        "{\"own\": {\"a\": {\"quantity\": \"depth\"}}}",
        "{\"own\": {\"a\": {\"ramp\": [{\"at\": 1}]}}}",
        "{\"own\": {\"a\": {\"numbers\": {\"x\": \"one\"}}}}"
      })
  void passesAreRefusedAsTheirSchemaDoes(String json) throws Exception {
    assertFalse(fitsSchema("passes", json));
    String whole = "{\"passes\": " + json + "}";
    assertThrows(
        IllegalArgumentException.class,
        () -> SettingsJson.read(whole, RenderSettings.DEFAULT, null));
  }

  @Test
  void theExampleOfThePassesIsRead() throws Exception {
    String json = example("passes.md");
    String passes = json.substring(json.indexOf(':') + 1, json.lastIndexOf('}'));
    assertTrue(fitsSchema("passes", passes));
    PassSettings s = SettingsJson.read(json, RenderSettings.DEFAULT, null).settings().passes();
    assertEquals(0.01, s.deepTolerance());
    assertEquals(List.of("edges", "kind"), List.copyOf(s.own().keySet()));
    assertEquals(2, s.own().get("kind").constants().get("car"));
    assertEquals(List.of("lamp-*"), s.lightGroups().get("lamps"));
  }
}
