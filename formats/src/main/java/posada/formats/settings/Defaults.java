package posada.formats.settings;

import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import posada.core.assembly.Corrections;
import posada.core.assembly.Input;
import posada.core.assembly.Mask;
import posada.core.assembly.Reading;
import posada.core.assembly.Source;
import posada.core.rig.MaterialChange;
import posada.core.rig.ObjectChange;
import posada.core.rig.RigCamera;
import posada.core.rig.RigKey;
import posada.core.rig.RigLight;
import posada.core.rig.Sway;
import posada.core.settings.Bounces;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Filter;
import posada.core.settings.Irradiance;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.Multipliers;
import posada.core.settings.OwnPass;
import posada.core.settings.PassSettings;
import posada.core.settings.Preview;
import posada.core.settings.Recipe;
import posada.core.settings.Sampling;
import posada.core.settings.Shutter;
import posada.formats.assembly.FilmOutput;
import posada.formats.files.Delivery;
import posada.formats.files.DeliveryColor;
import posada.formats.preview.PreviewRecipe;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JsonParser;
import tools.jackson.databind.BeanDescription;
import tools.jackson.databind.BeanProperty;
import tools.jackson.databind.DeserializationConfig;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.ValueDeserializer;
import tools.jackson.databind.deser.ValueDeserializerModifier;
import tools.jackson.databind.node.NullNode;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.databind.node.TreeTraversingParser;

/** What settings are where a document does not say: here and nowhere else. */
final class Defaults extends ValueDeserializerModifier {
  private static final long serialVersionUID = 1;

  /** A value of each kind, whole, or as a map where there is no whole one. */
  private static final Map<Class<?>, Object> OF =
      Map.ofEntries(
          Map.entry(Recipe.class, Recipe.DEFAULT),
          Map.entry(Sampling.class, Sampling.DEFAULT),
          Map.entry(Multipliers.class, Multipliers.ONE),
          Map.entry(Filter.class, Filter.DEFAULT),
          Map.entry(Bounces.class, Bounces.DEFAULT),
          Map.entry(Denoising.class, Denoising.OFF),
          Map.entry(Irradiance.class, Irradiance.DEFAULT),
          Map.entry(Lens.class, Lens.DEFAULT),
          Map.entry(Shutter.class, Shutter.DEFAULT),
          Map.entry(PassSettings.class, PassSettings.BEAUTY),
          Map.entry(Layer.class, Layer.MAIN),
          Map.entry(Layer.Plain.class, Layer.Plain.CLAY),
          Map.entry(Layer.Gain.class, Map.of("color", List.of(1, 1, 1))),
          Map.entry(Crop.class, Map.of("x", 0, "y", 0, "alone", false)),
          Map.entry(Layer.Region.class, region()),
          Map.entry(Layer.Rule.class, nothing("role", "castsShadows", "reflected", "receives")),
          Map.entry(
              OwnPass.class,
              Map.of(
                  "quantity",
                  "facing",
                  "radius",
                  0.1,
                  "constants",
                  Map.of(),
                  "ramp",
                  List.of(
                      Map.of("at", 0, "color", List.of(0, 0, 0)),
                      Map.of("at", 1, "color", List.of(1, 1, 1))))),
          Map.entry(Delivery.class, Delivery.DEFAULT),
          Map.entry(DeliveryColor.class, DeliveryColor.DEFAULT),
          Map.entry(Preview.class, Preview.DEFAULT),
          Map.entry(PreviewRecipe.class, PreviewRecipe.DEFAULT),
          Map.entry(EnvironmentDocument.class, EnvironmentDocument.DEFAULT),
          Map.entry(EnvironmentDocument.Glow.class, EnvironmentDocument.Glow.DEFAULT),
          Map.entry(EnvironmentDocument.Picture.class, Map.of("rotation", 0, "strength", 1)),
          Map.entry(EnvironmentDocument.Day.class, day()),
          Map.entry(ShotDocument.class, ShotDocument.DEFAULT),
          Map.entry(RenderDocument.class, RenderDocument.DEFAULT),
          Map.entry(RigDocument.class, RigDocument.NONE),
          Map.entry(RigCamera.class, rigCamera()),
          Map.entry(RigLight.class, rigLight()),
          Map.entry(RigKey.class, rigKey()),
          Map.entry(
              Sway.class,
              Map.of("metres", 0.01, "degrees", 0.3, "frequency", 1, "seed", 1, "loop", false)),
          Map.entry(ObjectChange.class, Map.of("on", true)),
          Map.entry(
              MaterialChange.class,
              Map.of("brightness", 1, "tint", List.of(1, 1, 1), "roughness", 1, "on", true)),
          Map.entry(FilmOutput.class, FilmOutput.DEFAULT),
          Map.entry(Input.class, input()),
          Map.entry(Source.class, source()),
          Map.entry(Reading.class, Reading.AS_FILE),
          Map.entry(Mask.class, Mask.NONE),
          Map.entry(Corrections.class, Corrections.NONE),
          Map.entry(Corrections.Levels.class, Corrections.Levels.NONE),
          Map.entry(Corrections.Tint.class, Corrections.Tint.NONE),
          Map.entry(Corrections.Halo.class, Corrections.Halo.NONE),
          Map.entry(Corrections.Defocus.class, Corrections.Defocus.USUAL),
          Map.entry(Corrections.Wrap.class, Corrections.Wrap.NONE),
          Map.entry(Corrections.Flip.class, Corrections.Flip.NONE),
          Map.entry(Corrections.Edges.class, Corrections.Edges.NONE),
          Map.entry(Corrections.Move.class, Corrections.Move.NONE),
          Map.entry(Corrections.When.class, Corrections.When.NONE));

  private static Map<String, Object> source() {
    Map<String, Object> s = nothing("footage", "still");
    s.putAll(
        Map.of(
            "kind",
            "footage",
            "pass",
            "beauty",
            "colour",
            List.of(1, 1, 1, 1),
            "second",
            List.of(0, 0, 0, 1),
            "angle",
            0));
    return s;
  }

  private static Map<String, Object> input() {
    return Map.of(
        "reading",
        Reading.AS_FILE,
        "operator",
        "over",
        "strength",
        1,
        "mask",
        Mask.NONE,
        "corrections",
        Corrections.NONE,
        "muted",
        false,
        "solo",
        false);
  }

  private static Map<String, Object> rigCamera() {
    Map<String, Object> c = nothing("height", "orbit", "sway");
    c.putAll(
        Map.of(
            "orthographic",
            false,
            "view",
            40,
            "fixedTo",
            "",
            "lookAt",
            "",
            "pivot",
            List.of(0, 0, 0)));
    return c;
  }

  private static Map<String, Object> rigLight() {
    Map<String, Object> l = nothing("temperature");
    l.putAll(Map.of("color", List.of(1, 1, 1), "size", 0.5, "depth", 0.5, "cone", 60));
    l.putAll(Map.of("soft", 0.2, "seen", true, "group", "", "fixedTo", "", "on", true));
    return l;
  }

  private static Map<String, Object> rigKey() {
    Map<String, Object> k = nothing("value");
    k.putAll(
        Map.of(
            "time",
            0,
            "position",
            List.of(0, 0, 0),
            "rotation",
            List.of(0, 0, 0, 1),
            "ease",
            "eased"));
    return k;
  }

  private static Map<String, Object> nothing(String... keys) {
    Map<String, Object> m = new LinkedHashMap<>();
    for (String k : keys) {
      m.put(k, null);
    }
    return m;
  }

  private static Map<String, Object> region() {
    Map<String, Object> r = nothing("fixed");
    r.putAll(
        Map.of(
            "follow", List.of(), "drawn", List.of(), "pad", 8, "snap", 1, "constantSize", false));
    return r;
  }

  /** Returns the names of a kind's parts that may be null. */
  static Set<String> mayBeNull(Class<?> kind) {
    Object whole = OF.get(kind);
    Set<String> names = new TreeSet<>();
    if (whole != null) {
      ((ObjectNode) Documents.tree(whole))
          .forEachEntry(
              (name, value) -> {
                if (value.isNull()) {
                  names.add(name);
                }
              });
    }
    return names;
  }

  /** Returns all kinds of which something may be left out. */
  static Set<Class<?>> kinds() {
    return OF.keySet();
  }

  private static Map<String, Object> day() {
    Map<String, Object> d = new LinkedHashMap<>();
    d.put("model", "physical");
    d.put("latitude", 46.5);
    d.put("longitude", 9.8);
    d.put("date", "2026-06-21");
    d.put("time", 12);
    d.put("zone", 0);
    d.put("turbidity", 3);
    d.put("strength", 1);
    d.put("sun", 1);
    d.put("north", 0);
    d.put("ground", List.of(0.2, 0.2, 0.2));
    return d;
  }

  @Override
  public ValueDeserializer<?> modifyDeserializer(
      DeserializationConfig config, BeanDescription.Supplier bean, ValueDeserializer<?> d) {
    Object whole = OF.get(bean.getBeanClass());
    return whole == null ? d : new Filling(d, whole);
  }

  private static JacksonException notThere(DeserializationContext c, JsonNode usual) {
    try {
      SettingsModule.wrong(
          c, Object.class, NullNode.instance, "left out or be something, such as " + usual);
      throw new IllegalStateException("that is always refused");
    } catch (JacksonException e) {
      return e;
    }
  }

  /** Puts what is left out of an object beside what is said. */
  private static final class Filling extends ValueDeserializer<Object> {
    private final ValueDeserializer<?> plain;
    private final Object whole;

    private Filling(ValueDeserializer<?> plain, Object whole) {
      this.plain = plain;
      this.whole = whole;
    }

    @Override
    public void resolve(DeserializationContext c) {
      plain.resolve(c);
    }

    @Override
    public ValueDeserializer<?> createContextual(DeserializationContext c, BeanProperty at) {
      ValueDeserializer<?> now = plain.createContextual(c, at);
      return now == plain ? this : new Filling(now, whole);
    }

    @Override
    public Object deserialize(JsonParser p, DeserializationContext c) {
      JsonNode said = c.readTree(p);
      if (!(said instanceof ObjectNode object)) {
        return SettingsModule.wrong(c, Object.class, said, "an object");
      }
      ObjectNode usual = (ObjectNode) Documents.tree(whole);
      for (var e : object.properties()) {
        if (e.getValue().isNull() && usual.has(e.getKey()) && !usual.get(e.getKey()).isNull()) {
          throw notThere(c, usual.get(e.getKey())).prependPath(whole, e.getKey());
        }
      }
      ObjectNode filled = object.objectNode();
      filled.setAll(usual);
      filled.setAll(object);
      try (JsonParser again = new TreeTraversingParser(filled, c)) {
        again.nextToken();
        return plain.deserialize(again, c);
      }
    }
  }
}
