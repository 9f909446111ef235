package posada.formats.settings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.networknt.schema.InputFormat;
import com.networknt.schema.JsonSchemaFactory;
import com.networknt.schema.SpecVersion;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.settings.Preview;
import posada.formats.preview.BurnIn;
import posada.formats.preview.PreviewRecipe;

/** Recipes of previews, and that the schema in the docs says the same as the reader. */
class PreviewJsonTest {
  private static final Path DOCS = Path.of("../docs");
  @TempDir Path folder;

  private static boolean fits(String json) throws Exception {
    return JsonSchemaFactory.getInstance(SpecVersion.VersionFlag.V202012)
        .getSchema(Files.readString(DOCS.resolve("preview.schema.json")))
        .validate(json, InputFormat.JSON)
        .isEmpty();
  }

  @Test
  void theExampleOfTheDocsIsRead() throws Exception {
    String text = Files.readString(DOCS.resolve("previews.md"));
    int from = text.indexOf("```json\n") + 8;
    String json = text.substring(from, text.indexOf("```", from));
    assertTrue(fits(json));
    PreviewRecipe r = PreviewJson.read(SettingsJson.object(json));
    assertEquals(
        new Preview(
            Preview.Style.OUTLINED, 4, 0.6, Set.of(Preview.Kind.GLASS, Preview.Kind.COPIES), 0, 0),
        r.look());
    assertEquals(EnumSet.allOf(BurnIn.class), r.burnIns());
    assertEquals("Larkspur Line", r.watermark());
    assertEquals(List.of(1, 3, 5), r.some(List.of(1, 2, 3, 4, 5)));
    assertEquals(List.of(320, 180), List.of(r.size(640, 360, true)[0], r.size(640, 360, true)[1]));
    assertEquals(68, r.size(135, 75, true)[0]);
    assertEquals(38, r.size(135, 75, true)[1]);
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"style\": \"sketch\"}",
        "{\"rays\": 2}",
        "{\"contact\": 1.5}",
        "{\"without\": [\"lights\"]}",
        "{\"scale\": 0}",
        "{\"every\": 0}",
        "{\"burnIns\": \"frame\"}",
        "{\"quality\": 101}",
        "{\"near\": -1}",
        "{\"watermark\": 7}",
        "{\"sise\": 1}"
      })
  void readerAndSchemaRefuseTheSame(String json) throws Exception {
    assertTrue(!fits(json));
    Path file = Files.writeString(folder.resolve("p.json"), json);
    var e = assertThrows(IllegalArgumentException.class, () -> PreviewJson.document(file));
    assertTrue(e.getMessage().startsWith("p.json: "), e.getMessage());
  }
}
