package posada.formats.settings;

import java.util.ArrayList;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import posada.core.scene.Track;

/**
 * One object of a JSON document, read key by key. Every complaint names the path, the value and
 * what would do; keys that nobody asked for are refused by {@link #end}.
 */
final class JsonObject {
  private final String path;
  private final Map<String, Object> values = new LinkedHashMap<>();
  private final Set<String> known = new TreeSet<>();

  JsonObject(String path, Map<?, ?> values) {
    this.path = path;
    values.forEach((k, v) -> this.values.put(String.valueOf(k), v));
  }

  private Object get(String key) {
    known.add(key);
    return values.get(key);
  }

  boolean has(String key) {
    known.add(key);
    return values.get(key) != null;
  }

  private String at(String key) {
    return path.isEmpty() ? key : path + "." + key;
  }

  IllegalArgumentException wrong(String key, String needed) {
    return new IllegalArgumentException(
        at(key) + " must be " + needed + " (got " + values.get(key) + ")");
  }

  double number(String key, double otherwise) {
    Object o = get(key);
    if (o == null) {
      return otherwise;
    }
    if (o instanceof Number n && Double.isFinite(n.doubleValue())) {
      return n.doubleValue();
    }
    throw wrong(key, "a number");
  }

  int whole(String key, int otherwise) {
    double d = number(key, otherwise);
    if (d != Math.rint(d) || Math.abs(d) > Integer.MAX_VALUE) {
      throw wrong(key, "a whole number");
    }
    return (int) d;
  }

  boolean flag(String key, boolean otherwise) {
    Object o = get(key);
    if (o == null) {
      return otherwise;
    }
    if (o instanceof Boolean b) {
      return b;
    }
    throw wrong(key, "true or false");
  }

  String text(String key, String otherwise) {
    Object o = get(key);
    if (o == null) {
      return otherwise;
    }
    if (o instanceof String s) {
      return s;
    }
    throw wrong(key, "a text");
  }

  <E extends Enum<E>> E choice(String key, E otherwise) {
    String s = text(key, null);
    return s == null ? otherwise : named(key, s, otherwise.getDeclaringClass());
  }

  /** A list of names of one kind; empty if the key is not there. */
  <E extends Enum<E>> Set<E> choices(String key, Class<E> kind) {
    Set<E> all = EnumSet.noneOf(kind);
    List<String> names = texts(key);
    if (names != null) {
      names.forEach(n -> all.add(named(key, n, kind)));
    }
    return all;
  }

  private <E extends Enum<E>> E named(String key, String s, Class<E> kind) {
    TreeSet<String> names = new TreeSet<>();
    for (E e : kind.getEnumConstants()) {
      String name = e.name().toLowerCase(java.util.Locale.ROOT).replace('_', '-');
      if (name.equals(s)) {
        return e;
      }
      names.add(name);
    }
    throw wrong(key, "one of " + String.join(", ", names));
  }

  /** A text for each entry, or null if the key is not there. */
  List<String> texts(String key) {
    Object o = get(key);
    if (o == null) {
      return null;
    }
    if (o instanceof List<?> l && l.stream().allMatch(String.class::isInstance)) {
      return l.stream().map(String.class::cast).toList();
    }
    throw wrong(key, "a list of texts");
  }

  /** Every key, in the document's order. */
  List<String> keys() {
    return List.copyOf(values.keySet());
  }

  /** An object for each entry of a list; none if the key is not there. */
  List<JsonObject> objects(String key) {
    Object o = get(key);
    if (o == null) {
      return List.of();
    }
    if (!(o instanceof List<?> l) || !l.stream().allMatch(Map.class::isInstance)) {
      throw wrong(key, "a list of objects");
    }
    List<JsonObject> all = new ArrayList<>();
    for (Object e : l) {
      all.add(new JsonObject(at(key) + "[" + all.size() + "]", (Map<?, ?>) e));
    }
    return all;
  }

  /** Every key with its list of texts, in the document's order. */
  Map<String, List<String>> lists() {
    Map<String, List<String>> all = new LinkedHashMap<>();
    for (String key : values.keySet()) {
      all.put(key, texts(key));
    }
    return all;
  }

  /** Three numbers. */
  float[] color(String key, float[] otherwise) {
    Object o = get(key);
    if (o == null) {
      return otherwise;
    }
    if (o instanceof List<?> l && l.size() == 3 && l.stream().allMatch(Number.class::isInstance)) {
      float[] c = new float[3];
      for (int k = 0; k < 3; k++) {
        c[k] = ((Number) l.get(k)).floatValue();
      }
      return c;
    }
    throw wrong(key, "three numbers");
  }

  /** A number, or a list of pairs of seconds and number. */
  Track track(String key, Track otherwise) {
    return track(
        key, otherwise, "a number", o -> o instanceof Number n ? n.doubleValue() : Double.NaN);
  }

  /**
   * A value, or a list of pairs of seconds and value.
   *
   * @param read turns a value into a number; NaN for what is no such value
   */
  Track track(String key, Track otherwise, String needed, Function<Object, Double> read) {
    Object o = get(key);
    if (o == null) {
      return otherwise;
    }
    double one = read.apply(o);
    if (!Double.isNaN(one)) {
      return Track.of(one);
    }
    String form = needed + ", or a list of pairs of seconds and " + needed;
    if (!(o instanceof List<?> keys) || keys.isEmpty()) {
      throw wrong(key, form);
    }
    double[] times = new double[keys.size()];
    double[] v = new double[keys.size()];
    for (int i = 0; i < times.length; i++) {
      if (!(keys.get(i) instanceof List<?> pair)
          || pair.size() != 2
          || !(pair.get(0) instanceof Number t)
          || Double.isNaN(read.apply(pair.get(1)))) {
        throw wrong(key, form);
      }
      times[i] = t.doubleValue();
      v[i] = read.apply(pair.get(1));
    }
    try {
      return new Track(times, v);
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(at(key) + ": " + e.getMessage());
    }
  }

  /** Another object inside this one; empty if the key is not there. */
  JsonObject object(String key) {
    Object o = get(key);
    if (o != null && !(o instanceof Map<?, ?>)) {
      throw wrong(key, "an object");
    }
    return new JsonObject(at(key), o == null ? Map.of() : (Map<?, ?>) o);
  }

  /** Refuses keys that were not asked for. */
  void end() {
    for (String k : values.keySet()) {
      if (!known.contains(k)) {
        throw new IllegalArgumentException(
            at(k) + " is not a setting; there are " + String.join(", ", known));
      }
    }
  }
}
