package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The Layers station: objects, what a layer makes of them, and what it looks like. */
class LayerApiTest extends ServerCase {
  private static long own(String name) throws Exception {
    String body = "{\"productionId\":1,\"name\":\"%s\",\"copyOf\":null}".formatted(name);
    return send("POST", "/api/layers", body).json().get("id").asLong();
  }

  private static Answer say(long layer, JsonNode shot, String said, String forget)
      throws Exception {
    return send(
        "POST",
        "/api/layers/" + layer + "/rules",
        "{\"revisionId\":%d,\"said\":%s,\"forget\":%s}"
            .formatted(shot.get("revisionId").asLong(), said, forget));
  }

  private static JsonNode roles(long layer, JsonNode shot) throws Exception {
    return get(
        "/api/layers/%d/roles?revision=%d".formatted(layer, shot.get("revisionId").asLong()));
  }

  @Test
  void anObjectGetsARoleAndLosesItAgain() throws Exception {
    ObjectNode shot = shot("roles", MOVING);
    long layer = own("apart");
    JsonNode objects = get("/api/revisions/%d/objects".formatted(shot.get("revisionId").asLong()));
    JsonNode mesh = null;
    for (JsonNode o : objects) {
      mesh = o.get("kind").asString().equals("MESH") ? o : mesh;
    }
    String name = mesh.get("name").asString();
    int node = mesh.get("node").asInt();
    assertEquals('S', roles(layer, shot).get("roles").asString().charAt(node));
    String said = "{\"match\":[\"%s\"],\"role\":\"holdout\"}".formatted(name);
    assertEquals(200, say(layer, shot, said, "[]").status());
    assertEquals('H', roles(layer, shot).get("roles").asString().charAt(node));
    assertEquals(node, roles(layer, shot).get("from").get(node).asInt());
    assertEquals(
        200, say(layer, shot, "{\"match\":[\"%s\"]}".formatted(name), "[\"ROLE\"]").status());
    assertEquals('S', roles(layer, shot).get("roles").asString().charAt(node));
    refused(
        400,
        "No object of this scene is called \"nobody-*\"",
        say(layer, shot, "{\"match\":[\"nobody-*\"],\"role\":\"seen\"}", "[]"));
  }

  @Test
  void objectsAndPassesAreShown() throws Exception {
    ObjectNode shot = shot("passes", MOVING);
    String path = "/api/shots/" + shot.get("id").asLong();
    JsonNode seen = get(path + "/objects?frame=1&most=64");
    int pixels = 0;
    for (int i = 1; i < seen.get("runs").size(); i += 2) {
      pixels += seen.get("runs").get(i).asInt();
    }
    assertEquals(seen.get("width").asInt() * seen.get("height").asInt(), pixels);
    JsonNode passes = get(path + "/passes?frame=1");
    assertEquals("beauty", passes.get("all").get(0).get("name").asString());
    assertTrue(passes.get("all").size() > 25);
    for (JsonNode p : passes.get("all")) {
      assertTrue(p.get("bytes").asLong() > 0, p.get("name").asString());
      // The first bytes of a JPEG.
      assertTrue(p.get("data").asString().startsWith("/9j/"));
    }
  }

  @Test
  void setsOfPassesAreKeptByName() throws Exception {
    JsonNode before = get("/api/pass-sets?production=1");
    assertEquals("picture", before.get(0).get("name").asString());
    JsonNode light = before.get(2).get("document");
    String kept = "{\"productionId\":1,\"name\":\"for-night\",\"document\":%s}".formatted(light);
    Answer made = send("POST", "/api/pass-sets", kept);
    assertEquals(light, made.json().get("document"));
    assertEquals(before.size() + 1, get("/api/pass-sets?production=1").size());
    send("DELETE", "/api/pass-sets/" + made.json().get("id").asLong(), "");
    assertEquals(before, get("/api/pass-sets?production=1"));
  }

  @Test
  void lightGroupsThatShareALightAreTold() throws Exception {
    ObjectNode shot = shot("groups", MOVING);
    long id = own("grouped");
    ObjectNode layer = null;
    for (JsonNode l : get("/api/layers?production=1")) {
      layer = l.get("id").asLong() == id ? (ObjectNode) l : layer;
    }
    ObjectNode passes = (ObjectNode) layer.at("/document/passes");
    passes.putObject("lightGroups").putArray("day").add("sun").add("nothing");
    ((ObjectNode) passes.get("lightGroups")).putArray("sky").add("sun").add("environment");
    assertEquals(200, send("PUT", "/api/layers/" + id, layer.toString()).status());
    JsonNode odd =
        get("/api/layers/%d/lights?revision=%d".formatted(id, shot.get("revisionId").asLong()))
            .get("odd");
    assertEquals("Group day: no object is called \"nothing\".", odd.get(0).asString());
    assertEquals("sun is in day and sky; the first counts.", odd.get(1).asString());
  }
}
