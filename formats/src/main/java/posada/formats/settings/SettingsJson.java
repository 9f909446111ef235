package posada.formats.settings;

import com.fasterxml.jackson.core.JsonProcessingException;
import com.fasterxml.jackson.databind.ObjectMapper;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.scene.Environment;
import posada.core.settings.Bounces;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Filter;
import posada.core.settings.Irradiance;
import posada.core.settings.Lens;
import posada.core.settings.Multipliers;
import posada.core.settings.OwnPass;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.settings.Shutter;
import posada.formats.exr.ExrCompression;
import posada.formats.files.FileOptions;

/** Render settings as JSON: what a document does not say stays as it is by default. */
public final class SettingsJson {
  private static final ObjectMapper JSON = new ObjectMapper();

  private SettingsJson() {}

  /**
   * Settings, surroundings that replace the scene's, and how files are written.
   *
   * @param environment null for the scene's own
   */
  public record Document(RenderSettings settings, Environment environment, FileOptions files) {}

  /**
   * Reads a file; pictures it names are looked for beside it.
   *
   * @throws IllegalArgumentException naming the file, the setting and its value if something is
   *     wrong
   */
  public static Document read(Path file) throws IOException {
    String text = Files.readString(file);
    Path folder = file.toAbsolutePath().getParent();
    try {
      return read(text, RenderSettings.DEFAULT, folder);
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(file.getFileName() + ": " + e.getMessage(), e);
    }
  }

  /**
   * Reads a document over settings that hold where it says nothing.
   *
   * @param folder where pictures are looked for; null if none may be named
   * @throws IllegalArgumentException naming the setting and its value if something is wrong
   */
  public static Document read(String text, RenderSettings over, Path folder) throws IOException {
    return read(object(text), over, folder);
  }

  static Map<?, ?> object(String text) {
    Object tree;
    try {
      tree = JSON.readValue(text, Object.class);
    } catch (JsonProcessingException e) {
      throw new IllegalArgumentException(
          "the JSON is damaged at line " + e.getLocation().getLineNr(), e);
    }
    if (!(tree instanceof Map<?, ?> map)) {
      throw new IllegalArgumentException("the JSON is no object");
    }
    return map;
  }

  /** Reads a document that was read already, but for its surroundings, which may be large. */
  public static Document withoutSurroundings(Map<?, ?> map) {
    Map<Object, Object> rest = new LinkedHashMap<>(map);
    rest.remove("environment");
    try {
      return read(rest, RenderSettings.DEFAULT, null);
    } catch (IOException e) {
      throw new IllegalStateException("no file was to be read", e);
    }
  }

  /** Likewise for a document that was read already, as maps and lists. */
  public static Document read(Map<?, ?> map, RenderSettings over, Path folder) throws IOException {
    JsonObject o = new JsonObject("", map);
    RenderSettings s = settings(o, over);
    if (o.has("layer")) {
      JsonObject l = o.object("layer");
      s = layer(l, s);
      l.end();
    }
    FileOptions files = files(o.object("files"));
    Environment e = null;
    if (o.has("environment")) {
      e = EnvironmentJson.read(o.object("environment"), folder);
    }
    o.end();
    return new Document(s, e, files);
  }

  private static FileOptions files(JsonObject o) {
    FileOptions d = FileOptions.DEFAULT;
    float[] c = o.color("fill", null);
    FileOptions f =
        new FileOptions(
            ExrCompression.named(o.text("compression", d.compression().label())),
            o.flag("perPass", d.perPass()),
            o.whole("quality", d.quality()),
            c == null ? null : List.of(c[0], c[1], c[2]));
    o.end();
    return f;
  }

  /**
   * Reads a layer's file over settings: the layer, and its own recipe where it has one.
   *
   * @throws IllegalArgumentException naming the file, the key and its value if something is wrong
   */
  public static RenderSettings layer(Path file, RenderSettings over) throws IOException {
    try {
      JsonObject o = new JsonObject("", object(Files.readString(file)));
      RenderSettings s = layer(o, over);
      o.end();
      return s;
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(file.getFileName() + ": " + e.getMessage(), e);
    }
  }

  private static RenderSettings layer(JsonObject o, RenderSettings over) {
    RenderSettings s = over.with(LayerJson.read(o, over.layer()));
    if (o.has("settings")) {
      JsonObject recipe = o.object("settings");
      s = settings(recipe, s);
      recipe.end();
    }
    return s;
  }

  private static RenderSettings settings(JsonObject o, RenderSettings d) {
    List<String> clips = o.texts("clips");
    return new RenderSettings(
        sampling(o.object("sampling"), d.sampling()),
        multipliers(o.object("multipliers"), d.multipliers()),
        filter(o.object("filter"), d.filter()),
        bounces(o.object("bounces"), d.bounces()),
        lens(o.object("lens"), d.lens()),
        shutter(o.object("shutter"), d.shutter()),
        o.has("crop") ? crop(o.object("crop")) : d.crop(),
        clips == null ? d.clips() : new LinkedHashSet<>(clips),
        o.flag("background", d.background()),
        passes(o.object("passes"), d.passes()),
        d.layer(),
        denoising(o.object("denoising"), d.denoising()),
        irradiance(o.object("irradiance"), d.irradiance()));
  }

  private static Irradiance irradiance(JsonObject o, Irradiance d) {
    Irradiance i =
        new Irradiance(
            o.flag("use", d.use()),
            o.whole("every", d.every()),
            o.number("accuracy", d.accuracy()),
            o.number("tolerance", d.tolerance()),
            o.whole("paths", d.paths()),
            o.flag("direct", d.direct()));
    o.end();
    return i;
  }

  private static Denoising denoising(JsonObject o, Denoising d) {
    Denoising n = new Denoising(o.flag("picture", d.picture()), o.number("amount", d.amount()));
    o.end();
    return n;
  }

  private static PassSettings passes(JsonObject o, PassSettings d) {
    List<String> names = o.texts("wanted");
    Set<Pass> wanted = d.wanted();
    if (names != null) {
      wanted = new LinkedHashSet<>();
      for (String n : names) {
        wanted.add(Pass.named(n));
      }
    }
    JsonObject occlusion = o.object("occlusion");
    JsonObject deep = o.object("deep");
    PassSettings p =
        new PassSettings(
            wanted,
            o.has("lightGroups") ? o.object("lightGroups").lists() : d.lightGroups(),
            occlusion.number("radius", d.occlusionRadius()),
            occlusion.number("falloff", d.occlusionFalloff()),
            o.whole("matteRanks", d.matteRanks()),
            o.has("own") ? own(o.object("own")) : d.own(),
            deep.number("tolerance", o.has("deep") ? 0.01 : d.deepTolerance()));
    deep.end();
    occlusion.end();
    o.end();
    return p;
  }

  private static Map<String, OwnPass> own(JsonObject o) {
    Map<String, OwnPass> all = new LinkedHashMap<>();
    for (String name : o.keys()) {
      JsonObject p = o.object(name);
      List<OwnPass.RampStop> ramp = new ArrayList<>();
      for (JsonObject stop : p.objects("ramp")) {
        float[] c = stop.color("color", null);
        if (c == null) {
          throw stop.wrong("color", "three numbers");
        }
        ramp.add(new OwnPass.RampStop(stop.number("at", 0), List.of(c[0], c[1], c[2])));
        stop.end();
      }
      JsonObject numbers = p.object("numbers");
      Map<String, Double> constants = new LinkedHashMap<>();
      for (String pattern : numbers.keys()) {
        constants.put(pattern, numbers.number(pattern, 0));
      }
      all.put(
          name,
          new OwnPass(
              p.choice("quantity", OwnPass.Quantity.FACING),
              p.number("radius", 0.1),
              constants,
              ramp.isEmpty() ? BLACK_TO_WHITE : ramp));
      p.end();
    }
    return all;
  }

  private static final List<OwnPass.RampStop> BLACK_TO_WHITE =
      List.of(
          new OwnPass.RampStop(0, List.of(0f, 0f, 0f)),
          new OwnPass.RampStop(1, List.of(1f, 1f, 1f)));

  private static Sampling sampling(JsonObject o, Sampling d) {
    int most = o.whole("most", d.most());
    Sampling s =
        new Sampling(
            o.has("least") ? o.whole("least", 1) : Math.min(d.least(), Math.max(1, most)),
            most,
            o.flag("adaptive", d.adaptive()),
            o.number("noiseThreshold", d.noiseThreshold()),
            o.number("seconds", d.seconds()),
            o.whole("seed", d.seed()),
            o.flag("seedPerFrame", d.seedPerFrame()),
            o.choice("pattern", d.pattern()));
    o.end();
    return s;
  }

  private static Multipliers multipliers(JsonObject o, Multipliers d) {
    Multipliers m =
        new Multipliers(
            o.whole("diffuse", d.diffuse()),
            o.whole("specular", d.specular()),
            o.whole("transmission", d.transmission()),
            o.whole("lights", d.lights()));
    o.end();
    return m;
  }

  private static Filter filter(JsonObject o, Filter d) {
    Filter f = new Filter(o.choice("shape", d.shape()), o.number("radius", d.radius()));
    o.end();
    return f;
  }

  private static Bounces bounces(JsonObject o, Bounces d) {
    Bounces b =
        new Bounces(
            o.whole("diffuse", d.diffuse()),
            o.whole("specular", d.specular()),
            o.whole("transmission", d.transmission()),
            o.whole("transparency", d.transparency()),
            o.number("indirectClamp", d.indirectClamp()),
            o.number("roughnessFloor", d.roughnessFloor()));
    o.end();
    return b;
  }

  private static Lens lens(JsonObject o, Lens d) {
    Lens l =
        new Lens(
            o.track("focalLength", d.focalLength()),
            o.number("filmWidth", d.filmWidth()),
            o.number("filmHeight", d.filmHeight()),
            o.flag("depthOfField", d.depthOfField()),
            o.track("fStop", d.fStop()),
            o.track("focusDistance", d.focusDistance()),
            o.text("focusObject", d.focusObject()),
            o.whole("blades", d.blades()),
            o.number("bladeRotation", d.bladeRotation()),
            o.track("exposure", d.exposure()));
    o.end();
    return l;
  }

  private static Shutter shutter(JsonObject o, Shutter d) {
    Shutter s =
        new Shutter(
            o.flag("motionBlur", d.motionBlur()),
            o.number("angle", d.angle()),
            o.number("phase", d.phase()),
            o.flag("transforms", d.transforms()),
            o.flag("deformations", d.deformations()),
            o.flag("camera", d.camera()),
            o.whole("steps", d.steps()));
    o.end();
    return s;
  }

  private static Crop crop(JsonObject o) {
    Crop c =
        new Crop(
            o.whole("x", 0),
            o.whole("y", 0),
            o.whole("width", 0),
            o.whole("height", 0),
            o.flag("alone", false));
    o.end();
    return c;
  }
}
