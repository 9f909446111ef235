package posada.formats.settings;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.Map;
import posada.core.settings.Preview;
import posada.formats.preview.BurnIn;
import posada.formats.preview.PreviewRecipe;

/** Recipes of previews as JSON: what a document does not say stays as it is by default. */
public final class PreviewJson {
  private PreviewJson() {}

  /**
   * Reads a file's keys and values, once the recipe they make was found right.
   *
   * @throws IllegalArgumentException naming the file, the key and its value if something is wrong
   */
  public static Map<String, Object> document(Path file) throws IOException {
    try {
      Map<?, ?> map = SettingsJson.object(Files.readString(file));
      read(map);
      Map<String, Object> out = new LinkedHashMap<>();
      map.forEach((k, v) -> out.put(String.valueOf(k), v));
      return out;
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(file.getFileName() + ": " + e.getMessage(), e);
    }
  }

  /** Reads a recipe from maps and lists. */
  public static PreviewRecipe read(Map<?, ?> map) {
    JsonObject o = new JsonObject("", map);
    PreviewRecipe d = PreviewRecipe.DEFAULT;
    Preview l = d.look();
    Preview look =
        new Preview(
            o.choice("style", l.style()),
            o.whole("rays", l.rays()),
            o.number("contact", l.contact()),
            o.choices("without", Preview.Kind.class),
            o.number("near", l.near()),
            o.number("far", l.far()));
    PreviewRecipe r =
        new PreviewRecipe(
            look,
            o.number("scale", d.scale()),
            o.whole("every", d.every()),
            o.choices("burnIns", BurnIn.class),
            o.text("watermark", d.watermark()),
            o.whole("quality", d.quality()));
    o.end();
    return r;
  }
}
