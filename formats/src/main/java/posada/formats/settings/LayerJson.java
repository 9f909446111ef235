package posada.formats.settings;

import java.util.ArrayList;
import java.util.List;
import posada.core.settings.Crop;
import posada.core.settings.Layer;

/** Layers as JSON, documented in {@code docs/layers.md}. */
final class LayerJson {
  private LayerJson() {}

  /** Reads a layer over another that holds where it says nothing, but for its recipe. */
  static Layer read(JsonObject o, Layer d) {
    List<Layer.Rule> rules = d.objects();
    if (o.has("objects")) {
      rules = new ArrayList<>();
      for (JsonObject r : o.objects("objects")) {
        rules.add(rule(r));
      }
    }
    List<Layer.Gain> lights = d.lights();
    if (o.has("lights")) {
      lights = new ArrayList<>();
      for (JsonObject g : o.objects("lights")) {
        lights.add(new Layer.Gain(patterns(g, "match"), gain(g)));
        g.end();
      }
    }
    List<Float> sky = d.sky();
    if (o.has("sky")) {
      JsonObject s = o.object("sky");
      sky = gain(s);
      s.end();
    }
    return new Layer(
        o.text("name", d.name()),
        o.choice("otherwise", d.otherwise()),
        rules,
        o.has("material") ? plain(o.object("material")) : d.material(),
        lights,
        sky,
        o.flag("textures", d.textures()),
        o.flag("under", d.under()),
        o.has("region") ? region(o.object("region")) : d.region());
  }

  private static List<String> patterns(JsonObject o, String key) {
    List<String> p = o.texts(key);
    if (p == null || p.isEmpty()) {
      throw o.wrong(key, "a list of at least one pattern");
    }
    return p;
  }

  private static Layer.Rule rule(JsonObject o) {
    Layer.Rule r =
        new Layer.Rule(
            patterns(o, "match"),
            o.has("role") ? o.choice("role", Layer.Role.SEEN) : null,
            o.has("castsShadows") ? o.flag("castsShadows", true) : null,
            o.has("reflected") ? o.flag("reflected", true) : null,
            o.texts("receives"));
    o.end();
    return r;
  }

  private static Layer.Plain plain(JsonObject o) {
    List<String> except = o.texts("except");
    Layer.Plain p =
        new Layer.Plain(
            o.choice("kind", Layer.Plain.Kind.CLAY),
            o.number("grey", 0.5),
            except == null ? List.of() : except);
    o.end();
    return p;
  }

  private static List<Float> gain(JsonObject o) {
    float[] c = o.color("color", new float[] {1, 1, 1});
    float f = (float) o.number("factor", 1);
    return List.of(f * c[0], f * c[1], f * c[2]);
  }

  private static Layer.Region region(JsonObject o) {
    Crop fixed = null;
    List<String> follow = o.texts("follow");
    if (follow == null) {
      fixed =
          new Crop(
              o.whole("x", 0), o.whole("y", 0), o.whole("width", 0), o.whole("height", 0), false);
    }
    Layer.Region r =
        new Layer.Region(
            fixed,
            follow == null ? List.of() : follow,
            o.whole("pad", 8),
            o.whole("snap", 1),
            o.flag("constantSize", false));
    o.end();
    return r;
  }
}
