package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** A production as a plan, written and taken over. */
class PlanApiTest extends ServerCase {
  private static final String PLAN = "/api/productions/1/plan";

  @Test
  void aPlanThatIsTakenOverIsWrittenTheSame() throws Exception {
    shot("drawn", "eye");
    ObjectNode plan = (ObjectNode) get(PLAN);
    assertEquals("drawn", plan.at("/scenes/0/name").asString(), plan.toString());
    assertEquals("eye", plan.at("/shots/0/camera").asString());
    assertEquals(plan, send("POST", PLAN, plan.toString()).json());

    // What is new in it is made, what is other is changed, and all of it is one step.
    String text = plan.toString();
    ObjectNode other = (ObjectNode) JSON.readTree(text);
    ((ObjectNode) other.at("/recipes/0/document/sampling")).put("most", 7);
    ObjectNode second = (ObjectNode) other.at("/shots/0").deepCopy();
    ((tools.jackson.databind.node.ArrayNode) other.get("shots"))
        .add(second.put("name", "second").put("frames", "1-5"));
    ((tools.jackson.databind.node.ArrayNode) other.get("strands"))
        .add(JSON.readTree("{\"shot\":\"second\",\"layer\":\"main\"}"));
    Answer taken = send("POST", PLAN, other.toString());
    assertEquals(200, taken.status(), String.valueOf(taken.json()));
    assertEquals(7, get(PLAN).at("/recipes/0/document/sampling/most").asInt());
    assertEquals("1-5", get(PLAN).at("/shots/1/frames").asString());
    Answer undone = send("POST", "/api/productions/1/undo", "");
    assertEquals(200, undone.status(), String.valueOf(undone.json()));
    assertEquals(plan, get(PLAN));
  }

  @Test
  void whatCannotBeTakenOverChangesNothing() throws Exception {
    shot("kept", "eye");
    JsonNode before = get(PLAN);
    String text = before.toString();
    refused(
        400,
        "import gone.gltf first",
        send(
            "POST",
            PLAN,
            text.replace("\"kept.gltf\"", "\"gone.gltf\"").replace("\"kept\"", "\"gone\"")));
    refused(
        400,
        "there is no \"best\"; there are",
        send(
            "POST",
            PLAN,
            text.replaceFirst(
                "\"recipe\":\"[a-z]+\",\"delivery\"", "\"recipe\":\"best\",\"delivery\"")));
    Answer camera = send("POST", PLAN, text.replace("\"camera\":\"eye\"", "\"camera\":\"ear\""));
    assertTrue(camera.status() >= 400 && camera.detail().contains("ear"), camera.detail());
    assertEquals(before, get(PLAN));
  }
}
