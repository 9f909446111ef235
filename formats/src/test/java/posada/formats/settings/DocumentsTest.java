package posada.formats.settings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.networknt.schema.InputFormat;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.MethodSource;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.image.FrameImage;
import posada.core.image.RgbImage;
import posada.core.scene.DaySky;
import posada.core.scene.Environment;
import posada.core.settings.Filter;
import posada.core.settings.Layer;
import posada.core.settings.PassSettings;
import posada.core.settings.Preview;
import posada.core.settings.RenderSettings;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;
import posada.formats.preview.BurnIn;
import posada.formats.preview.PreviewRecipe;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Settings as JSON, and that the schemas in the docs say the same as the reader. */
class DocumentsTest {
  private static final Path DOCS = Path.of("../docs");
  @TempDir Path folder;

  private static RenderDocument read(String json) {
    return Documents.read(json, RenderDocument.class);
  }

  private Environment environment(String json) throws Exception {
    return read("{\"environment\": " + json + "}").environment().read(folder);
  }

  private static Schema schema(String name) throws Exception {
    return SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
        .getSchema(Files.readString(DOCS.resolve(name + ".schema.json")));
  }

  private static boolean fits(String schema, String json) throws Exception {
    return schema(schema).validate(json, InputFormat.JSON).isEmpty();
  }

  /** The first block of JSON of a file of the docs. */
  private static String example(String file) throws Exception {
    String text = Files.readString(DOCS.resolve(file));
    int from = text.indexOf("```json\n") + 8;
    return text.substring(from, text.indexOf("```", from));
  }

  @Test
  void whatIsNotSaidIsAsByDefault() throws Exception {
    RenderDocument d = read("{}");
    assertEquals(RenderDocument.DEFAULT, d);
    assertEquals(RenderSettings.DEFAULT, d.settings());
    assertNull(d.environment());
  }

  /** What is written out whole is read again as it was, and is what the schema says. */
  @Test
  void whatIsWrittenIsReadAgain() throws Exception {
    for (String file : List.of("settings.md", "layers.md", "passes.md")) {
      RenderDocument d = read(example(file));
      String written = Documents.write(d);
      assertEquals(d.layer(), read(written).layer());
      assertEquals(written, Documents.write(read(written)));
      assertEquals(
          List.of(), List.copyOf(schema("settings").validate(written, InputFormat.JSON)), file);
    }
    String whole = Documents.write(RenderDocument.DEFAULT);
    assertEquals(RenderDocument.DEFAULT, read(whole));
    assertTrue(whole.startsWith("{\"schema\":1,"), whole);
  }

  @Test
  void readsEverySection() {
    RenderSettings s =
        read("""
            {"recipe": {
               "sampling": {"most": 256, "adaptive": true, "noiseThreshold": 0.01, "seconds": 90},
               "multipliers": {"diffuse": 2, "lights": 4},
               "filter": {"shape": "tent", "radius": 1},
               "bounces": {"transmission": 20, "indirectClamp": 0}},
             "lens": {"focalLength": [[0, 35], [2, 85]], "depthOfField": true, "blades": 6,
                      "exposure": [[0, 0], [2, -5]]},
             "shutter": {"motionBlur": true, "angle": 90, "camera": false},
             "crop": {"x": 10, "y": 20, "width": 30, "height": 40, "alone": true},
             "clips": ["walk"], "background": false}
            """)
            .settings();
    assertEquals(256, s.sampling().most());
    assertEquals(16, s.sampling().least());
    assertEquals(4, s.multipliers().lights());
    assertEquals(Filter.Shape.TENT, s.filter().shape());
    assertEquals(20, s.bounces().transmission());
    assertEquals(RenderSettings.DEFAULT.bounces().diffuse(), s.bounces().diffuse());
    assertEquals(60, s.lens().focalLength().at(1));
    assertEquals(-2.5, s.lens().exposure().at(1));
    assertTrue(s.shutter().transforms() && !s.shutter().camera());
    assertEquals(40, s.crop().height());
    assertEquals(Set.of("walk"), s.clips());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = ';',
      value = {
        "{\"lens\": {\"exposure\": -40}}; exposure must be -32 .. 32 (got -40)",
        "{\"recipe\": {\"sampling\": {\"most\": 0}}}; recipe.sampling: samples must be 1 .. 65536 (got 0)",
        "{\"recipe\": {\"sampling\": {\"most\": 1.5}}}; recipe.sampling.most must be a whole number (got 1.5)",
        "{\"recipe\": {\"sampling\": {\"most\": \"8\"}}}; recipe.sampling.most must be a whole number (got 8)",
        "{\"recipe\": {\"sampling\": {\"most\": 3e9}}}; recipe.sampling.most must be a whole number",
        "{\"recipe\": {\"sampling\": null}}; recipe.sampling must be left out or be something",
        "{\"recipe\": 7}; recipe must be an object (got 7)",
        "{\"recipe\": {\"sampling\": {\"samples\": 4}}}; recipe.sampling.samples is not known; there are adaptive,",
        "{\"samplng\": {}}; samplng is not known; there are",
        "{\"recipe\": {\"filter\": {\"shape\": \"cone\"}}}; recipe.filter.shape must be one of box, tent, gaussian (got cone)",
        "{\"lens\": {\"fStop\": \"big\"}}; lens.fStop must be a number",
        "{\"lens\": {\"blades\": 2}}; lens: aperture blades must be 3 .. 32 (got 2)",
        "{\"lens\": {\"depthOfField\": \"yes\"}}; lens.depthOfField must be true or false (got yes)",
        "{\"lens\": {\"focusObject\": 7}}; lens.focusObject must be a text (got 7)",
        "{\"layer\": {\"objects\": [{\"match\": [\"a\"]}, {\"match\": [\"a\"], \"role\": \"gone\"}]}}; layer.objects[1].role must be one of seen, unseen,",
        "{\"clips\": \"walk\"}; clips must be a list (got walk)",
        "{\"schema\": 9}; schema must be 1 (got 9)",
        "{\"environment\": {\"day\": {\"date\": \"June\"}}}; environment.day.date must be a date",
        "{\"environment\": {\"day\": {\"turbidity\": 99}}}; turbidity must be",
        "{\"environment\": {\"day\": {\"model\": \"standard-16\"}}}; standard-1 .. standard-15",
        "{\"background\": true, \"background\": false}; the JSON is damaged at line 1",
        "[1]; the JSON is no object",
        "{; the JSON is damaged at line 1"
      })
  void complaintsNameThePlaceAndTheValue(String json, String words) {
    var e = assertThrows(IllegalArgumentException.class, () -> read(json));
    assertTrue(e.getMessage().contains(words), e.getMessage());
  }

  @Test
  void picturesOfAnEnvironmentLieBesideTheDocument() {
    var e =
        assertThrows(
            IllegalArgumentException.class,
            () -> environment("{\"picture\": {\"file\": \"../x.exr\"}}"));
    assertTrue(e.getMessage().contains("in the same folder or below"), e.getMessage());
  }

  @Test
  void aDocumentOverAnotherChangesWhatItSays() {
    ObjectNode below =
        Documents.object(
            "{\"recipe\": {\"sampling\": {\"most\": 8, \"least\": 2}}, \"clips\": [\"a\"]}");
    ObjectNode above =
        Documents.object("{\"recipe\": {\"sampling\": {\"most\": 9}}, \"clips\": [\"b\"]}");
    assertEquals(
        Documents.object(
            "{\"recipe\": {\"sampling\": {\"most\": 9, \"least\": 2}}, \"clips\": [\"b\"]}"),
        Documents.over(below, above));
  }

  @Test
  void theExampleOfTheLayersIsRead() throws Exception {
    assertTrue(fits("settings", example("layers.md")));
    RenderSettings s = read(example("layers.md")).settings();
    Layer l = s.layer();
    assertEquals("cars", l.name());
    assertEquals(Layer.Role.HOLDOUT, l.otherwise());
    assertEquals(Layer.Role.SEEN, l.objects().get(0).role());
    assertFalse(l.objects().get(1).castsShadows());
    assertEquals(List.of("lamps"), l.objects().get(2).receives());
    assertEquals(new Layer.Plain(Layer.Plain.Kind.CLAY, 0.6, List.of("car-1")), l.material());
    assertEquals(List.of(0.5f, 0.4f, 0.3f), l.lights().get(0).color());
    assertEquals(1.9f, l.environment().get(1), 1e-6);
    assertEquals(new Layer.Region(null, List.of("car-1"), 8, 16, true), l.region());
    assertFalse(s.background());
    assertEquals(128, s.sampling().most());
  }

  @Test
  void theExampleOfThePassesIsRead() throws Exception {
    String json = example("passes.md");
    assertTrue(fits("settings", json));
    PassSettings s = read(json).passes();
    assertEquals(0.01, s.deepTolerance());
    assertEquals(List.of("edges", "kind"), List.copyOf(s.own().keySet()));
    assertEquals(2, s.own().get("kind").constants().get("car"));
    assertEquals(List.of("lamp-*"), s.lightGroups().get("lamps"));
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{\"layer\": {\"nam\": \"x\"}}",
        "{\"layer\": {\"name\": \"No Blanks\"}}",
        "{\"layer\": {\"objects\": [{\"role\": \"seen\"}]}}",
        "{\"layer\": {\"objects\": [{\"match\": \"a\"}]}}",
        "{\"layer\": {\"material\": {\"kind\": \"wax\"}}}",
        "{\"layer\": {\"lights\": [{\"color\": [1, 1, 1]}]}}",
        "{\"layer\": {\"lights\": [{\"match\": [\"a\"], \"color\": [1, 1, -1]}]}}",
        "{\"layer\": {\"environment\": [1, 2]}}",
        "{\"layer\": {\"region\": {\"pad\": 3}}}",
        "{\"layer\": {\"region\": {\"follow\": [\"a\"], \"constantSize\": 1}}}",
        "{\"layer\": {\"under\": \"yes\"}}",
        "{\"passes\": {\"wanted\": []}}",
        "{\"passes\": {\"wanted\": [\"beuaty\"]}}",
        "{\"passes\": {\"lightGroups\": {\"key\": []}}}",
        "{\"passes\": {\"matteRanks\": 5}}",
        "{\"passes\": {\"own\": {\"a\": {\"quantity\": \"depth\"}}}}",
        "{\"passes\": {\"own\": {\"a\": {\"ramp\": [{\"at\": 1}]}}}}",
        "{\"passes\": {\"own\": {\"a\": {\"constants\": {\"x\": \"one\"}}}}}",
        "{\"delivery\": {\"formats\": []}}",
        "{\"delivery\": {\"compression\": \"dwaa\"}}",
        "{\"delivery\": {\"fill\": [1]}}"
      })
  void readerAndSchemaRefuseTheSame(String json) throws Exception {
    assertFalse(fits("settings", json));
    Path file = Files.writeString(folder.resolve("s.json"), json);
    var e =
        assertThrows(
            IllegalArgumentException.class, () -> Documents.read(file, RenderDocument.class));
    assertTrue(e.getMessage().startsWith("s.json: "), e.getMessage());
  }

  /** A number of the schema: where it is, its kind, and how far it may go. */
  record Range(String file, List<String> path, JsonNode of) {
    @Override
    public String toString() {
      return file + ": " + String.join(".", path);
    }

    private String document(String value) {
      StringBuilder s = new StringBuilder(value);
      for (int i = path.size() - 1; i >= 0; i--) {
        s.insert(0, "{\"" + path.get(i) + "\":").append('}');
      }
      return s.toString();
    }
  }

  static List<Range> ranges() throws Exception {
    List<Range> all = new ArrayList<>();
    for (String file : List.of("settings", "preview")) {
      ObjectNode schema = Documents.object(DOCS.resolve(file + ".schema.json"));
      collect(file, schema, schema, List.of(), all);
    }
    return all;
  }

  private static void collect(
      String file, ObjectNode schema, JsonNode at, List<String> path, List<Range> out) {
    JsonNode s = at;
    if (s.has("$ref")) {
      s = schema.at(s.get("$ref").asString().substring(1));
    }
    if (s.has("anyOf")) {
      s = s.get("anyOf").get(0);
    }
    String type = s.path("type").asString("");
    if ((type.equals("number") || type.equals("integer")) && s.has("maximum")) {
      out.add(new Range(file, path, s));
    }
    if (!path.contains("crop") && !path.contains("region")) {
      s.path("properties")
          .forEachEntry(
              (name, part) -> {
                List<String> below = new ArrayList<>(path);
                below.add(name);
                collect(file, schema, part, below, out);
              });
    }
  }

  /** Both ends are taken, what lies beyond is refused, by the schema and by the reader alike. */
  @ParameterizedTest
  @MethodSource("ranges")
  void theSchemasRangesAreTheReaders(Range r) throws Exception {
    boolean whole = r.of.get("type").asString().equals("integer");
    double least = r.of.get("minimum").asDouble(), most = r.of.get("maximum").asDouble();
    for (double v : new double[] {least, most}) {
      String json = r.document(text(v, whole));
      assertTrue(fits(r.file, json), json);
      taken(r, json);
    }
    for (double v : new double[] {beyond(least, -1, whole), beyond(most, 1, whole)}) {
      String json = r.document(text(v, whole));
      assertFalse(fits(r.file, json), json);
      assertThrows(IllegalArgumentException.class, () -> taken(r, json), json);
    }
    String other = r.document("\"7\"");
    assertThrows(IllegalArgumentException.class, () -> taken(r, other), other);
  }

  private static double beyond(double end, int way, boolean whole) {
    return whole ? end + way : end + way * Math.max(1e-6, Math.abs(end) * 1e-3);
  }

  private static String text(double v, boolean whole) {
    return whole ? Long.toString((long) v) : Double.toString(v);
  }

  private static void taken(Range r, String json) {
    Class<?> kind = r.file.equals("preview") ? PreviewRecipe.class : RenderDocument.class;
    Documents.read(json, kind);
  }

  /** What the schema tells a writer to expect is what the reader does. */
  @Test
  void theSchemasDefaultsAreTheReaders() throws Exception {
    ObjectNode schema = Documents.object(DOCS.resolve("settings.schema.json"));
    JsonNode defaults = Documents.tree(RenderDocument.DEFAULT);
    assertTrue(defaultsOf(schema, schema, defaults, "") > 50);
    ObjectNode preview = Documents.object(DOCS.resolve("preview.schema.json"));
    assertTrue(defaultsOf(preview, preview, Documents.tree(PreviewRecipe.DEFAULT), "") > 9);
  }

  private static int defaultsOf(ObjectNode schema, JsonNode at, JsonNode value, String path) {
    JsonNode s = at.has("$ref") ? schema.at(at.get("$ref").asString().substring(1)) : at;
    int found = 0;
    if (s.has("default")) {
      JsonNode d = s.get("default");
      boolean number = d.isNumber();
      assertEquals(
          number ? d.asDouble() : d.toString().replace(".0", ""),
          number ? value.asDouble() : value.toString().replace(".0", ""),
          path);
      found++;
    } else if (s.has("anyOf")) {
      assertTrue(value.isNull(), path + " is " + value);
    }
    if (s.has("properties")) {
      assertEquals(s.get("properties").propertyNames(), value.propertyNames(), path);
      for (var e : s.get("properties").properties()) {
        found += defaultsOf(schema, e.getValue(), value.get(e.getKey()), path + "." + e.getKey());
      }
    }
    return found;
  }

  @Test
  void theExampleOfThePreviewsIsRead() throws Exception {
    assertTrue(fits("preview", example("previews.md")));
    PreviewRecipe r = Documents.read(example("previews.md"), PreviewRecipe.class);
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

  @Test
  void daysAndTimesCanBeKeyed() throws Exception {
    DaySky d =
        environment(
                """
                {"day": {"latitude": 47, "date": "2026-03-20",
                 "time": [[0, "06:00"], [4, "18:30"]], "zone": 1, "model": "standard-12"}}
                """)
            .day();
    assertEquals(6, d.hours().at(0));
    assertEquals(12.25, d.hours().at(2));
    assertEquals(12, d.model().standard());
    assertEquals(9575, d.date().at(0));
  }

  @Test
  void picturesOfAnEnvironmentAreReadFromExrAndHdr() throws Exception {
    int w = 8;
    float[] r = new float[2 * w], g = new float[2 * w], b = new float[2 * w];
    for (int i = 0; i < r.length; i++) {
      r[i] = 0.25f * i;
      g[i] = 300f / (1 + i);
      b[i] = i % 3;
    }
    FrameImage image =
        new FrameImage(
            w,
            2,
            List.of(
                new FrameImage.Channel("R", FrameImage.Precision.FLOAT, r),
                new FrameImage.Channel("G", FrameImage.Precision.FLOAT, g),
                new FrameImage.Channel("B", FrameImage.Precision.FLOAT, b)));
    Files.write(folder.resolve("a.exr"), ExrWriter.encode(image, ExrHeader.NONE));
    ByteArrayOutputStream hdr = new ByteArrayOutputStream();
    hdr.writeBytes(
        "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 2 +X 8\n".getBytes(StandardCharsets.US_ASCII));
    for (int y = 0; y < 2; y++) {
      // Each row: its width, then all of one component after the other, here without runs.
      hdr.writeBytes(new byte[] {2, 2, 0, (byte) w});
      for (int k = 0; k < 4; k++) {
        hdr.write(w);
        for (int x = 0; x < w; x++) {
          hdr.write(shared(r[y * w + x], g[y * w + x], b[y * w + x])[k]);
        }
      }
    }
    Files.write(folder.resolve("a.hdr"), hdr.toByteArray());
    for (String name : List.of("a.exr", "a.hdr")) {
      RgbImage got =
          environment("{\"picture\": {\"file\": \"" + name + "\", \"rotation\": 90}}")
              .picture()
              .image();
      for (int i = 0; i < r.length; i++) {
        double most = Math.max(r[i], Math.max(g[i], b[i]));
        assertEquals(r[i], got.rgb()[i * 3], 0.01 * most, name);
        assertEquals(g[i], got.rgb()[i * 3 + 1], 0.01 * most, name);
        assertEquals(b[i], got.rgb()[i * 3 + 2], 0.01 * most, name);
      }
    }
  }

  /** Three numbers with one exponent, as the format stores them. */
  private static byte[] shared(float r, float g, float b) {
    float most = Math.max(r, Math.max(g, b));
    int e = Math.getExponent(most) + 1;
    double k = 256 / Math.pow(2, e);
    return new byte[] {(byte) (r * k), (byte) (g * k), (byte) (b * k), (byte) (e + 128)};
  }

  @Test
  void missingPicturesAreNamed() {
    var e =
        assertThrows(
            java.io.IOException.class,
            () -> environment("{\"picture\": {\"file\": \"none.exr\"}}"));
    assertTrue(e.getMessage().contains("none.exr is not there"), e.getMessage());
  }

  @Test
  void aSingleKeyStaysAKey() {
    posada.core.assembly.Input in =
        Documents.read(
            "{\"id\":\"1\",\"name\":\"a\",\"source\":{\"kind\":\"solid\"},\"strength\":[[0.5,0.25]]}",
            posada.core.assembly.Input.class);
    assertEquals("[[0.5,0.25]]", Documents.tree(in).get("strength").toString());
    assertEquals("0.0", Documents.tree(in).at("/corrections/blur").toString());
  }
}
