package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import com.zaxxer.hikari.HikariDataSource;
import java.io.ByteArrayOutputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Path;
import javax.sql.DataSource;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import posada.formats.settings.Documents;
import posada.server.app.PosadaServer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** A server in a folder of its own, and how it is talked to. */
abstract class ServerCase {
  static final JsonMapper JSON = new JsonMapper();
  static final HttpClient CLIENT = HttpClient.newHttpClient();
  @TempDir static Path home;
  static ConfigurableApplicationContext server;
  static String base;

  /** The window that changes things. */
  static String window = "one";

  /** {@code -Dposada.attack.server=URL} takes a server that runs, if a test needs only its API. */
  @BeforeAll
  static void start() {
    base = System.getProperty("posada.attack.server");
    if (base != null) {
      return;
    }
    server = PosadaServer.start("--posada.home=" + home, "--server.port=0", "--posada.threads=1");
    onlyOneConnection();
    base = "http://localhost:" + server.getEnvironment().getProperty("local.server.port");
  }

  /** Whatever takes a second connection to the database while it holds the first fails here. */
  private static void onlyOneConnection() {
    HikariDataSource pool = (HikariDataSource) server.getBean(DataSource.class);
    pool.setConnectionTimeout(10_000);
    pool.setMinimumIdle(1);
    pool.setMaximumPoolSize(1);
    pool.getHikariPoolMXBean().softEvictConnections();
  }

  @AfterAll
  static void stop() {
    if (server != null) {
      server.close();
    }
  }

  /** An answer and what it says. */
  record Answer(int status, JsonNode json) {
    String detail() {
      return json.path("detail").asString("");
    }
  }

  static Answer send(String method, String path, String body) throws Exception {
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(base + path))
            .header("Content-Type", "application/json")
            .header("X-Window", window)
            .method(method, BodyPublishers.ofString(body))
            .build();
    HttpResponse<String> r = CLIENT.send(request, BodyHandlers.ofString());
    assertFalse(r.body().contains("\tat "), "a stack trace: " + r.body());
    return new Answer(r.statusCode(), r.body().isEmpty() ? null : JSON.readTree(r.body()));
  }

  static JsonNode get(String path) throws Exception {
    Answer a = send("GET", path, "");
    assertEquals(200, a.status, path + ": " + a.json);
    return a.json;
  }

  /** Waits until something is no longer in a state; returns it. */
  static JsonNode after(String path, String state) throws Exception {
    long end = System.nanoTime() + 60_000_000_000L;
    JsonNode now = get(path);
    while (now.get("state").asString().equals(state)) {
      assertTrue(System.nanoTime() < end, path + " stays " + state);
      Thread.sleep(20);
      now = get(path);
    }
    return now;
  }

  static void refused(int status, String detail, Answer a) {
    assertEquals(status, a.status, String.valueOf(a.json));
    assertTrue(a.detail().contains(detail), a.detail() + " does not say " + detail);
  }

  /** Name of the camera in whose scene the triangle moves. */
  static final String MOVING = "moving";

  private static final String SWAY =
      """
      "animations":[{"name":"sway","channels":[{"sampler":0,"target":{"node":0,
      "path":"translation"}}],"samplers":[{"input":1,"output":2}]}],
      """;

  /** A triangle in front of a camera. */
  static String gltf(String camera) {
    return """
        {"asset":{"version":"2.0"},"scene":0,"scenes":[{"name":"shed","nodes":[0,1]}],
        "nodes":[{"name":"sail","mesh":0},
        {"name":"%s","camera":0,"translation":[0.3,0.3,3]}],
        "cameras":[{"name":"%s","type":"perspective",
        "perspective":{"yfov":0.6,"znear":0.1,"aspectRatio":1}}],
        "meshes":[{"name":"sail","primitives":[{"attributes":{"POSITION":0},"material":0}]}],
        "materials":[{"name":"canvas","pbrMetallicRoughness":{"metallicFactor":0}}],
        "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3",
        "min":[0,0,0],"max":[1,1,0]},
        {"bufferView":1,"componentType":5126,"count":2,"type":"SCALAR","min":[0],"max":[1]},
        {"bufferView":2,"componentType":5126,"count":2,"type":"VEC3"}],
        %s"bufferViews":[{"buffer":0,"byteLength":36},
        {"buffer":0,"byteOffset":36,"byteLength":8},
        {"buffer":0,"byteOffset":44,"byteLength":24}],
        "buffers":[{"byteLength":68,"uri":
        "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA\
        AAAAAAAAgD8AAAAAAAAAAAAAAAAAAIA/AAAAAAAAAAA="}]}
        """
        .formatted(camera, camera, camera.equals(MOVING) ? SWAY : "");
  }

  static Answer upload(String name, String content) throws Exception {
    return upload("/api/revisions?production=1", name, content.getBytes(StandardCharsets.UTF_8));
  }

  static Answer upload(String path, String name, byte[] content) throws Exception {
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    body.writeBytes(
        ("--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\""
                + name
                + "\"\r\n\r\n")
            .getBytes(StandardCharsets.UTF_8));
    body.writeBytes(content);
    body.writeBytes("\r\n--cut--\r\n".getBytes(StandardCharsets.UTF_8));
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(base + path))
            .header("Content-Type", "multipart/form-data; boundary=cut")
            .header("X-Window", window)
            .POST(BodyPublishers.ofByteArray(body.toByteArray()))
            .build();
    HttpResponse<String> r = CLIENT.send(request, BodyHandlers.ofString());
    return new Answer(r.statusCode(), JSON.readTree(r.body()));
  }

  /** Returns a new shot of a camera of its own scene. */
  static ObjectNode shot(String scene, String camera) throws Exception {
    Answer taken = upload(scene + ".gltf", gltf(camera));
    assertEquals(200, taken.status, String.valueOf(taken.json));
    long revision = taken.json.at("/revision/id").asLong();
    String body = "{\"revisionId\":" + revision + ",\"camera\":\"" + camera + "\"}";
    Answer made = send("POST", "/api/shots", body);
    assertEquals(200, made.status, String.valueOf(made.json));
    return (ObjectNode) made.json;
  }

  /** Says something more in a shot's settings; returns the shot. */
  static ObjectNode say(ObjectNode shot, String json) {
    ObjectNode settings = (ObjectNode) shot.get("settings");
    shot.set("settings", Documents.over(settings, Documents.object(json)));
    return shot;
  }

  /** Gives a shot a recipe of its own that says something more; returns the shot. */
  static ObjectNode recipe(ObjectNode shot, String json) throws Exception {
    String made = "{\"productionId\":1,\"name\":\"own\",\"copyOf\":" + shot.get("recipeId") + "}";
    ObjectNode own = (ObjectNode) send("POST", "/api/recipes", made).json;
    own.set("document", Documents.over((ObjectNode) own.get("document"), Documents.object(json)));
    Answer said = send("PUT", "/api/recipes/" + own.get("id").asLong(), own.toString());
    assertEquals(200, said.status, String.valueOf(said.json));
    return shot.put("recipeId", own.get("id").asLong());
  }

  static ObjectNode samples(ObjectNode shot, int n) throws Exception {
    return recipe(shot, "{\"sampling\": {\"most\": " + n + "}}");
  }

  /** Starts the render of a shot's layer main; the answer is a list of one run. */
  static Answer render(JsonNode shot) throws Exception {
    long layer = get("/api/layers?production=1").get(0).get("id").asLong();
    String strand = "{\"shotId\":" + shot.get("id").asLong() + ",\"layerId\":" + layer + "}";
    return send("POST", "/api/runs", "{\"productionId\":1,\"strands\":[" + strand + "]}");
  }

  /** Returns the address of the one run that was started. */
  static String path(Answer started) {
    assertEquals(200, started.status, String.valueOf(started.json));
    return "/api/runs/strands/" + started.json.get(0).get("id").asLong();
  }

  static Answer change(ObjectNode shot) throws Exception {
    return send("PUT", "/api/shots/" + shot.get("id").asLong(), shot.toString());
  }

  static byte[] bytes(String path) throws Exception {
    HttpRequest r = HttpRequest.newBuilder(URI.create(base + path)).build();
    HttpResponse<byte[]> answer = CLIENT.send(r, BodyHandlers.ofByteArray());
    assertEquals(200, answer.statusCode());
    return answer.body();
  }
}
