package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.InputStream;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * Random and slightly wrong requests over the whole API, made from its document: no answer is a
 * fault of the server or takes long, every refusal is a problem document without a path of the
 * machine, and what was taken can be undone.
 *
 * <p>{@code -Dposada.attack.requests=N} sets how many, {@code -Dposada.attack.seed=N} which.
 */
class AttackTest extends ServerCase {
  private static final int REQUESTS = Integer.getInteger("posada.attack.requests", 5000);
  private static final long SEED = Long.getLong("posada.attack.seed", 20261130);

  /** After so many requests all is undone and compared. */
  private static final int UNDONE = 5000;

  private static final JsonNodeFactory NODES = JsonNodeFactory.instance;

  /** Lists of what a step of the log changes. */
  private static final List<String> LOGGED =
      List.of("shots", "layers", "recipes", "deliveries", "strands", "rigs", "stacks");

  private static final List<String> TEXTS =
      List.of(
          "",
          " ",
          "a",
          "main",
          "../../etc/passwd",
          "a/b",
          "a?b#c",
          "\u7f8a\u306e\u5ce0",
          "\ud83d\ude00",
          "e\u0301",
          "x\u0000y",
          "\u202etxt",
          "CON",
          ".",
          "..",
          "%2e%2e",
          "'; DROP TABLE shot; --",
          "<script>alert(1)</script>",
          "${jndi:x}",
          "1-9999999",
          "9-1",
          "1-12",
          "w".repeat(300),
          "w".repeat(3000),
          "1,".repeat(1500) + "1",
          "\u7f8a".repeat(5000),
          "z".repeat(30_000));

  private static final List<String> NUMBERS =
      List.of(
          "0",
          "1",
          "-1",
          "2",
          "7",
          "640.7",
          "1e9",
          "2147483647",
          "2147483648",
          "-2147483649",
          "9223372036854775808",
          "1e400",
          "0.1",
          "-0.0",
          "99999999999999999999");

  private final Random random = new Random(SEED);
  private JsonNode api;
  private List<String> ids;

  private record Request(String method, String path, String body) {}

  @BeforeEach
  void production() throws Exception {
    window = "before";
    JsonNode shot = shot("fuzz", MOVING);
    window = "attack";
    ids = List.of("1", "2", shot.get("id").toString(), shot.get("revisionId").toString());
    try (InputStream in = AttackTest.class.getResourceAsStream("/openapi.json")) {
      api = JSON.readTree(in);
    }
  }

  private static Map<String, JsonNode> state() throws Exception {
    Map<String, JsonNode> all = new TreeMap<>();
    for (String list : LOGGED) {
      JsonNode now = get("/api/" + list + "?production=1");
      now.forEach(n -> ((ObjectNode) n).remove("version"));
      all.put(list, now);
    }
    return all;
  }

  @Test
  void nothingThatIsAskedIsAFaultOfTheServer() throws Exception {
    Map<String, JsonNode> before = state();
    List<Request> kinds = new ArrayList<>();
    for (Map.Entry<String, JsonNode> path : api.get("paths").properties()) {
      for (String method : path.getValue().propertyNames()) {
        kinds.add(new Request(method.toUpperCase(java.util.Locale.ROOT), path.getKey(), null));
      }
    }
    Map<Integer, Integer> answers = new TreeMap<>();
    List<String> faults = new ArrayList<>();
    for (int i = 0; i < REQUESTS; i++) {
      Request r = made(kinds.get(i < kinds.size() ? i : random.nextInt(kinds.size())));
      String fault = asked(r, answers);
      if (fault != null) {
        faults.add(i + " " + shown(r) + " -> " + fault);
      }
      if (i % UNDONE == UNDONE - 1 || i == REQUESTS - 1) {
        assertTrue(faults.isEmpty(), faults.size() + " faults:\n" + String.join("\n", faults));
        undoAll(before);
      }
    }
    assertTrue(answers.getOrDefault(200, 0) > REQUESTS / 50, "too few are right: " + answers);
    assertTrue(answers.getOrDefault(400, 0) > REQUESTS / 5, "too few are wrong: " + answers);
    for (JsonNode run : get("/api/runs/strands?production=1")) {
      send("POST", "/api/runs/strands/" + run.get("id") + "/cancel", "");
    }
  }

  /** Asks, and counts the answer; returns what is wrong with it, or null. */
  private static String asked(Request r, Map<Integer, Integer> answers) throws Exception {
    long begun = System.nanoTime();
    try {
      HttpResponse<InputStream> a = ask(r);
      answers.merge(a.statusCode(), 1, Integer::sum);
      String fault = fault(a);
      double seconds = (System.nanoTime() - begun) * 1e-9;
      return fault == null && seconds > 20 ? "took " + seconds + " s" : fault;
    } catch (java.io.IOException e) {
      return e.toString();
    }
  }

  /** All that the log knows of is taken back, one by one. */
  private static void undoAll(Map<String, JsonNode> before) throws Exception {
    for (int k = 0; k < REQUESTS; k++) {
      Answer a = send("POST", "/api/productions/1/undo", "");
      if (a.status() != 200) {
        assertEquals(404, a.status(), String.valueOf(a.json()));
        break;
      }
    }
    Map<String, JsonNode> after = state();
    before.forEach(
        (list, was) -> assertEquals(was.toPrettyString(), after.get(list).toPrettyString(), list));
  }

  private static String shown(Request r) {
    String s = r.method + " " + r.path + (r.body == null ? "" : " " + r.body);
    return s.length() > 600 ? s.substring(0, 600) + " ..." : s;
  }

  private static HttpResponse<InputStream> ask(Request r) throws Exception {
    HttpRequest.Builder b =
        HttpRequest.newBuilder(URI.create(base + r.path))
            .timeout(Duration.ofSeconds(60))
            .header("X-Window", window);
    if (r.body != null) {
      b.header("Content-Type", "application/json");
    }
    return CLIENT.send(
        b.method(
                r.method,
                r.body == null ? BodyPublishers.noBody() : BodyPublishers.ofString(r.body))
            .build(),
        BodyHandlers.ofInputStream());
  }

  private static String fault(HttpResponse<InputStream> a) throws Exception {
    String type = a.headers().firstValue("Content-Type").orElse("");
    try (InputStream in = a.body()) {
      if (a.statusCode() < 400) {
        if (!type.startsWith("text/event-stream")) {
          in.readNBytes(1 << 20);
        }
        return null;
      }
      String said = new String(in.readAllBytes(), StandardCharsets.UTF_8);
      if (a.statusCode() >= 500) {
        return a.statusCode() + " " + said;
      }
      if (!type.startsWith("application/problem+json")) {
        return "refused as " + type + ": " + said;
      }
      String detail = JSON.readTree(said).path("detail").asString("");
      if (detail.isBlank() || detail.length() > 2000 || said.contains("\tat ")) {
        return "refused without a sentence: " + said;
      }
      return said.contains(System.getProperty("posada.attack.home", home.toString()))
          ? "tells a path: " + said
          : null;
    }
  }

  /** A request of a kind: right but for nothing, one or two things. */
  private Request made(Request kind) {
    JsonNode o =
        api.at("/paths").get(kind.path).get(kind.method.toLowerCase(java.util.Locale.ROOT));
    StringBuilder query = new StringBuilder();
    String path = kind.path;
    for (JsonNode p : o.path("parameters")) {
      String name = p.get("name").asString();
      if (p.get("in").asString().equals("path")) {
        path = path.replace("{" + name + "}", encoded(value(p.get("schema"))));
      } else if (p.path("required").asBoolean() ? random.nextInt(20) > 0 : random.nextInt(3) == 0) {
        query.append(query.length() == 0 ? '?' : '&').append(name).append('=');
        query.append(name.equals("production") ? "1" : encoded(value(p.get("schema"))));
      }
    }
    if (random.nextInt(30) == 0) {
      query.append(query.length() == 0 ? '?' : '&').append("more=").append(random.nextInt());
    }
    JsonNode schema = o.at("/requestBody/content/application~1json/schema");
    String body = schema.isMissingNode() ? null : body(schema);
    return new Request(kind.method, path + query, body);
  }

  private String body(JsonNode schema) {
    JsonNode made = any(schema, 0);
    for (int k = random.nextInt(3); k > 0; k--) {
      made = spoilt(made);
    }
    String text = made.toString();
    return switch (random.nextInt(40)) {
      case 0 -> text.substring(0, text.length() / 2);
      case 1 -> "";
      case 2 -> "[".repeat(5000);
      case 3 -> "null";
      default -> text;
    };
  }

  private static String encoded(String s) {
    return URLEncoder.encode(s.length() > 3000 ? s.substring(0, 3000) : s, StandardCharsets.UTF_8)
        .replace("+", "%20");
  }

  private String value(JsonNode schema) {
    JsonNode one = schema.path("items").isObject() ? schema.get("items") : schema;
    String type = one.path("type").asString("");
    if (random.nextInt(12) == 0) {
      return random.nextBoolean() ? of(TEXTS) : of(NUMBERS);
    }
    if (one.has("enum")) {
      return one.get("enum").get(random.nextInt(one.get("enum").size())).asString();
    }
    return switch (type) {
      case "integer" -> random.nextInt(4) > 0 ? of(ids) : of(NUMBERS);
      case "number" -> of(NUMBERS);
      case "boolean" -> String.valueOf(random.nextBoolean());
      default -> of(TEXTS);
    };
  }

  private <T> T of(List<T> all) {
    return all.get(random.nextInt(all.size()));
  }

  /** Something of a schema. */
  private JsonNode any(JsonNode schema, int depth) {
    if (schema.has("$ref")) {
      String name = schema.get("$ref").asString();
      return any(
          api.at("/components/schemas").get(name.substring(name.lastIndexOf('/') + 1)), depth);
    }
    if (schema.has("anyOf")) {
      JsonNode all = schema.get("anyOf");
      return any(all.get(random.nextInt(all.size())), depth);
    }
    if (schema.has("enum")) {
      return schema.get("enum").get(random.nextInt(schema.get("enum").size()));
    }
    JsonNode type = schema.path("type");
    String kind =
        type.isArray() ? type.get(random.nextInt(type.size())).asString() : type.asString("object");
    return switch (kind) {
      case "null" -> NODES.nullNode();
      case "boolean" -> NODES.booleanNode(random.nextBoolean());
      case "integer" ->
          NODES.numberNode(
              Long.parseLong(random.nextBoolean() ? of(ids) : "" + random.nextInt(200)));
      case "number" -> NODES.numberNode(random.nextInt(4) == 0 ? 0 : random.nextDouble() * 10);
      case "string" -> NODES.stringNode(text(schema));
      case "array" -> {
        ArrayNode list = NODES.arrayNode();
        for (int k = depth > 6 ? 0 : random.nextInt(3); k > 0; k--) {
          list.add(any(schema.get("items"), depth + 1));
        }
        yield list;
      }
      default -> {
        ObjectNode o = NODES.objectNode();
        for (Map.Entry<String, JsonNode> p : schema.path("properties").properties()) {
          if (random.nextInt(8) > 0) {
            o.set(
                p.getKey(),
                p.getKey().equals("productionId")
                    ? NODES.numberNode(1)
                    : any(p.getValue(), depth + 1));
          }
        }
        yield o;
      }
    };
  }

  private String text(JsonNode schema) {
    if (schema.path("format").asString("").equals("date-time")) {
      return "2026-12-01T03:00:00Z";
    }
    return of(random.nextInt(3) == 0 ? TEXTS : List.of("1-12", "main", MOVING, "fuzz", "beauty"));
  }

  /** Makes something in it wrong. */
  private JsonNode spoilt(JsonNode n) {
    if (n instanceof ObjectNode o && !o.isEmpty() && random.nextInt(5) > 0) {
      List<String> names = List.copyOf(o.propertyNames());
      String name = of(names);
      switch (random.nextInt(8)) {
        case 0 -> o.remove(name);
        case 1 -> o.set(name + "x", o.get(name));
        case 2 -> o.putNull(name);
        default -> o.set(name, spoilt(o.get(name)));
      }
      return o;
    }
    if (n instanceof ArrayNode a && !a.isEmpty() && random.nextInt(5) > 0) {
      int at = random.nextInt(a.size());
      a.set(at, spoilt(a.get(at)));
      return a;
    }
    return switch (random.nextInt(6)) {
      case 0 -> NODES.nullNode();
      case 1 -> NODES.stringNode(of(TEXTS));
      case 2 -> JSON.readTree(of(NUMBERS));
      case 3 -> NODES.arrayNode().add(n);
      case 4 -> NODES.objectNode().set("x", n);
      default -> NODES.booleanNode(true);
    };
  }
}
