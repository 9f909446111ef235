package posada.core.plan;

import java.nio.charset.StandardCharsets;
import java.text.Normalizer;
import java.text.Normalizer.Form;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * How files are named: text with fields in braces, {@code {shot}_{pass}.{frame:4}}; a number after
 * a colon pads with zeros to that many digits. Slashes make folders.
 */
public record NamePattern(String text) {
  /** Fields that may stand in a pattern. */
  public static final List<String> FIELDS =
      List.of("camera", "date", "frame", "layer", "pass", "production", "scene", "shot", "version");

  /** Longest part of a path that a value becomes; several make one file name of up to 255. */
  static final int MOST_BYTES = 80;

  private static final Pattern FIELD = Pattern.compile("\\{([^{}]*)}");

  /** Letters, marks and digits of any script, and what no file system minds. */
  private static final Pattern SAFE = Pattern.compile("[^\\p{L}\\p{M}\\p{N}._+@-]+");

  public NamePattern {
    if (text.isBlank()) {
      throw new IllegalArgumentException("a name pattern cannot be empty");
    }
    for (String part : text.split("/", -1)) {
      if (part.isBlank() || part.equals(".") || part.equals("..")) {
        throw new IllegalArgumentException(
            "name pattern \"" + text + "\" leaves the output folder or has an empty part");
      }
    }
    String rest = FIELD.matcher(text).replaceAll("");
    if (rest.contains("{") || rest.contains("}")) {
      throw new IllegalArgumentException(
          "name pattern \"" + text + "\" has a brace without its partner");
    }
    if (rest.contains("\\") || rest.chars().anyMatch(c -> c < 32 || "<>:\"|?*".indexOf(c) >= 0)) {
      throw new IllegalArgumentException(
          "name pattern \"" + text + "\" has a character that file systems refuse");
    }
    Matcher m = FIELD.matcher(text);
    while (m.find()) {
      String[] f = m.group(1).split(":", -1);
      if (!FIELDS.contains(f[0])) {
        throw new IllegalArgumentException(
            "name pattern \"" + text + "\" has no field {" + f[0] + "}; there are " + fieldList());
      }
      if (f.length > 2 || (f.length == 2 && !f[1].matches("[1-9]"))) {
        throw new IllegalArgumentException(
            "field {" + m.group(1) + "} must be padded to 1 .. 9 digits, as in {frame:4}");
      }
    }
  }

  private static String fieldList() {
    List<String> shown = new ArrayList<>();
    FIELDS.forEach(f -> shown.add("{" + f + "}"));
    return String.join(", ", shown);
  }

  public boolean has(String field) {
    return Pattern.compile("\\{" + field + "(:\\d)?}").matcher(text).find();
  }

  /**
   * Refuses a pattern by which several frames would share a path.
   *
   * @param frames number of frames, 1 or more
   */
  public void check(int frames) {
    if (frames > 1 && !has("frame")) {
      throw new IllegalArgumentException(
          "name pattern \"" + text + "\" gives " + frames + " frames one name; add {frame:4}");
    }
  }

  /**
   * Returns the name with all fields filled in, without extension.
   *
   * @param values field to value; what a file name cannot hold becomes a dash
   */
  public String fill(Map<String, String> values) {
    Map<String, String> known = new TreeMap<>(values);
    Matcher m = FIELD.matcher(text);
    StringBuilder out = new StringBuilder();
    while (m.find()) {
      String[] f = m.group(1).split(":", -1);
      String v = known.get(f[0]);
      if (v == null) {
        throw new IllegalArgumentException("field {" + f[0] + "} has no value here");
      }
      if (f.length == 2 && v.matches("\\d+")) {
        v = "0".repeat(Math.max(0, Integer.parseInt(f[1]) - v.length())) + v;
      }
      m.appendReplacement(out, Matcher.quoteReplacement(safe(v)));
    }
    m.appendTail(out);
    return out.toString();
  }

  /**
   * Returns a value as one part of a path: never empty, never {@code .} or {@code ..}, at most
   * {@value #MOST_BYTES} bytes in UTF-8.
   */
  public static String safe(String value) {
    String s = SAFE.matcher(Normalizer.normalize(value.strip(), Form.NFC)).replaceAll("-");
    int end = s.length();
    while (s.substring(0, end).getBytes(StandardCharsets.UTF_8).length > MOST_BYTES) {
      end = s.offsetByCodePoints(end, -1);
    }
    s = s.substring(0, end).replaceAll("\\.+$", "");
    return s.isEmpty() ? "unnamed" : s;
  }

  /**
   * Returns what is equal for two values whose parts of a path some file system takes for one: in
   * small letters, and with letters that are composed of others (Unicode Annex 15, form KC).
   */
  public static String folded(String value) {
    return foldedPath(safe(value));
  }

  /** Returns the same of a path whose parts are safe. */
  public static String foldedPath(String path) {
    String s = Normalizer.normalize(path, Form.NFKC);
    return s.toUpperCase(Locale.ROOT).toLowerCase(Locale.ROOT);
  }
}
