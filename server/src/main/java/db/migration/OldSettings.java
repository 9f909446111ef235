package db.migration;

import posada.formats.settings.Documents;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.databind.node.StringNode;

/** Settings as they were before documents had schema numbers. */
final class OldSettings {
  private static final String[] RECIPE = {
    "sampling", "multipliers", "filter", "bounces", "denoising", "irradiance"
  };

  private OldSettings() {}

  /** Returns the document of a run. */
  static ObjectNode strand(ObjectNode old) {
    ObjectNode d = old.deepCopy();
    d.put("schema", 1);
    d.remove("pattern");
    ObjectNode settings = d.get("settings") instanceof ObjectNode o ? o : Documents.object("{}");
    d.set(
        "settings",
        now(settings, d.get("samples").asInt(), names(d.get("passes")), names(d.get("formats"))));
    d.remove("samples");
    d.remove("passes");
    d.remove("formats");
    return d;
  }

  private static String names(JsonNode list) {
    StringBuilder s = new StringBuilder();
    list.forEach(n -> s.append(s.length() == 0 ? "" : ",").append(n.asString()));
    return s.toString();
  }

  /**
   * Returns the document that old settings say.
   *
   * @param samples of each pixel, which stood beside them, as did passes and formats
   */
  static ObjectNode now(ObjectNode old, int samples, String passes, String formats) {
    ObjectNode d = section(old);
    if (d.get("layer") instanceof ObjectNode layer) {
      JsonNode own = layer.remove("settings");
      rename(layer, "sky", "environment");
      if (layer.get("environment") instanceof ObjectNode o) {
        layer.set("environment", gain(o));
      }
      layer.withArrayProperty("lights").forEach(l -> ((ObjectNode) l).set("color", gain(l)));
      if (layer.get("region") instanceof ObjectNode r && !r.has("follow")) {
        ObjectNode fixed = r.putObject("fixed");
        for (String side : new String[] {"x", "y", "width", "height"}) {
          fixed.set(side, r.remove(side));
        }
      }
      if (own instanceof ObjectNode o) {
        d = Documents.over(d, section(o));
      }
    }
    d.put("schema", 1);
    d.withObjectProperty("recipe").withObjectProperty("sampling").put("most", samples);
    list(d.withObjectProperty("passes"), "wanted", passes);
    list(d.withObjectProperty("delivery"), "formats", formats);
    return d;
  }

  /** The parts of settings under their names of today. */
  private static ObjectNode section(ObjectNode old) {
    ObjectNode d = old.deepCopy();
    for (String part : RECIPE) {
      if (d.has(part)) {
        d.withObjectProperty("recipe").set(part, d.remove(part));
      }
    }
    if (d.get("shutter") instanceof ObjectNode s) {
      rename(s, "phase", "start");
    }
    if (d.get("lens") instanceof ObjectNode l && l.path("depthOfField").asBoolean(false)) {
      // Today it would be what is in the middle of the picture.
      if (!l.has("focusDistance")) {
        l.put("focusDistance", 10);
      }
    }
    rename(d, "files", "delivery");
    if (d.get("passes") instanceof ObjectNode p) {
      passes(p);
    }
    return d;
  }

  private static void passes(ObjectNode p) {
    if (p.remove("occlusion") instanceof ObjectNode o) {
      move(o, "radius", p, "occlusionRadius");
      move(o, "falloff", p, "occlusionFalloff");
    }
    if (p.remove("deep") instanceof ObjectNode o) {
      p.put("deepTolerance", o.path("tolerance").asDouble(0.01));
    }
    if (p.get("lightGroups") instanceof ObjectNode groups) {
      groups.forEach(
          g -> {
            ArrayNode patterns = (ArrayNode) g;
            for (int i = 0; i < patterns.size(); i++) {
              if (patterns.get(i).asString().equals("surroundings")) {
                patterns.set(i, StringNode.valueOf("environment"));
              }
            }
          });
    }
    if (p.get("own") instanceof ObjectNode own) {
      own.forEach(o -> rename((ObjectNode) o, "numbers", "constants"));
    }
  }

  private static void rename(ObjectNode o, String from, String to) {
    move(o, from, o, to);
  }

  private static void move(ObjectNode from, String name, ObjectNode to, String now) {
    JsonNode v = from.remove(name);
    if (v != null) {
      to.set(now, v);
    }
  }

  /** A colour with its factor multiplied in. */
  private static ArrayNode gain(JsonNode o) {
    double factor = o.path("factor").asDouble(1);
    ((ObjectNode) o).remove("factor");
    ArrayNode c = ((ObjectNode) o).arrayNode();
    for (int k = 0; k < 3; k++) {
      c.add(factor * o.path("color").path(k).asDouble(1));
    }
    return c;
  }

  private static void list(ObjectNode o, String name, String values) {
    ArrayNode a = o.putArray(name);
    for (String v : values.split(",")) {
      a.add(v.equals("coat") ? "clearcoat" : v);
    }
  }
}
