package posada.formats.review;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import posada.core.image.FrameImage;
import posada.core.image.NameHash;
import posada.core.settings.Pass;
import tools.jackson.databind.json.JsonMapper;

/**
 * What a pass holds at a pixel.
 *
 * @param pass its name
 * @param channels their names, but for what is before the dot
 * @param values as numbers in words: {@code 0.4122}, or "nothing" for an infinite depth
 * @param names what an ID matte says is there, most coverage first
 */
public record PixelValues(
    String pass, List<String> channels, List<String> values, List<String> names) {
  private static final JsonMapper JSON = new JsonMapper();
  private static final int DIGITS = 4;

  /**
   * Returns what a pass holds.
   *
   * @param image with its channels
   * @param x inside of the picture; y likewise
   */
  public static PixelValues of(ChannelGroup g, FrameImage image, int x, int y) {
    int at = y * image.width() + x;
    Pass p = g.pass();
    if (p != null && p.matte()) {
      return new PixelValues(g.name(), List.of(), List.of(), names(g, image, at));
    }
    List<String> channels = new ArrayList<>(), values = new ArrayList<>();
    for (String c : g.channels()) {
      float[] data = image.find(c);
      if (data != null) {
        channels.add(c.substring(c.lastIndexOf('.') + 1));
        values.add(text(data[at]));
      }
    }
    return new PixelValues(g.name(), channels, values, List.of());
  }

  private static String text(float v) {
    if (Float.isNaN(v)) {
      return "no number";
    }
    if (Float.isInfinite(v)) {
      return "nothing";
    }
    double size = Math.abs(v);
    if (size != 0 && (size < 1e-3 || size >= 1e5)) {
      return String.format(Locale.ROOT, "%.2e", v);
    }
    int before = size < 1 ? 1 : (int) Math.floor(Math.log10(size)) + 1;
    return String.format(
        Locale.ROOT, "%." + Math.max(0, DIGITS - before + (size < 1 ? 1 : 0)) + "f", v);
  }

  private static List<String> names(ChannelGroup g, FrameImage image, int at) {
    List<String> said = new ArrayList<>();
    for (int k = 0; k + 1 < g.channels().size(); k += 2) {
      float who = image.find(g.channels().get(k))[at];
      float share = image.find(g.channels().get(k + 1))[at];
      if (share > 0) {
        String hex = String.format("%08x", Float.floatToRawIntBits(who));
        said.add(name(g.name(), image, hex) + String.format(Locale.ROOT, " %.0f %%", 100 * share));
      }
    }
    return said;
  }

  private static String name(String set, FrameImage image, String hex) {
    String manifest = image.texts().get(NameHash.key(set) + "manifest");
    if (manifest != null) {
      for (Map.Entry<String, tools.jackson.databind.JsonNode> e :
          JSON.readTree(manifest).properties()) {
        if (e.getValue().asString().equals(hex)) {
          return e.getKey();
        }
      }
    }
    return hex;
  }
}
