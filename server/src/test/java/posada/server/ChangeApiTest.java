package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Map;
import java.util.TreeMap;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Productions, and undo and redo over all that can be changed. */
class ChangeApiTest extends ServerCase {
  private static final String UNDO = "/api/productions/1/undo", REDO = "/api/productions/1/redo";

  @BeforeEach
  void inANewWindow() {
    window = "w" + System.nanoTime();
  }

  private static Map<String, JsonNode> shots(long production) throws Exception {
    Map<String, JsonNode> all = new TreeMap<>();
    get("/api/shots?production=" + production)
        .forEach(s -> all.put(s.get("name").asString(), without(s, "version")));
    return all;
  }

  private static JsonNode without(JsonNode o, String... names) {
    ObjectNode copy = (ObjectNode) o.deepCopy();
    for (String n : names) {
      copy.remove(n);
    }
    return copy;
  }

  private static ObjectNode production(long id) throws Exception {
    for (JsonNode p : get("/api/productions")) {
      if (p.get("id").asLong() == id) {
        return (ObjectNode) p;
      }
    }
    throw new AssertionError("no production " + id);
  }

  private static void done(String sentence, Answer a) {
    assertEquals(200, a.status(), String.valueOf(a.json()));
    assertEquals(sentence, a.json().get("sentence").asString());
  }

  @Test
  void changesAreUndoneOneByOneAndDoneAgain() throws Exception {
    ObjectNode shot = shot("steps", "eye-steps");
    Map<String, JsonNode> made = shots(1);
    ObjectNode changed = (ObjectNode) change(shot.put("width", 48).put("frames", "3-9x2")).json();
    Map<String, JsonNode> second = shots(1);
    change(changed.put("scale", 100));
    Map<String, JsonNode> third = shots(1);
    assertEquals("scale of shot eye-steps", get("/api/productions/1/steps").get("undo").asString());
    done("scale of shot eye-steps", send("POST", UNDO, ""));
    assertEquals(second, shots(1));
    done("frames and size of shot eye-steps", send("POST", UNDO, ""));
    assertEquals(made, shots(1));
    done("frames and size of shot eye-steps", send("POST", REDO, ""));
    done("scale of shot eye-steps", send("POST", REDO, ""));
    assertEquals(third, shots(1));
    refused(404, "nothing to redo", send("POST", REDO, ""));
  }

  @Test
  void theRemovalOfAShotIsUndoneAndItsRunsAreItsOwnStill() throws Exception {
    ObjectNode shot = samples(shot("own", "eye-own"), 1).put("width", 16).put("height", 16);
    assertEquals(200, change(shot.put("frames", "1")).status());
    long id = shot.get("id").asLong();
    String run = path(render(shot));
    after(run, "RUNNING");
    Map<String, JsonNode> before = shots(1);
    assertEquals(200, send("DELETE", "/api/shots/" + id, "").status());
    done("removal of shot eye-own", send("POST", UNDO, ""));
    assertEquals(before, shots(1));
    assertEquals(id, get(run).get("shotId").asLong());
  }

  @Test
  void whatAnotherWindowHasOvertakenIsToldAndLeftAlone() throws Exception {
    ObjectNode shot = shot("two", "eye-two");
    ObjectNode mine = (ObjectNode) change(shot.put("frames", "1-5")).json();
    String own = window;
    window = "other" + own;
    assertEquals(200, change(mine.put("frames", "1-7")).status());
    Map<String, JsonNode> theirs = shots(1);
    window = own;
    refused(
        409,
        "shot \"eye-two\" is not changed: window OTHE has changed frames of shot eye-two meanwhile",
        change(mine.put("frames", "1-9")));
    refused(
        409,
        "Not undone: frames of shot eye-two; window OTHE changed it since (frames of shot eye-two)",
        send("POST", UNDO, ""));
    assertEquals(theirs, shots(1));
    // The other window can take its own back.
    window = "other" + own;
    done("frames of shot eye-two", send("POST", UNDO, ""));
    assertEquals("1-5", shots(1).get("eye-two").get("frames").asString());
  }

  @Test
  void anImportIsUndoneWithTheShotsThatFollowedIt() throws Exception {
    ObjectNode shot = shot("moved", "eye-moved");
    Map<String, JsonNode> before = shots(1);
    window = "import" + window;
    long newer = upload("moved.gltf", gltf("eye-moved") + " ").json().at("/revision/id").asLong();
    assertEquals(newer, shots(1).get("eye-moved").get("revisionId").asLong());
    done("import of moved r" + number(newer) + " and 1 more", send("POST", UNDO, ""));
    assertEquals(before, shots(1));
    assertEquals(0, number(newer));
    assertTrue(shot.has("id"));
  }

  private static int number(long revision) throws Exception {
    for (JsonNode r : get("/api/revisions?production=1")) {
      if (r.get("id").asLong() == revision) {
        return r.get("number").asInt();
      }
    }
    return 0;
  }

  @Test
  void aProductionIsMadeNamedArchivedAndTakenBack() throws Exception {
    Answer made = send("POST", "/api/productions", "{\"name\": \"Night Line!\", \"copyOf\": null}");
    assertEquals(200, made.status(), String.valueOf(made.json()));
    ObjectNode p = (ObjectNode) made.json();
    long id = p.get("id").asLong();
    assertEquals("night-line", p.get("address").asString());
    refused(
        409,
        "choose another name",
        send("POST", "/api/productions", "{\"name\": \"Night Line!\", \"copyOf\": null}"));
    String path = "/api/productions/" + id;
    ObjectNode renamed =
        (ObjectNode) send("PUT", path, p.deepCopy().put("name", "Day Line").toString()).json();
    assertEquals("day-line", renamed.get("address").asString());
    refused(409, "is not changed", send("PUT", path, p.put("name", "Late").toString()));
    assertEquals(200, send("PUT", path, renamed.put("archived", true).toString()).status());
    assertTrue(production(id).get("archived").asBoolean());
    done("archiving production Day Line", send("POST", path + "/undo", ""));
    done("name of production Night Line!", send("POST", path + "/undo", ""));
    assertEquals("Night Line!", production(id).get("name").asString());
    done("making production Night Line!", send("POST", path + "/undo", ""));
    assertTrue(production(id).get("archived").asBoolean());
    done("making production Night Line!", send("POST", path + "/redo", ""));
    assertFalse(production(id).get("archived").asBoolean());
    for (String wrong :
        new String[] {
          "{\"frameRate\": 0}", "{\"width\": -1}", "{\"height\": 1000000000}", "{\"name\": null}"
        }) {
      ObjectNode with = production(id);
      with.setAll((ObjectNode) JSON.readTree(wrong));
      assertEquals(400, send("PUT", path, with.toString()).status(), wrong);
    }
  }

  @Test
  void layersRecipesAndStrandsAreUndoneToo() throws Exception {
    JsonNode shot = shot("layered", "eye-layered");
    JsonNode main = get("/api/layers?production=1").get(0);
    String copy = "{\"productionId\":1,\"name\":\"main\",\"copyOf\":" + main.get("id") + "}";
    ObjectNode layer = (ObjectNode) send("POST", "/api/layers", copy).json();
    assertEquals("main-2", layer.get("name").asString());
    assertEquals("main-2", layer.at("/document/layer/name").asString());
    String path = "/api/layers/" + layer.get("id").asLong();
    assertEquals(200, send("PUT", path, layer.put("name", "glow").toString()).status());
    String strand =
        "[{\"id\":0,\"shotId\":%d,\"layerId\":%d,\"on\":true,\"recipeId\":null,\"deliveryId\":null,\"passes\":null}]"
            .formatted(shot.get("id").asLong(), layer.get("id").asLong());
    assertEquals(200, send("PUT", "/api/strands?production=1", strand).status());
    refused(
        409,
        "The recipe \"medium\" is used by shot eye-",
        send("DELETE", "/api/recipes/" + shot.get("recipeId"), ""));
    done("switching on glow of shot eye-layered", send("POST", UNDO, ""));
    done("name of layer glow", send("POST", UNDO, ""));
    assertEquals("main-2", get("/api/layers?production=1").get(1).get("name").asString());
    done("new layer main-2", send("POST", UNDO, ""));
    assertEquals(1, get("/api/layers?production=1").size());
    done("new layer main-2", send("POST", REDO, ""));
    done("name of layer glow", send("POST", REDO, ""));
    assertEquals("glow", get("/api/layers?production=1").get(1).get("name").asString());
    assertEquals(200, send("DELETE", path, "").status());
  }

  /** Else a shot would be left without its recipe. */
  @Test
  void whatAnotherWindowUsesIsNotUndoneAway() throws Exception {
    JsonNode medium = get("/api/recipes?production=1").get(1);
    String copy = "{\"productionId\":1,\"name\":\"mine\",\"copyOf\":" + medium.get("id") + "}";
    JsonNode mine = send("POST", "/api/recipes", copy).json();
    String own = window;
    window = "other" + own;
    ObjectNode shot = shot("theirs", "eye-theirs");
    change(shot.put("recipeId", mine.get("id").asLong()));
    window = own;
    refused(409, "used by shot eye-theirs", send("POST", UNDO, ""));
    window = "other" + own;
    done("recipe of shot eye-theirs", send("POST", UNDO, ""));
    window = own;
    done("new recipe mine", send("POST", UNDO, ""));
  }

  private static final String[] OWN = {"id", "revisionId", "recipeId", "deliveryId"};

  /** Returns the name of the definition that something refers to. */
  private static String name(String list, long production, JsonNode of, String part)
      throws Exception {
    for (JsonNode d : get("/api/" + list + "?production=" + production)) {
      if (d.get("id").asLong() == of.get(part).asLong()) {
        return d.get("name").asString();
      }
    }
    throw new AssertionError("none of " + list + " in production " + production);
  }

  @Test
  void aCopyHasScenesAndShotsOfItsOwn() throws Exception {
    ObjectNode shot = shot("copied", "eye-copied");
    Answer made = send("POST", "/api/productions", "{\"name\": \"Copy of all\", \"copyOf\": 1}");
    long id = made.json().get("id").asLong();
    assertEquals(shots(1).keySet(), shots(id).keySet());
    JsonNode copy = shots(id).get("eye-copied");
    assertEquals(without(shots(1).get("eye-copied"), OWN), without(copy, OWN));
    assertEquals(name("recipes", 1, shot, "recipeId"), name("recipes", id, copy, "recipeId"));
    assertEquals(
        name("deliveries", 1, shot, "deliveryId"), name("deliveries", id, copy, "deliveryId"));
    JsonNode strand = get("/api/strands?production=" + id).get(0);
    assertTrue(strand.get("on").asBoolean());
    assertEquals("main", name("layers", id, strand, "layerId"));
    assertEquals(0, get("/api/runs/strands?production=" + id).size());
    done(
        "copying a production to Copy of all",
        send("POST", "/api/productions/" + id + "/undo", ""));
    assertTrue(copy.get("id").asLong() != shot.get("id").asLong());
    ObjectNode mine = (ObjectNode) copy.deepCopy();
    assertEquals(200, change(mine.put("version", 1).put("frames", "9")).status());
    assertTrue(!shots(1).get("eye-copied").get("frames").asString().equals("9"));
  }
}
