package posada.formats.settings;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import tools.jackson.core.JacksonException;
import tools.jackson.core.JacksonException.Reference;
import tools.jackson.core.StreamReadFeature;
import tools.jackson.core.exc.StreamConstraintsException;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.MapperFeature;
import tools.jackson.databind.cfg.CoercionAction;
import tools.jackson.databind.cfg.CoercionInputShape;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.exc.MismatchedInputException;
import tools.jackson.databind.exc.UnrecognizedPropertyException;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;
import tools.jackson.databind.type.LogicalType;

/**
 * Reads settings from JSON and writes them. What a document does not say is as it is by default;
 * whatever is wrong with it is said with its place, its value and what would do.
 */
public final class Documents {
  private static final JsonMapper MAPPER = strict(JsonMapper.builder()).build();

  /** Letters of a value that are repeated in a sentence. */
  private static final int LONGEST = 100;

  private Documents() {}

  /** Lets a mapper read settings, and refuse what is not exactly as it should be. */
  public static JsonMapper.Builder strict(JsonMapper.Builder b) {
    return b.addModule(new SettingsModule())
        .enable(DeserializationFeature.FAIL_ON_UNKNOWN_PROPERTIES)
        .enable(DeserializationFeature.FAIL_ON_NULL_FOR_PRIMITIVES)
        .enable(DeserializationFeature.FAIL_ON_TRAILING_TOKENS)
        .enable(DeserializationFeature.FAIL_ON_READING_DUP_TREE_KEY)
        .enable(StreamReadFeature.STRICT_DUPLICATE_DETECTION)
        .disable(DeserializationFeature.ACCEPT_FLOAT_AS_INT)
        .disable(MapperFeature.ALLOW_COERCION_OF_SCALARS)
        .disable(MapperFeature.SORT_PROPERTIES_ALPHABETICALLY)
        .withCoercionConfig(
            LogicalType.Textual,
            c -> {
              for (CoercionInputShape s :
                  new CoercionInputShape[] {
                    CoercionInputShape.Integer, CoercionInputShape.Float, CoercionInputShape.Boolean
                  }) {
                c.setCoercion(s, CoercionAction.Fail);
              }
            });
  }

  /** Returns, for each kind of part of a document, the names of what may be null in it. */
  public static Map<Class<?>, Set<String>> mayBeNull() {
    return Defaults.kinds().stream().collect(Collectors.toMap(k -> k, Defaults::mayBeNull));
  }

  /** Returns a value as a tree. */
  public static JsonNode tree(Object value) {
    return MAPPER.valueToTree(value);
  }

  /** Returns a value as JSON, with every default written out. */
  public static String write(Object value) {
    return MAPPER.writeValueAsString(value);
  }

  /**
   * Returns a JSON text as a tree.
   *
   * @throws IllegalArgumentException if it is damaged, or no object
   */
  public static ObjectNode object(String json) {
    try {
      if (MAPPER.readTree(json) instanceof ObjectNode o) {
        return o;
      }
    } catch (JacksonException e) {
      throw new IllegalArgumentException(sentence(e, null), e);
    }
    throw new IllegalArgumentException("the JSON is no object");
  }

  /** Returns a file's JSON as a tree; errors name the file. */
  public static ObjectNode object(Path file) throws IOException {
    return naming(file, () -> object(Files.readString(file)));
  }

  /**
   * Reads a document.
   *
   * @throws IllegalArgumentException naming the place, its value and what would do
   */
  public static <T> T read(String json, Class<T> kind) {
    return read(object(json), kind);
  }

  /** Reads a document that is a tree already; see {@link #read(String, Class)}. */
  public static <T> T read(JsonNode tree, Class<T> kind) {
    try {
      return MAPPER.treeToValue(tree, kind);
    } catch (JacksonException e) {
      throw new IllegalArgumentException(sentence(e, tree), e);
    }
  }

  /** Reads a document that is maps and lists already; see {@link #read(String, Class)}. */
  public static <T> T of(Object maps, Class<T> kind) {
    return read(tree(maps), kind);
  }

  /** Reads a file; errors name it. */
  public static <T> T read(Path file, Class<T> kind) throws IOException {
    return naming(file, () -> read(object(Files.readString(file)), kind));
  }

  private interface Reading<T> {
    T read() throws IOException;
  }

  private static <T> T naming(Path file, Reading<T> reading) throws IOException {
    try {
      return reading.read();
    } catch (IllegalArgumentException e) {
      throw new IllegalArgumentException(file.getFileName() + ": " + e.getMessage(), e);
    }
  }

  /** Puts a document over another: its objects part by part, everything else as a whole. */
  public static ObjectNode over(ObjectNode below, ObjectNode above) {
    ObjectNode all = below.deepCopy();
    above.forEachEntry(
        (key, value) -> {
          boolean parts = value instanceof ObjectNode && all.get(key) instanceof ObjectNode;
          all.set(
              key, parts ? over((ObjectNode) all.get(key), (ObjectNode) value) : value.deepCopy());
        });
    return all;
  }

  /**
   * Returns what is wrong with a document in a sentence.
   *
   * @param tree the document; null if it could not be read at all
   */
  public static String sentence(JacksonException e, JsonNode tree) {
    if (e instanceof StreamReadException) {
      return "the JSON is damaged at line " + e.getLocation().getLineNr();
    }
    if (e instanceof StreamConstraintsException) {
      return "the JSON is nested too deep, or has names or numbers that are too long";
    }
    String at = place(e);
    for (Throwable t = e.getCause(); t != null; t = t.getCause()) {
      if (t instanceof IllegalArgumentException && !(t instanceof JacksonException)) {
        return at.isEmpty() || t.getMessage().startsWith(at)
            ? t.getMessage()
            : at + ": " + t.getMessage();
      }
    }
    for (Throwable t = e.getCause(); t != null; t = t.getCause()) {
      if (t instanceof NullPointerException) {
        return (at.isEmpty() ? "the document" : at)
            + " lacks a part, or has null where something is needed";
      }
    }
    if (e instanceof UnrecognizedPropertyException unknown) {
      String known =
          unknown.getKnownPropertyIds().stream()
              .map(String::valueOf)
              .sorted()
              .collect(Collectors.joining(", "));
      return at + " is not known; there are " + known;
    }
    if (e instanceof MismatchedInputException mismatch) {
      String said = e.getOriginalMessage();
      String needed =
          said.startsWith(SettingsModule.MUST_BE)
              ? said
              : SettingsModule.MUST_BE + kind(mismatch.getTargetType());
      return (at.isEmpty() ? "the document" : at) + " " + needed + value(e, tree);
    }
    return (at.isEmpty() ? "" : at + ": ") + e.getOriginalMessage();
  }

  private static String place(JacksonException e) {
    StringBuilder s = new StringBuilder();
    for (Reference r : e.getPath()) {
      if (r.getPropertyName() == null) {
        s.append('[').append(r.getIndex()).append(']');
      } else {
        s.append(s.length() == 0 ? "" : ".").append(r.getPropertyName());
      }
    }
    return s.toString();
  }

  /** What stands where something else should; nothing to say if the document is not at hand. */
  private static String value(JacksonException e, JsonNode tree) {
    if (tree == null) {
      return e instanceof InvalidFormatException f ? " (got " + f.getValue() + ")" : "";
    }
    JsonNode n = tree;
    for (Reference r : e.getPath()) {
      if (n != null) {
        n = r.getPropertyName() == null ? n.get(r.getIndex()) : n.get(r.getPropertyName());
      }
    }
    String s = n == null ? "nothing" : n.isString() ? n.asString() : n.toString();
    return " (got " + (s.length() > LONGEST ? s.substring(0, LONGEST) + " ..." : s) + ")";
  }

  private static String kind(Class<?> c) {
    if (c == null) {
      return "of another kind";
    }
    if (c == boolean.class || c == Boolean.class) {
      return "true or false";
    }
    if (c == int.class || c == Integer.class || c == long.class || c == Long.class) {
      return "a whole number";
    }
    if (c.isPrimitive() || Number.class.isAssignableFrom(c)) {
      return "a number";
    }
    if (c == String.class) {
      return "a text";
    }
    return java.util.Collection.class.isAssignableFrom(c) ? "a list" : "an object";
  }
}
