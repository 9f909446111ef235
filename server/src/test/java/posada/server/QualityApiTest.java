package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The Quality station: what settings look like and cost before they are taken. */
class QualityApiTest extends ServerCase {
  private static final String PART =
      "\"part\":{\"x\":0.25,\"y\":0.25,\"width\":0.5,\"height\":0.5}";

  private static ObjectNode small(String scene, String recipe) throws Exception {
    ObjectNode shot =
        recipe(shot(scene, MOVING), recipe).put("width", 64).put("height", 64).put("scale", 100);
    return (ObjectNode) change(shot).json();
  }

  private static String path(JsonNode shot) {
    return "/api/shots/" + shot.get("id").asLong();
  }

  /** All events of a stream that ends, by name and body. */
  private static List<Map.Entry<String, JsonNode>> events(String path, String body)
      throws Exception {
    HttpRequest.Builder r = HttpRequest.newBuilder(URI.create(base + path));
    if (body != null) {
      r.header("Content-Type", "application/json").POST(BodyPublishers.ofString(body));
    }
    List<String> lines = CLIENT.send(r.build(), BodyHandlers.ofLines()).body().toList();
    List<Map.Entry<String, JsonNode>> all = new ArrayList<>();
    String name = null;
    for (String l : lines) {
      if (l.startsWith("event:")) {
        name = l.substring(6);
      } else if (l.startsWith("data:") && name != null) {
        assertFalse(name.equals("failed"), l);
        all.add(Map.entry(name, JSON.readTree(l.substring(5))));
      }
    }
    return all;
  }

  @Test
  void theLadderEndsWithTheRecipesOwnThreshold() throws Exception {
    ObjectNode shot =
        small("ladder", "{\"sampling\":{\"most\":256,\"adaptive\":true,\"noiseThreshold\":0.2}}");
    List<Map.Entry<String, JsonNode>> all =
        events(path(shot) + "/ladder?viewer=l&frame=1&most=32&x=0&y=0&width=1&height=1", null);
    assertEquals(
        List.of(4, 8, 16, 32),
        all.subList(0, 4).stream().map(e -> e.getValue().get("samples").asInt()).toList());
    JsonNode last = all.get(4).getValue();
    assertTrue(last.get("adaptive").asBoolean());
    assertTrue(last.get("samples").asInt() < 256, "clean pixels rest: " + last.get("samples"));
    double before = Double.POSITIVE_INFINITY;
    for (int i = 0; i < 4; i++) {
      double noise = all.get(i).getValue().get("noise").asDouble();
      assertTrue(noise < before, noise + " after " + before);
      before = noise;
    }
  }

  @Test
  void variantsAreComparedToEqualSamplesAndRefusedByThemselves() throws Exception {
    ObjectNode shot = small("variants", "{\"sampling\":{\"most\":16}}");
    JsonNode recipe = recipeOf(shot).get("document");
    ObjectNode dark = (ObjectNode) recipe.deepCopy();
    ((ObjectNode) dark.get("bounces")).put("diffuse", 0).put("specular", 0);
    ObjectNode baked = (ObjectNode) recipe.deepCopy();
    ((ObjectNode) baked.get("irradiance")).put("use", true);
    String body =
        "{\"viewer\":\"v\",\"frame\":1,%s,\"samples\":8,\"seconds\":0,\"recipes\":[%s,%s,%s]}"
            .formatted(PART, recipe, dark, baked);
    Map<Integer, JsonNode> last = new HashMap<>();
    events(path(shot) + "/variants", body)
        .forEach(e -> last.put(e.getValue().get("index").asInt(), e.getValue()));
    JsonNode first = last.get(0), second = last.get(1);
    assertEquals(8, first.get("samples").asInt());
    assertEquals(8, second.get("samples").asInt());
    assertTrue(first.get("done").asBoolean() && second.get("done").asBoolean());
    assertEquals(32, first.get("width").asInt());
    assertTrue(second.get("light").asDouble() < 0.9, "nothing is lit: " + second.get("light"));
    assertEquals(0, second.get("apart").get(1).asDouble());
    assertTrue(second.get("apart").get(0).asDouble() > 0.1);
    assertTrue(last.get(2).get("refused").asString().contains("object sail changes in"));
    refused(
        400,
        "2 to 6 variants are compared (got 1)",
        send(
            "POST",
            path(shot) + "/variants",
            body.replaceAll("\"recipes\".*", "\"recipes\":[" + recipe + "]}")));
  }

  @Test
  void whereItGoesAddsUp() throws Exception {
    ObjectNode shot = small("effort", "{\"sampling\":{\"most\":32}}");
    JsonNode e = get(path(shot) + "/effort?frame=1");
    double shares = 0;
    for (JsonNode k : e.get("kinds")) {
      shares += k.get("share").asDouble();
    }
    assertEquals(1, shares, 1e-9);
    assertEquals("CAMERA", e.get("kinds").get(0).get("kind").asString());
    assertEquals(32, e.get("kinds").get(0).get("rays").asDouble(), 1e-9, "one for each sample");
    double slow = 0;
    boolean sail = false;
    for (JsonNode s : e.get("slow")) {
      slow += s.get("share").asDouble();
      sail |= s.get("object").asString("").equals("sail");
    }
    assertEquals(1, slow, 1e-9, "the sail and what is behind it");
    assertTrue(sail);
  }

  @Test
  void whatMovesGetsALayerOfItsOwnAndLightIsBaked() throws Exception {
    ObjectNode shot = (ObjectNode) change(shot("baked", MOVING).put("width", 64)).json();
    String created = "{\"productionId\":1,\"name\":\"look\",\"copyOf\":null}";
    long layer = send("POST", "/api/layers", created).json().get("id").asLong();
    String on =
        "[{\"id\":0,\"shotId\":%d,\"layerId\":%d,\"on\":true,\"recipeId\":null,\"deliveryId\":null,\"passes\":null}]"
            .formatted(shot.get("id").asLong(), layer);
    assertEquals(200, send("PUT", "/api/strands?production=1", on).status());
    String use = path(shot) + "/baked-light?layer=" + layer;
    JsonNode before = get(use);
    assertEquals("sail", before.get("movers").get(0).asString());
    assertTrue(before.get("why").get(0).asString().startsWith("sail moves or changes in frames"));
    Answer made = send("POST", path(shot) + "/movers-apart?layer=" + layer, "");
    assertEquals(200, made.status(), String.valueOf(made.json()));
    assertEquals("look-moving", made.json().get(2).get("name").asString());
    assertEquals(0, get(use).get("why").size());
    int strandsOn = 0;
    for (JsonNode s : get("/api/strands?production=1")) {
      strandsOn +=
          s.get("shotId").asLong() == shot.get("id").asLong() && s.get("on").asBoolean() ? 1 : 0;
    }
    assertEquals(4, strandsOn, "main, look, and the two beside it");
    // Others use the recipe, so the strand gets one of its own.
    Answer baked = send("POST", use + "&every=2", "");
    assertTrue(baked.json().get("name").asString().endsWith("-baked"));
    assertEquals(2, baked.json().at("/document/irradiance/every").asInt());
    send("POST", "/api/productions/1/undo", "");
    send("POST", "/api/productions/1/undo", "");
    assertEquals(1, get(use).get("why").size(), "two steps, and all is as it was");
    // A recipe that bakes already is none for what moves.
    JsonNode r = recipeOf(shot);
    ((ObjectNode) r.at("/document/irradiance")).put("use", true);
    assertEquals(200, send("PUT", "/api/recipes/" + r.get("id").asLong(), r.toString()).status());
    JsonNode again = send("POST", path(shot) + "/movers-apart?layer=" + layer, "").json();
    long own = again.get(2).at("/document/recipeId").asLong();
    JsonNode unbaked = recipe(own);
    assertEquals(r.get("name").asString() + "-unbaked", unbaked.get("name").asString());
    assertFalse(unbaked.at("/document/irradiance/use").asBoolean());
    send("POST", "/api/productions/1/undo", "");
    send("POST", "/api/productions/1/undo", "");
  }

  @Test
  void aPictureIsKeptAndItsSettingsComeBack() throws Exception {
    ObjectNode shot = small("kept", "{\"sampling\":{\"most\":4}}");
    long layer = get("/api/layers?production=1").get(0).get("id").asLong();
    String keep =
        "{\"shotId\":%d,\"layerId\":%d,\"viewer\":\"keeper\",\"name\":null}"
            .formatted(shot.get("id").asLong(), layer);
    refused(400, "There is no picture to keep yet", send("POST", "/api/snapshots", keep));
    events(path(shot) + "/live?viewer=keeper&frame=3&layer=" + layer, null);
    JsonNode a = send("POST", "/api/snapshots", keep).json();
    JsonNode b = send("POST", "/api/snapshots", keep).json();
    assertEquals("frame 3", a.get("name").asString());
    assertEquals("frame 3 (2)", b.get("name").asString());
    assertEquals(4, a.at("/recipe/sampling/most").asInt());
    String one = "/api/snapshots/" + a.get("id").asLong();
    assertEquals(64, ImageIO.read(new ByteArrayInputStream(bytes(one + "/picture"))).getWidth());
    assertEquals(0, get(one + "/apart?from=" + b.get("id").asLong()).get("apart").asDouble());
    JsonNode recipe = recipeOf(shot);
    ((ObjectNode) recipe.at("/document/sampling")).put("most", 9);
    send("PUT", "/api/recipes/" + recipe.get("id").asLong(), recipe.toString());
    assertEquals(200, send("POST", one + "/restore", "").status());
    assertEquals(4, recipeOf(shot).at("/document/sampling/most").asInt());
    send("DELETE", one, "");
    assertEquals(404, send("GET", one + "/picture", "").status());
    refused(
        400,
        "a snapshot's name needs 1 .. 100 letters",
        send("PUT", "/api/snapshots/" + b.get("id").asLong(), "{\"name\":\" \"}"));
  }

  private static JsonNode recipeOf(JsonNode shot) throws Exception {
    return recipe(shot.get("recipeId").asLong());
  }

  private static JsonNode recipe(long id) throws Exception {
    for (JsonNode r : get("/api/recipes?production=1")) {
      if (r.get("id").asLong() == id) {
        return r;
      }
    }
    throw new AssertionError("the recipe is gone");
  }

  @Test
  void aTimeLimitIsToldByTrials() throws Exception {
    ObjectNode shot = small("reach", "{\"sampling\":{\"most\":64}}");
    String reach = path(shot) + "/reach?limit=";
    long end = System.nanoTime() + 60_000_000_000L;
    JsonNode all = get(reach + 0);
    while (!all.get("known").asBoolean()) {
      assertTrue(System.nanoTime() < end, "no frame is tried out");
      Thread.sleep(50);
      all = get(reach + 0);
    }
    assertEquals(64, all.get("samples").asDouble(), 1e-9);
    double each = all.get("seconds").asDouble() / all.get("frames").asInt();
    JsonNode half = get(reach + each / 2);
    assertTrue(half.get("samples").asDouble() < 64);
    assertTrue(half.get("noise").asDouble() > all.get("noise").asDouble());
    refused(400, "seconds", send("GET", reach + -1, ""));
  }
}
