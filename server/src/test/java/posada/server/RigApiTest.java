package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Map;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A rig with something wrong in it: it is said of what, and nothing else changes. */
class RigApiTest extends ServerCase {
  @BeforeEach
  void inANewWindow() {
    window = "w" + System.nanoTime();
  }

  private static String camera(String more) {
    return "{\"cameras\":[{\"name\":\"rising\",\"keys\":[{\"time\":0,\"position\":[0,1,6]}]%s}]}"
        .formatted(more);
  }

  private static Answer put(ObjectNode definition, String rig) throws Exception {
    ObjectNode changed = definition.deepCopy();
    ((ObjectNode) changed.get("document")).set("rig", JSON.readTree(rig));
    return send("PUT", "/api/rigs/" + definition.get("id"), changed.toString());
  }

  private static ObjectNode rig(String scene, String rig) throws Exception {
    Answer a =
        send("POST", "/api/rigs?production=1", "{\"scene\":\"" + scene + "\",\"rig\":" + rig + "}");
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return (ObjectNode) a.json();
  }

  @Test
  void whatIsWrongIsSaidWithItsValueAndNothingChanges() throws Exception {
    shot("wrong", "eye-wrong");
    ObjectNode there = rig("wrong", camera(""));
    String key = "{\"time\":1.5,\"position\":[0,0,0]}";
    Map<String, String> wrong =
        Map.of(
            "{\"cameras\":[{\"name\":\"rising\",\"keys\":[" + key + "," + key + "]}]}",
            "two keys at 1.5 s",
            camera(",\"sway\":{\"frequency\":10000,\"from\":0,\"to\":1}"),
            "frequency of the sway must be 0.02 .. 20 Hz (got 10000)",
            "{\"cameras\":[{\"name\":\"rising\",\"keys\":[{\"time\":-1,\"position\":[0,0,0]}]}]}",
            "(got -1)",
            "{\"cameras\":[{\"name\":\"rising\",\"keys\":[]}]}",
            "\"rising\"",
            "{\"sky\":{\"day\":{\"date\":\"\"}}}",
            "date",
            "{\"sky\":{\"day\":{\"date\":null}}}",
            "date",
            "{\"lights\":[{\"name\":\"lamp\",\"kind\":\"point\",\"strength\":-3,\"size\":0,\"keys\":[{\"position\":[0,0,0]}]}]}",
            "strength of light \"lamp\"",
            "{\"objects\":[{\"object\":\"sail\",\"shown\":[]}]}",
            "\"sail\"");
    for (Map.Entry<String, String> w : wrong.entrySet()) {
      refused(400, w.getValue(), put(there, w.getKey()));
    }
    JsonNode now = get("/api/rigs?production=1").get(0);
    assertEquals(there, now);
  }

  @Test
  void whatHangsOnAGoneObjectIsSaidBeforeARun() throws Exception {
    ObjectNode shot = shot("gone", "eye-gone");
    rig("gone", camera(",\"fixedTo\":\"sail\""));
    ObjectNode of =
        (ObjectNode)
            send("PUT", "/api/shots/" + shot.get("id"), shot.put("camera", "rising").toString())
                .json();
    assertEquals("rising", of.get("camera").asString());
    // The next revision has no sail.
    String other = gltf("eye-gone").replace("sail\",\"mesh\"", "hull\",\"mesh\"");
    JsonNode next =
        upload("/api/revisions?production=1&hold=true", "gone.gltf", other.getBytes())
            .json()
            .get("revision");
    JsonNode unfit =
        send("POST", "/api/revisions/" + next.get("id") + "/unfit", "{\"renamed\":[]}").json();
    assertTrue(unfit.toString().contains("is fixed to \\\"sail\\\""), unfit.toString());
    assertEquals(
        200,
        send("POST", "/api/revisions/" + next.get("id") + "/take", "{\"renamed\":[]}").status());
    JsonNode all = get("/api/runs/checks?production=1").get("findings");
    String told = "";
    for (JsonNode f : all) {
      if (f.get("rule").asString().equals("NOT_IN_SCENE")) {
        told += f.get("text").asString();
        assertEquals("ERROR", f.get("severity").asString());
      }
    }
    assertTrue(told.contains("\"sail\""), told);
    assertEquals(200, send("DELETE", "/api/shots/" + shot.get("id"), "").status());
  }
}
