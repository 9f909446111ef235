package posada.server.door;

import com.networknt.schema.Error;
import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import com.networknt.schema.path.NodePath;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import org.springframework.http.HttpMethod;
import org.springframework.http.server.PathContainer;
import org.springframework.stereotype.Component;
import org.springframework.util.function.SingletonSupplier;
import org.springframework.web.util.pattern.PathPattern;
import org.springframework.web.util.pattern.PathPatternParser;
import posada.formats.settings.Documents;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * What may be asked, from the OpenAPI document that the front end is made from: the addresses,
 * their parameters and bodies. Bodies have their texts and lists and may leave out the rest;
 * nothing in them may be unknown, of another type, empty where it must not be, or without a bound.
 */
@Component
class ApiSchema {
  /** Letters of a text at most. */
  static final int LONGEST_TEXT = 20_000;

  /** Things in a list at most. */
  private static final int LONGEST_LIST = 200_000;

  /** Letters of a value that are repeated in a sentence. */
  private static final int SHOWN = 80;

  /** A text without NUL. */
  private static final String NO_NUL = "^[^\\u0000]*$";

  /** Parts of settings, which have a default for everything. */
  private static final Set<String> SETTINGS =
      Documents.mayBeNull().keySet().stream().map(Class::getSimpleName).collect(Collectors.toSet());

  private static final String REFERENCE = "#/components/schemas/";

  /**
   * One thing that can be asked for.
   *
   * @param query schemas of its parameters in the query by name
   * @param path schemas of its parameters in the path by name
   * @param body made when it is first needed; null if it has none in JSON
   */
  record Operation(
      PathPattern pattern,
      HttpMethod method,
      Map<String, JsonNode> query,
      Map<String, JsonNode> path,
      SingletonSupplier<Schema> body) {}

  private final List<Operation> operations = new ArrayList<>();

  ApiSchema() {
    ObjectNode api;
    try (InputStream in = ApiSchema.class.getResourceAsStream("/openapi.json")) {
      api = (ObjectNode) new JsonMapper().readTree(in);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
    JsonNode components = strict(api.at("/components/schemas"));
    SchemaRegistry registry = SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12);
    PathPatternParser parser = new PathPatternParser();
    for (Map.Entry<String, JsonNode> path : api.get("paths").properties()) {
      PathPattern pattern = parser.parse(path.getKey());
      for (Map.Entry<String, JsonNode> o : path.getValue().properties()) {
        Map<String, JsonNode> query = new HashMap<>();
        Map<String, JsonNode> in = new HashMap<>();
        for (JsonNode p : o.getValue().path("parameters")) {
          (p.get("in").asString().equals("query") ? query : in)
              .put(p.get("name").asString(), p.get("schema"));
        }
        JsonNode body = o.getValue().at("/requestBody/content/application~1json/schema");
        HttpMethod method = HttpMethod.valueOf(o.getKey().toUpperCase(Locale.ROOT));
        operations.add(
            new Operation(
                pattern,
                method,
                query,
                in,
                body.isMissingNode()
                    ? null
                    : SingletonSupplier.of(() -> registry.getSchema(whole(body, components)))));
      }
    }
    operations.sort(Comparator.comparing(Operation::pattern, PathPattern.SPECIFICITY_COMPARATOR));
  }

  /** Returns a body's schema; its own texts and lists must be there. */
  private static ObjectNode whole(JsonNode body, JsonNode components) {
    ObjectNode all = JsonNodeFactory.instance.objectNode();
    all.setAll((ObjectNode) strict(body));
    all.set("$defs", components);
    String ref = body.path("$ref").asString("");
    String name = ref.substring(ref.lastIndexOf('/') + 1);
    if (SETTINGS.contains(name)) {
      return all;
    }
    ArrayNode needed = all.putArray("required");
    components
        .path(name)
        .path("properties")
        .forEachEntry(
            (part, schema) -> {
              String type = schema.path("type").isString() ? schema.get("type").asString() : "";
              if (type.equals("string") || type.equals("array")) {
                needed.add(part);
              }
            });
    return all;
  }

  /** Returns a schema with a bound for everything and without what must be there. */
  private static JsonNode strict(JsonNode schema) {
    if (schema instanceof ArrayNode list) {
      ArrayNode all = JsonNodeFactory.instance.arrayNode();
      list.forEach(e -> all.add(strict(e)));
      return all;
    }
    if (!(schema instanceof ObjectNode from)) {
      return schema;
    }
    ObjectNode to = JsonNodeFactory.instance.objectNode();
    from.forEachEntry((k, v) -> to.set(k, strict(v)));
    if (from.path("$ref").isString()) {
      to.put("$ref", from.get("$ref").asString().replace(REFERENCE, "#/$defs/"));
    }
    if (from.path("properties").isObject()) {
      to.remove("required");
      if (!from.has("additionalProperties")) {
        to.put("additionalProperties", false);
      }
    }
    if (is(from, "string") && !from.has("enum")) {
      to.put("maxLength", LONGEST_TEXT).put("pattern", NO_NUL);
    }
    if (is(from, "null") && to.path("enum") instanceof ArrayNode all) {
      all.addNull();
    }
    if (is(from, "array")) {
      to.put("maxItems", LONGEST_LIST);
    }
    // Of a number that may be nothing the station says that it is out of bounds.
    String format = from.path("type").isString() ? from.path("format").asString("") : "";
    if (format.equals("int32")) {
      to.put("minimum", Integer.MIN_VALUE).put("maximum", Integer.MAX_VALUE);
    } else if (format.equals("int64")) {
      to.put("minimum", Long.MIN_VALUE).put("maximum", Long.MAX_VALUE);
    }
    return to;
  }

  private static boolean is(JsonNode schema, String type) {
    JsonNode t = schema.path("type");
    if (t.isArray()) {
      return t.valueStream().anyMatch(x -> x.asString().equals(type));
    }
    return t.isString() && t.asString().equals(type);
  }

  /** Returns what is asked for at an address; null if nothing is there. */
  Operation find(String method, String path) {
    PathContainer at = PathContainer.parsePath(path);
    for (Operation o : operations) {
      boolean same = o.method.name().equals(method) || head(o, method);
      if (same && o.pattern.matches(at)) {
        return o;
      }
    }
    return null;
  }

  private static boolean head(Operation o, String method) {
    return method.equals("HEAD") && o.method == HttpMethod.GET;
  }

  /** Returns what is wrong with a parameter in a sentence; null if nothing is. */
  static String wrong(String name, JsonNode schema, String value) {
    if (value.indexOf('\0') >= 0) {
      return name + " has a sign in it that is none (NUL).";
    }
    if (value.length() > LONGEST_TEXT) {
      return name + " may have " + LONGEST_TEXT + " letters (got " + value.length() + ").";
    }
    JsonNode one = is(schema, "array") ? schema.get("items") : schema;
    String needed = null;
    if (is(one, "integer")) {
      boolean small = one.path("format").asString("").equals("int32");
      needed = whole(value, small) ? null : "a whole number";
    } else if (is(one, "number")) {
      needed = number(value) ? null : "a number";
    } else if (is(one, "boolean")) {
      needed = value.equals("true") || value.equals("false") ? null : "true or false";
    }
    if (one.has("enum")) {
      Set<String> all = new LinkedHashSet<>();
      one.get("enum").forEach(e -> all.add(e.asString()));
      needed = all.contains(value) ? null : "one of " + String.join(", ", all);
    }
    return needed == null
        ? null
        : name + " cannot be \"" + shortened(value) + "\": it must be " + needed + ".";
  }

  private static boolean whole(String value, boolean small) {
    try {
      long v = Long.parseLong(value);
      return !small || v == (int) v;
    } catch (NumberFormatException e) {
      return false;
    }
  }

  private static boolean number(String value) {
    try {
      return Double.isFinite(Double.parseDouble(value));
    } catch (NumberFormatException e) {
      return false;
    }
  }

  /** Returns what is wrong with a body in a sentence; null if nothing is. */
  static String wrong(Schema schema, JsonNode body) {
    List<Error> errors = schema.validate(body);
    if (errors.isEmpty()) {
      return null;
    }
    // Of several that something could be, the one that fits it furthest says what is wrong.
    int deepest =
        errors.stream().mapToInt(e -> e.getInstanceLocation().getNameCount()).max().getAsInt();
    List<Error> best =
        errors.stream()
            .filter(e -> e.getInstanceLocation().getNameCount() == deepest)
            .filter(e -> !e.getKeyword().equals("anyOf"))
            .toList();
    return sentence(best.isEmpty() ? errors : best, schema.getSchemaNode());
  }

  private static String sentence(List<Error> errors, JsonNode schema) {
    Error e =
        errors.stream()
            .filter(x -> !x.getKeyword().equals("type"))
            .findFirst()
            .orElse(errors.get(0));
    String at = place(e.getInstanceLocation());
    JsonNode value = e.getInstanceNode();
    return switch (e.getKeyword()) {
      case "additionalProperties" ->
          (at.isEmpty() ? "" : at + ".")
              + shortened(String.valueOf(e.getProperty()))
              + " is not known; there are "
              + String.join(", ", known(schema, e))
              + ".";
      case "required" -> (at.isEmpty() ? "" : at + ".") + e.getProperty() + " is missing.";
      case "enum" -> {
        Set<String> all = new LinkedHashSet<>();
        e.getSchemaNode().forEach(x -> all.add(x.asString()));
        yield at + " must be one of " + String.join(", ", all) + got(value) + ".";
      }
      case "maxLength" ->
          at + " may have " + LONGEST_TEXT + " letters (got " + value.asString().length() + ").";
      case "maxItems" ->
          at + " may have " + LONGEST_LIST + " things in it (got " + value.size() + ").";
      case "minimum", "maximum" -> at + " is out of bounds" + got(value) + ".";
      case "pattern" -> at + " has a sign in it that is none (NUL).";
      default -> {
        Set<String> kinds = new TreeSet<>();
        for (Error x : errors) {
          JsonNode t = x.getSchemaNode();
          (t.isArray() ? t.valueStream().toList() : List.of(t))
              .forEach(n -> kinds.add(kind(n.asString(""))));
        }
        kinds.remove("");
        yield (at.isEmpty() ? "The body" : at)
            + " must be "
            + (kinds.isEmpty() ? "of another kind" : String.join(" or ", kinds))
            + got(value)
            + ".";
      }
    };
  }

  /** Returns the names that there are where one is that is not known. */
  private static List<String> known(JsonNode schema, Error e) {
    String at = e.getSchemaLocation().toString();
    String pointer = at.substring(at.indexOf('#') + 1, at.lastIndexOf('/'));
    List<String> all = new ArrayList<>(schema.at(pointer).path("properties").propertyNames());
    all.sort(null);
    return all;
  }

  private static String kind(String type) {
    return switch (type) {
      case "integer" -> "a whole number";
      case "number" -> "a number";
      case "string" -> "a text";
      case "boolean" -> "true or false";
      case "array" -> "a list";
      case "object" -> "an object";
      case "null" -> "nothing";
      default -> "";
    };
  }

  private static String got(JsonNode n) {
    if (n == null) {
      return "";
    }
    String s = n.isNull() ? "nothing" : n.isString() ? n.asString() : n.toString();
    return " (got " + shortened(s) + ")";
  }

  static String shortened(String s) {
    String clean = s.replace('\0', '?');
    return clean.length() > SHOWN ? clean.substring(0, SHOWN) + " …" : clean;
  }

  private static String place(NodePath at) {
    StringBuilder s = new StringBuilder();
    for (int i = 0; i < at.getNameCount(); i++) {
      Object o = at.getElement(i);
      if (o instanceof Integer n) {
        s.append('[').append(n).append(']');
      } else {
        s.append(s.length() == 0 ? "" : ".").append(shortened(String.valueOf(o)));
      }
    }
    return s.toString();
  }
}
