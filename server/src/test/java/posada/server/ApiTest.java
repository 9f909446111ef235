package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.formats.settings.Documents;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What the server answers about scenes and shots, above all to what is wrong: a sentence, and
 * nothing is lost.
 */
class ApiTest extends ServerCase {
  private static Map<Long, JsonNode> shots() throws Exception {
    Map<Long, JsonNode> all = new TreeMap<>();
    get("/api/shots?production=1").forEach(s -> all.put(s.get("id").asLong(), s));
    return all;
  }

  @Test
  void whatIsNotASceneIsRefusedAndLeavesNothing() throws Exception {
    int before = get("/api/revisions?production=1").size();
    refused(422, "broken.gltf", upload("broken.gltf", "{\"asset\":"));
    refused(422, "notes.txt", upload("notes.txt", "buy milk"));
    refused(422, "shed.zip", upload("shed.zip", "no zip"));
    assertEquals(before, get("/api/revisions?production=1").size());
    Path incoming = home.resolve("incoming");
    try (Stream<Path> left = Files.list(incoming)) {
      assertEquals(0, left.count());
    }
  }

  @Test
  void whatIsNotThereIsNamed() throws Exception {
    refused(404, "There is no run 99", send("POST", "/api/runs/99/pause", ""));
    refused(404, "There is no run 99", send("GET", "/api/runs/strands/99/frames", ""));
    refused(404, "There is no run 99", send("POST", "/api/runs/strands/99/cancel", ""));
    refused(404, "There is no shot 99", render(JSON.readTree("{\"id\":99}")));
    refused(404, "There is no shot 99", send("GET", "/api/shots/99/estimate", ""));
    refused(404, "There is no shot 99", send("POST", "/api/shots/99/meter", ""));
    refused(404, "There is no shot 99", send("DELETE", "/api/shots/99", ""));
    refused(404, "revision 99", send("POST", "/api/shots", "{\"revisionId\":99,\"camera\":\"a\"}"));
    refused(404, "/api/nothing", send("GET", "/api/nothing", ""));
    refused(400, "id cannot be \"x\"", send("GET", "/api/runs/strands/x", ""));
    refused(400, "JSON", send("POST", "/api/shots", "{"));
  }

  @ParameterizedTest
  @CsvSource({
    "/larkspur-line,                       200",
    "/larkspur-line/shots,                 200",
    "/larkspur-line/run/pass.wide/v003,    200",
    "/b%C3%BCro-2/scene?revision=pass.r2,  200",
    "/larkspur-line/nowhere,               404",
    "/api/shots/7/nowhere,                 404",
    "/assets/nothing.js,                   404"
  })
  void everyAddressOfAStationIsAPage(String address, int status) throws Exception {
    HttpResponse<String> answer =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + address)).build(), BodyHandlers.ofString());
    assertEquals(status, answer.statusCode());
    assertEquals(status == 200, answer.body().contains("<div id=\"root\">"), answer.body());
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
        "settings | {\"lens\": {\"blades\": 2}} | settings.lens: aperture blades must be 3 .. 32 (got 2)",
        "recipeId | 99999 | no recipe 99999",
        "deliveryId | 1 | no delivery 1",
        "settings | {\"bounce\": 3} | settings.bounce is not known",
        "settings | null | settings",
        "width | 640.7 | width must be a whole number",
        "width | \"640\" | width must be a whole number",
        "frames | 12 | frames must be a text",
        "colour | 3 | colour is not known"
      })
  void valuesThatAreWrongAreNamedAndNothingChanges(String field, String value, String detail)
      throws Exception {
    ObjectNode shot = shot("values", "eye");
    Map<Long, JsonNode> before = shots();
    shot.set(field, JSON.readTree(value));
    refused(400, detail, change(shot));
    assertEquals(before, shots());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "recipes | {\"sampling\": {\"most\": 0}} | document.sampling: samples must be 1 .. 65536 (got 0)",
        "recipes | {\"bounces\": {\"diffuse\": -1}} | (got -1)",
        "layers | {\"passes\": {\"wanted\": []}} | at least one pass",
        "layers | {\"passes\": {\"wanted\": [\"glow\"]}} | document.passes.wanted[0] must be one of beauty,",
        "layers | {\"layer\": {\"leaveOut\": 3}} | leaveOut",
        "layers | {\"recipeId\": 99999} | no recipe 99999",
        "deliveries | {\"formats\": [\"bmp\"]} | document.formats[0] must be one of exr,"
      })
  void definitionsThatAreWrongAreRefused(String list, String part, String detail) throws Exception {
    JsonNode before = get("/api/" + list + "?production=1");
    ObjectNode first = (ObjectNode) before.get(0).deepCopy();
    first.set(
        "document", Documents.over((ObjectNode) first.get("document"), Documents.object(part)));
    String path = "/api/" + list + "/" + first.get("id").asLong();
    refused(400, detail, send("PUT", path, first.toString()));
    assertEquals(before, get("/api/" + list + "?production=1"));
  }

  @Test
  void oneOfTwoChangesAtOnceIsRefused() throws Exception {
    ObjectNode mine = shot("twice", "eye"), theirs = mine.deepCopy();
    assertEquals(200, change(theirs.put("width", 50)).status());
    refused(
        409,
        "is not changed: something else has changed it meanwhile",
        change(mine.put("width", 70)));
    assertEquals(50, shots().get(mine.get("id").asLong()).get("width").asInt());
    // And two shots of one name cannot be told apart in the files.
    ObjectNode other = shot("twice", "eye");
    other.set("name", mine.get("name"));
    refused(409, "choose another name", change(other));
  }

  @Test
  void aNewerSceneWithoutItsCameraLeavesAShotBehind() throws Exception {
    ObjectNode shot = shot("newer", "old-eye");
    Answer taken = upload("newer.gltf", gltf("new-eye"));
    String unfit = taken.json().get("unfit").toString();
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
  void foreignPagesAreKeptOut() throws Exception {
    HttpRequest.Builder r = HttpRequest.newBuilder(URI.create(base + "/api/shots"));
    r.header("Origin", "http://elsewhere");
    assertEquals(403, CLIENT.send(r.build(), BodyHandlers.discarding()).statusCode());
  }
}
