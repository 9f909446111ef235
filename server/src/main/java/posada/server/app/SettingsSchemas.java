package posada.server.app;

import io.swagger.v3.oas.models.media.Schema;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springdoc.core.utils.SpringDocUtils;
import posada.core.assembly.Corrections;
import posada.core.assembly.Mask;
import posada.core.assembly.Operator;
import posada.core.assembly.Reading;
import posada.core.assembly.Source;
import posada.core.rig.Ease;
import posada.core.rig.RigLight;
import posada.core.scene.Track;
import posada.core.settings.Filter;
import posada.core.settings.Layer;
import posada.core.settings.OwnPass;
import posada.core.settings.Pass;
import posada.core.settings.Preview;
import posada.core.settings.Sampling;
import posada.formats.assembly.FilmOutput;
import posada.formats.batch.PlanDocument;
import posada.formats.exr.ExrCompression;
import posada.formats.files.Delivery;
import posada.formats.files.DeliveryColor;
import posada.formats.files.Extra;
import posada.formats.files.FileFormat;
import posada.formats.preview.BurnIn;
import posada.formats.settings.Dates;
import posada.formats.settings.Documents;
import posada.formats.settings.SettingsModule;
import posada.formats.settings.Times;

/** What settings look like in the OpenAPI document where their records do not tell. */
@SuppressWarnings({"rawtypes", "unchecked"})
final class SettingsSchemas {
  private SettingsSchemas() {}

  /** Describes choices by their names, and numbers over time. */
  static void describe() {
    SpringDocUtils config = SpringDocUtils.getConfig();
    new SettingsModule(); // Knows the names once it is there.
    for (Class<?> kind :
        List.of(
            Pass.class,
            FileFormat.class,
            ExrCompression.class,
            Delivery.ExrDepth.class,
            DeliveryColor.Encoding.class,
            DeliveryColor.Space.class,
            Extra.class,
            Sampling.Pattern.class,
            Filter.Shape.class,
            Layer.Role.class,
            Layer.Plain.Kind.class,
            OwnPass.Quantity.class,
            Preview.Style.class,
            Preview.Kind.class,
            BurnIn.class,
            Operator.class,
            Source.Kind.class,
            Reading.Light.class,
            Reading.Alpha.class,
            Mask.Kind.class,
            Corrections.Repeat.class,
            FilmOutput.Kind.class,
            Ease.class,
            RigLight.Kind.class)) {
      config.replaceWithSchema(kind, choice(kind));
    }
    // It has a schema of its own, docs/plan.schema.json, and names that others have here.
    config.replaceWithSchema(PlanDocument.class, type("object").additionalProperties(Boolean.TRUE));
    config.replaceWithSchema(Track.class, overTime("number"));
    config.replaceWithSchema(Dates.class, overTime("string"));
    config.replaceWithSchema(Times.class, overTime("number", "string"));
  }

  private static Schema choice(Class<?> kind) {
    Schema s = type("string");
    s.setEnum(SettingsModule.names(kind));
    return s;
  }

  private static Schema type(String... names) {
    Schema s = new Schema();
    s.setTypes(new LinkedHashSet<>(List.of(names)));
    return s;
  }

  /** A value, or a list of pairs of seconds and value. */
  private static Schema overTime(String... kinds) {
    Set<String> all = new LinkedHashSet<>(List.of(kinds));
    all.add("number");
    Schema pair = type("array");
    pair.setItems(type(all.toArray(new String[0])));
    Schema keys = type("array");
    keys.setItems(pair);
    Schema s = new Schema();
    s.setAnyOf(List.of(type(kinds), keys));
    return s;
  }

  /** Lets those parts of settings be null that may be, and names the catalogue's passes. */
  static void complete(Map<String, Schema> schemas) {
    orNull(schemas, "Strand", "passes");
    orNull(schemas, "NewRun", "strands");
    orNull(schemas, "NewRun", "comb");
    orNull(schemas, "NewRun", "warnings");
    orNull(schemas, "NewProof", "strands");
    orNull(schemas, "NewSegment", "stackId");
    orNull(schemas, "NewSegment", "footage");
    orNull(schemas, "NewSegment", "frames");
    for (String part : List.of("shot", "layer", "remedy")) {
      orNull(schemas, "Finding", part);
    }
    orNull(schemas, "LayerDocument", "environment");
    orNull(schemas, "FrameProgress", "extra");
    schemas.get("PassEntry").getProperties().put("name", choice(Pass.class));
    Documents.mayBeNull()
        .forEach(
            (kind, names) -> {
              Schema s = schemas.get(kind.getSimpleName());
              if (s != null && s.getProperties() != null) {
                names.forEach(n -> s.getProperties().computeIfPresent(n, (k, v) -> orNull(v)));
              }
            });
  }

  private static void orNull(Map<String, Schema> schemas, String kind, String part) {
    ((Map<String, Schema>) schemas.get(kind).getProperties())
        .computeIfPresent(part, (k, v) -> orNull(v));
  }

  private static Schema orNull(Object part) {
    Schema s = new Schema();
    s.setAnyOf(List.of((Schema) part, type("null")));
    return s;
  }
}
