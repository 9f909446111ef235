package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.springframework.context.ConfigurableApplicationContext;
import posada.server.app.PosadaServer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** What the server answers, above all to what is wrong: a sentence, and nothing is lost. */
class ApiTest {
  private static final JsonMapper JSON = new JsonMapper();
  private static final HttpClient CLIENT = HttpClient.newHttpClient();
  @TempDir static Path home;
  private static ConfigurableApplicationContext server;
  private static String base;

  @BeforeAll
  static void start() {
    server = PosadaServer.start("--posada.home=" + home, "--server.port=0", "--posada.threads=1");
    base = "http://localhost:" + server.getEnvironment().getProperty("local.server.port");
  }

  @AfterAll
  static void stop() {
    server.close();
  }

  /** An answer and what it says. */
  private record Answer(int status, JsonNode json) {
    String detail() {
      return json.path("detail").asString("");
    }
  }

  private static Answer send(String method, String path, String body) throws Exception {
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(base + path))
            .header("Content-Type", "application/json")
            .method(method, BodyPublishers.ofString(body))
            .build();
    HttpResponse<String> r = CLIENT.send(request, BodyHandlers.ofString());
    assertFalse(r.body().contains("\tat "), "a stack trace: " + r.body());
    return new Answer(r.statusCode(), r.body().isEmpty() ? null : JSON.readTree(r.body()));
  }

  private static JsonNode get(String path) throws Exception {
    Answer a = send("GET", path, "");
    assertEquals(200, a.status, path + ": " + a.json);
    return a.json;
  }

  private static void refused(int status, String detail, Answer a) {
    assertEquals(status, a.status, String.valueOf(a.json));
    assertTrue(a.detail().contains(detail), a.detail() + " does not say " + detail);
  }

  /** A triangle in front of a camera. */
  private static String gltf(String camera) {
    return """
        {"asset":{"version":"2.0"},"scene":0,"scenes":[{"name":"shed","nodes":[0,1]}],
        "nodes":[{"name":"sail","mesh":0},
        {"name":"%s","camera":0,"translation":[0.3,0.3,3]}],
        "cameras":[{"name":"%s","type":"perspective",
        "perspective":{"yfov":0.6,"znear":0.1,"aspectRatio":1}}],
        "meshes":[{"name":"sail","primitives":[{"attributes":{"POSITION":0}}]}],
        "accessors":[{"bufferView":0,"componentType":5126,"count":3,"type":"VEC3",
        "min":[0,0,0],"max":[1,1,0]}],
        "bufferViews":[{"buffer":0,"byteLength":36}],
        "buffers":[{"byteLength":36,"uri":
        "data:application/octet-stream;base64,AAAAAAAAAAAAAAAAAACAPwAAAAAAAAAAAAAAAAAAgD8AAAAA"}]}
        """
        .formatted(camera, camera);
  }

  private static Answer upload(String name, String content) throws Exception {
    String body =
        "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\""
            + name
            + "\"\r\n\r\n"
            + content
            + "\r\n--cut--\r\n";
    HttpRequest request =
        HttpRequest.newBuilder(URI.create(base + "/api/revisions"))
            .header("Content-Type", "multipart/form-data; boundary=cut")
            .POST(BodyPublishers.ofString(body))
            .build();
    HttpResponse<String> r = CLIENT.send(request, BodyHandlers.ofString());
    return new Answer(r.statusCode(), JSON.readTree(r.body()));
  }

  /** Returns a new shot of a camera of its own scene. */
  private static ObjectNode shot(String scene, String camera) throws Exception {
    Answer taken = upload(scene + ".gltf", gltf(camera));
    assertEquals(200, taken.status, String.valueOf(taken.json));
    long revision = taken.json.at("/revision/id").asLong();
    String body = "{\"revisionId\":" + revision + ",\"camera\":\"" + camera + "\"}";
    Answer made = send("POST", "/api/shots", body);
    assertEquals(200, made.status, String.valueOf(made.json));
    return (ObjectNode) made.json;
  }

  private static Answer change(ObjectNode shot) throws Exception {
    return send("PUT", "/api/shots/" + shot.get("id").asLong(), shot.toString());
  }

  private static Map<Long, JsonNode> shots() throws Exception {
    Map<Long, JsonNode> all = new TreeMap<>();
    get("/api/shots").forEach(s -> all.put(s.get("id").asLong(), s));
    return all;
  }

  @Test
  void whatIsNotASceneIsRefusedAndLeavesNothing() throws Exception {
    int before = get("/api/revisions").size();
    refused(422, "broken.gltf", upload("broken.gltf", "{\"asset\":"));
    refused(422, "notes.txt", upload("notes.txt", "buy milk"));
    refused(422, "shed.zip", upload("shed.zip", "no zip"));
    assertEquals(before, get("/api/revisions").size());
    Path incoming = home.resolve("incoming");
    try (Stream<Path> left = Files.list(incoming)) {
      assertEquals(0, left.count());
    }
  }

  @Test
  void whatIsNotThereIsNamed() throws Exception {
    refused(404, "There is no run 99", send("GET", "/api/runs/99", ""));
    refused(404, "There is no run 99", send("GET", "/api/runs/99/ledger", ""));
    refused(404, "There is no run 99", send("POST", "/api/runs/99/cancel", ""));
    refused(404, "There is no shot 99", send("POST", "/api/shots/99/runs", ""));
    refused(404, "There is no shot 99", send("GET", "/api/shots/99/estimate", ""));
    refused(404, "There is no shot 99", send("DELETE", "/api/shots/99", ""));
    refused(404, "revision 99", send("POST", "/api/shots", "{\"revisionId\":99,\"camera\":\"a\"}"));
    refused(404, "/api/nothing", send("GET", "/api/nothing", ""));
    refused(400, "id cannot be \"x\"", send("GET", "/api/runs/x", ""));
    refused(400, "JSON", send("POST", "/api/shots", "{"));
  }

  @Test
  void camerasThatAreNotThereAreAnsweredWithThoseThatAre() throws Exception {
    long revision = shot("cameras", "near").get("revisionId").asLong();
    String body = "{\"revisionId\":" + revision + ",\"camera\":\"far\"}";
    refused(400, "no camera \"far\"", send("POST", "/api/shots", body));
    refused(400, "there are near", send("POST", "/api/shots", body));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "name | \" \" | name needs 1 .. 100 letters",
        "camera | \"far\" | no camera \"far\"",
        "frames | \"9-\" | 9-",
        "frames | \"\" | frame",
        "width | 8 | width must be 16 ..",
        "height | 9000000 | (got 9000000)",
        "scale | 30 | 25, 50 or 100 % (got 30)",
        "samples | 0 | (got 0)",
        "passes | [] | at least one pass",
        "passes | [\"glow\"] | glow",
        "formats | [\"bmp\"] | bmp",
        "settings | {\"bounces\": {\"diffuse\": -1}} | -1",
        "settings | {\"bounce\": 3} | bounce",
        "settings | {\"layer\": {\"name\": \"a\", \"leaveOut\": 3}} | leaveOut"
      })
  void valuesThatAreWrongAreNamedAndNothingChanges(String field, String value, String detail)
      throws Exception {
    ObjectNode shot = shot("values", "eye");
    Map<Long, JsonNode> before = shots();
    shot.set(field, JSON.readTree(value));
    refused(400, detail, change(shot));
    assertEquals(before, shots());
  }

  @Test
  void oneOfTwoChangesAtOnceIsRefused() throws Exception {
    ObjectNode mine = shot("twice", "eye"), theirs = mine.deepCopy();
    assertEquals(200, change(theirs.put("samples", 5)).status);
    refused(409, "was changed or removed elsewhere", change(mine.put("samples", 7)));
    assertEquals(5, shots().get(mine.get("id").asLong()).get("samples").asInt());
    // And two shots of one name cannot be told apart in the files.
    ObjectNode other = shot("twice", "eye");
    other.set("name", mine.get("name"));
    refused(409, "choose another name", change(other));
  }

  @Test
  void aRemovedShotComesBackAsItWas() throws Exception {
    ObjectNode shot = shot("undo", "eye");
    Answer changed = change(shot.put("samples", 11).put("frames", "3-9x2"));
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
    assertFalse(shots().containsKey(shot.get("id").asLong()));
    Answer back = send("POST", "/api/shots/restored", changed.json.toString());
    ObjectNode want = (ObjectNode) changed.json, got = (ObjectNode) back.json;
    for (String ours : new String[] {"id", "version"}) {
      want.remove(ours);
      got.remove(ours);
    }
    assertEquals(want, got);
  }

  @Test
  void aNewerSceneWithoutItsCameraLeavesAShotBehind() throws Exception {
    ObjectNode shot = shot("newer", "old-eye");
    Answer taken = upload("newer.gltf", gltf("new-eye"));
    String unfit = taken.json.get("unfit").toString();
    assertTrue(unfit.contains("camera \\\"old-eye\\\" is gone"), unfit);
    assertEquals(shot, shots().get(shot.get("id").asLong()));
  }

  @Test
  void framesAreCountedAsTheyAreWritten() throws Exception {
    JsonNode f = get("/api/frames?text=1-96x4");
    assertEquals(24, f.get("count").asInt());
    assertEquals(93, f.get("last").asInt());
    refused(400, "96-1", send("GET", "/api/frames?text=96-1", ""));
  }

  @Test
  void theProductionKeepsWhatIsRight() throws Exception {
    ObjectNode p = (ObjectNode) get("/api/production");
    ObjectNode wrong = p.deepCopy();
    refused(400, "(got 0", send("PUT", "/api/production", wrong.put("frameRate", 0).toString()));
    wrong = p.deepCopy();
    refused(400, "1 .. 100", send("PUT", "/api/production", wrong.put("name", " ").toString()));
    assertEquals(p, get("/api/production"));
  }

  @Test
  void foreignPagesAreKeptOut() throws Exception {
    HttpRequest.Builder r = HttpRequest.newBuilder(URI.create(base + "/api/shots"));
    r.header("Origin", "http://elsewhere");
    assertEquals(403, CLIENT.send(r.build(), BodyHandlers.discarding()).statusCode());
  }

  @Test
  void aRunGoesFromShotToArchive() throws Exception {
    ObjectNode shot = shot("job", "eye");
    shot.put("frames", "1-2").put("width", 16).put("height", 16).put("scale", 100);
    assertEquals(200, change(shot.put("samples", 2)).status);
    Answer run = send("POST", "/api/shots/" + shot.get("id").asLong() + "/runs", "");
    String path = "/api/runs/" + run.json.get("id").asLong();
    long end = System.nanoTime() + 60_000_000_000L;
    while (get(path).get("state").asString().equals("RUNNING")) {
      assertTrue(System.nanoTime() < end, "the run hangs");
      Thread.sleep(20);
    }
    assertEquals("DONE", get(path).get("state").asString());
    get(path + "/ledger").forEach(l -> assertEquals("FRESH", l.get("state").asString()));

    byte[] jpeg = bytes(path + "/frames/2/picture");
    assertEquals(0xffd8, (jpeg[0] & 255) << 8 | jpeg[1] & 255);
    refused(404, "Frame 3", send("GET", path + "/frames/3/picture", ""));
    refused(400, "no view \"heat\"", send("GET", path + "/frames/2/picture?channel=heat", ""));
    refused(400, "-10 .. 10", send("GET", path + "/frames/2/picture?stops=11", ""));
    refused(409, "is not running", send("POST", path + "/cancel", ""));
    refused(409, "nothing to go on with", send("POST", path + "/continue", ""));

    Map<String, String> packed = new TreeMap<>();
    try (ZipInputStream zip =
        new ZipInputStream(new ByteArrayInputStream(bytes(path + "/archive")))) {
      for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
        packed.put(e.getName(), new String(zip.readNBytes(4), StandardCharsets.ISO_8859_1));
      }
    }
    // The first bytes of an OpenEXR file (its file layout, "Magic Number").
    String name = shot.get("name").asString();
    String exr = "all/" + name + "_main_all.0002.exr";
    assertEquals("v/1\u0001", packed.get(exr), packed.keySet().toString());
  }

  private static byte[] bytes(String path) throws Exception {
    HttpRequest r = HttpRequest.newBuilder(URI.create(base + path)).build();
    HttpResponse<byte[]> answer = CLIENT.send(r, BodyHandlers.ofByteArray());
    assertEquals(200, answer.statusCode());
    return answer.body();
  }
}
