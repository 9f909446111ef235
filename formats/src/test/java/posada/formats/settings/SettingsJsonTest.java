package posada.formats.settings;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayOutputStream;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.image.FrameImage;
import posada.core.image.RgbImage;
import posada.core.scene.DaySky;
import posada.core.settings.Filter;
import posada.core.settings.Irradiance;
import posada.core.settings.RenderSettings;
import posada.formats.exr.ExrHeader;
import posada.formats.exr.ExrWriter;

class SettingsJsonTest {
  @TempDir Path folder;

  private SettingsJson.Document read(String json) throws Exception {
    return SettingsJson.read(json, RenderSettings.DEFAULT, folder);
  }

  @Test
  void whatIsNotSaidStaysAsItIs() throws Exception {
    SettingsJson.Document d = read("{}");
    assertEquals(RenderSettings.DEFAULT, d.settings());
    assertNull(d.environment());
  }

  @Test
  void readsEverySection() throws Exception {
    RenderSettings s =
        read("""
            {"sampling": {"most": 256, "adaptive": true, "noiseThreshold": 0.01, "seconds": 90},
             "multipliers": {"diffuse": 2, "lights": 4},
             "filter": {"shape": "tent", "radius": 1},
             "bounces": {"transmission": 20, "indirectClamp": 0},
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
        "{\"sampling\": {\"most\": 0}}; samples must be 1 .. 65536 (got 0)",
        "{\"sampling\": {\"most\": 1.5}}; sampling.most must be a whole number (got 1.5)",
        "{\"sampling\": {\"samples\": 4}}; sampling.samples is not a setting",
        "{\"samplng\": {}}; samplng is not a setting; there are",
        "{\"filter\": {\"shape\": \"cone\"}}; filter.shape must be one of box, gaussian, tent",
        "{\"lens\": {\"fStop\": \"big\"}}; lens.fStop must be a number",
        "{\"lens\": {\"blades\": 2}}; aperture blades must be 3 .. 32 (got 2)",
        "{\"environment\": {\"day\": {\"date\": \"June\"}}}; environment.day.date must be a date",
        "{\"environment\": {\"day\": {\"turbidity\": 99}}}; turbidity must be",
        "{\"environment\": {\"day\": {\"model\": \"standard-16\"}}}; standard-1 .. standard-15",
        "{\"environment\": {\"picture\": {\"file\": \"../x.exr\"}}}; in the same folder or below",
        "[1]; the JSON is no object",
        "{; the JSON is damaged at line 1"
      })
  void complaintsNameTheSettingAndTheValue(String json, String words) {
    var e = assertThrows(IllegalArgumentException.class, () -> read(json));
    assertTrue(e.getMessage().contains(words), e.getMessage());
  }

  @Test
  void daysAndTimesCanBeKeyed() throws Exception {
    DaySky d =
        read("""
            {"environment": {"day": {"latitude": 47, "date": "2026-03-20",
             "time": [[0, "06:00"], [4, "18:30"]], "zone": 1, "model": "standard-12"}}}
            """)
            .environment()
            .day();
    assertEquals(6, d.hours().at(0));
    assertEquals(12.25, d.hours().at(2));
    assertEquals(12, d.model().standard());
    assertEquals(9575, d.date().at(0));
  }

  @Test
  void picturesOfSurroundingsAreReadFromExrAndHdr() throws Exception {
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
          read("{\"environment\": {\"picture\": {\"file\": \"" + name + "\", \"rotation\": 90}}}")
              .environment()
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
            () -> read("{\"environment\": {\"picture\": {\"file\": \"none.exr\"}}}"));
    assertTrue(e.getMessage().contains("none.exr is not there"), e.getMessage());
  }

  /** What the schema in the docs tells a writer to expect is what the renderer does. */
  @Test
  void theSchemaKnowsTheDefaultsOfBakedLight() throws Exception {
    String schema = Files.readString(Path.of("../docs/recipe.schema.json"));
    Map<?, ?> all = (Map<?, ?>) SettingsJson.object(schema).get("properties");
    Map<?, ?> baked = (Map<?, ?>) ((Map<?, ?>) all.get("irradiance")).get("properties");
    Map<Object, Object> defaults = new HashMap<>();
    baked.forEach((key, value) -> defaults.put(key, ((Map<?, ?>) value).get("default")));
    RenderSettings other =
        RenderSettings.DEFAULT.with(new Irradiance(true, 3, 0.5, 0.5, 1000, true));
    assertEquals(
        RenderSettings.DEFAULT.irradiance(),
        SettingsJson.read(Map.of("irradiance", defaults), other, folder).settings().irradiance());
  }
}
