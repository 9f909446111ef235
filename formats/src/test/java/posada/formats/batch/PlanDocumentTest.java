package posada.formats.batch;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.networknt.schema.InputFormat;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;

class PlanDocumentTest {
  private static final Path DOCS = Path.of("../docs");

  private static String example() throws Exception {
    String text = Files.readString(DOCS.resolve("plan.md"));
    int from = text.indexOf("```json\n") + 8;
    return text.substring(from, text.indexOf("```", from));
  }

  private static boolean fits(String json) throws Exception {
    return SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
        .getSchema(Files.readString(DOCS.resolve("plan.schema.json")))
        .validate(json, InputFormat.JSON)
        .isEmpty();
  }

  @Test
  void theExampleOfTheDocsIsWhatItSays() throws Exception {
    assertTrue(fits(example()));
    List<PlanStrand> all = Documents.read(example(), PlanDocument.class).on("2026-03-01");
    assertEquals(
        List.of("arrival/main", "arrival/cars"), all.stream().map(PlanStrand::name).toList());
    StrandDocument main = all.get(0).document(), cars = all.get(1).document();
    assertEquals(640, main.width());
    assertEquals(256, main.settings().recipe().sampling().most());
    assertEquals(16, cars.settings().recipe().sampling().most(), "the layer's is nearer");
    assertEquals(1, cars.settings().passes().wanted().size());
    assertEquals(0.5, cars.settings().lens().exposure().at(0));
    assertNotEquals(main.basis(), cars.basis());
  }

  @Test
  void theSchemaSaysWhatTheReaderDoes() throws Exception {
    // Its settings are those of the settings' own schema.
    assertEquals(
        Documents.object(DOCS.resolve("settings.schema.json")).get("$defs"),
        Documents.object(DOCS.resolve("plan.schema.json")).get("$defs"));
    assertFalse(fits(example().replace("\"frameRate\": 24", "\"frameRate\": \"24\"")));
    assertFalse(fits(example().replace("\"production\"", "\"prodction\"")));
    assertFalse(fits(example().replace("\"file\"", "\"path\"")));
  }

  @Test
  void whatIsReadIsWrittenTheSame() throws Exception {
    PlanDocument d = Documents.read(example(), PlanDocument.class);
    String written = Documents.write(d);
    assertTrue(fits(written), written);
    assertEquals(d, Documents.read(written, PlanDocument.class));
  }
}
