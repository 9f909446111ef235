package posada.formats.display;

import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;

/** Texts in one field of a file: a line {@code key=value} for each. */
final class TextLines {
  private TextLines() {}

  static String join(Map<String, String> texts) {
    return new TreeMap<>(texts)
        .entrySet().stream()
            .map(e -> e.getKey() + "=" + e.getValue().replaceAll("\\s+", " "))
            .collect(Collectors.joining("\n"));
  }

  static Map<String, String> split(String lines) {
    Map<String, String> texts = new TreeMap<>();
    for (String line : lines.split("\n")) {
      int at = line.indexOf('=');
      if (at > 0) {
        texts.put(line.substring(0, at), line.substring(at + 1));
      }
    }
    return texts;
  }
}
