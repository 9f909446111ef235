package posada.core.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Names for many shots by one pattern: text with the fields {@code {number}}, {@code {shot}},
 * {@code {camera}} and {@code {scene}} in braces; {@code {number:3}} has at least three digits.
 */
public final class ShotNames {
  private static final Pattern FIELD = Pattern.compile("\\{([^{}]*)}");

  /** Most letters of a name, and highest number. */
  private static final int LONGEST = 100, HIGHEST = 9_999_999;

  private ShotNames() {}

  /** What a name may be made of. */
  public record Facts(String shot, String camera, String scene) {}

  /**
   * Returns a name for each shot.
   *
   * @param first number of the first, 0 or more
   * @param step from one number to the next, 1 or more
   * @throws IllegalArgumentException naming the field, number or name that is wrong
   */
  public static List<String> of(String pattern, List<Facts> shots, int first, int step) {
    if (pattern == null || pattern.isBlank()) {
      throw new IllegalArgumentException("a pattern is needed, such as shot-{number:3}");
    }
    if (first < 0 || step < 1 || first + (long) step * shots.size() > HIGHEST) {
      throw new IllegalArgumentException(
          "numbers must begin at 0 or more and rise by 1 or more (got "
              + first
              + " and "
              + step
              + ")");
    }
    List<String> names = new ArrayList<>();
    for (int i = 0; i < shots.size(); i++) {
      String name = name(pattern, shots.get(i), first + i * step);
      if (name.isBlank() || name.length() > LONGEST) {
        throw new IllegalArgumentException(
            "a shot's name needs 1 .. 100 letters (got " + name + ")");
      }
      names.add(name);
    }
    return names;
  }

  private static String name(String pattern, Facts f, int number) {
    Matcher m = FIELD.matcher(pattern);
    StringBuilder all = new StringBuilder();
    while (m.find()) {
      String[] parts = m.group(1).split(":", -1);
      boolean padded = parts.length == 2 && parts[0].equals("number") && parts[1].matches("[1-7]");
      if (parts.length != 1 && !padded) {
        throw unknown(m.group());
      }
      String value =
          switch (parts[0]) {
            case "number" ->
                String.format(Locale.ROOT, "%0" + (padded ? parts[1] : "1") + "d", number);
            case "shot" -> f.shot;
            case "camera" -> f.camera;
            case "scene" -> f.scene;
            default -> throw unknown(m.group());
          };
      m.appendReplacement(all, Matcher.quoteReplacement(value));
    }
    return m.appendTail(all).toString().strip();
  }

  private static IllegalArgumentException unknown(String field) {
    return new IllegalArgumentException(
        "there is no field "
            + field
            + "; there are {number}, {number:3}, {shot}, {camera}, {scene}");
  }
}
