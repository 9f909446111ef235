package posada.formats.gltf;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/** What was odd about a file: what is odd about many things in the same way is told once. */
final class Remarks {
  private static final Pattern NAME = Pattern.compile("\"[^\"]*\"");

  /** From so many on they are told together. */
  private static final int MANY = 3;

  /** Names that are told of those that are alike. */
  private static final int NAMED = 5;

  /** Remarks that differ by the first name in them. */
  private final Map<String, List<String>> alike = new LinkedHashMap<>();

  void add(String text) {
    List<String> some =
        alike.computeIfAbsent(NAME.matcher(text).replaceFirst("\"\""), k -> new ArrayList<>());
    if (!some.contains(text)) {
      some.add(text);
    }
  }

  /** Returns them as sentences, in the order in which each kind came up first. */
  List<String> sentences() {
    List<String> all = new ArrayList<>();
    for (List<String> some : alike.values()) {
      if (some.size() < MANY) {
        all.addAll(some);
      } else {
        all.add(some.get(0) + " Likewise " + others(some.subList(1, some.size())) + ".");
      }
    }
    return all;
  }

  private static String others(List<String> texts) {
    List<String> names = texts.stream().limit(NAMED).map(Remarks::name).toList();
    int rest = texts.size() - names.size();
    return String.join(", ", names) + (rest > 0 ? " and " + rest + " more" : "");
  }

  private static String name(String text) {
    Matcher m = NAME.matcher(text);
    return m.find() ? m.group() : text;
  }
}
