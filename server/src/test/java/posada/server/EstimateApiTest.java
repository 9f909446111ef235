package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What strands take, as the server finds it out while nothing is rendered. */
class EstimateApiTest extends ServerCase {
  private static ObjectNode small(String scene, String camera) throws Exception {
    ObjectNode shot = shot(scene, camera);
    shot.put("name", scene).put("frames", "1-8").put("width", 32).put("height", 32);
    Answer a = change(samples(shot.put("scale", 100), 4));
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return (ObjectNode) a.json();
  }

  /** What is said of a shot once nothing of it is tried out any more. */
  private static JsonNode estimate(JsonNode shot) throws Exception {
    long end = System.nanoTime() + 60_000_000_000L;
    while (true) {
      for (JsonNode e : get("/api/estimates?production=1")) {
        if (e.get("shotId").equals(shot.get("id")) && !e.get("pending").asBoolean()) {
          return e;
        }
      }
      assertTrue(System.nanoTime() < end, "it is tried out for ever");
      Thread.sleep(50);
    }
  }

  @Test
  void framesThatGetThePictureOfAnotherTakeRoomAndNoTime() throws Exception {
    JsonNode still = estimate(small("still", "eye")), moving = estimate(small("swing", MOVING));
    assertEquals(1, still.get("rendered").asInt(), still.toString());
    assertEquals(8, moving.get("rendered").asInt(), moving.toString());
    assertEquals(8, still.get("frames").asInt());
    assertEquals(4, still.get("trials").asInt());
    double low = moving.at("/seconds/low").asDouble(), high = moving.at("/seconds/high").asDouble();
    double said = moving.at("/seconds/value").asDouble();
    assertTrue(0 < low && low < said && said < high, moving.toString());
    assertTrue(still.at("/bytes/value").asDouble() > 8 * 32 * 32, still.toString());
  }

  @Test
  void whatIsFinishedIsNotEstimatedAnyMore() throws Exception {
    ObjectNode shot = small("done", MOVING);
    assertEquals("DONE", after(path(render(shot)), "RUNNING").get("state").asString());
    JsonNode e = estimate(shot);
    assertEquals(0, e.get("frames").asInt(), e.toString());
    assertEquals(0, e.at("/seconds/value").asDouble());
    assertEquals(8, e.get("finished").asInt());
  }

  @Test
  void whatCannotBeTriedOutIsNotTriedForEver() throws Exception {
    ObjectNode shot = small("odd", MOVING);
    recipe(shot, "{\"irradiance\": {\"use\": true}}");
    Answer a =
        change(say(shot, "{\"lens\": {\"focusObject\": \"nobody\", \"depthOfField\": true}}"));
    assertEquals(200, a.status(), String.valueOf(a.json()));
    JsonNode e = estimate(shot);
    assertEquals(0, e.get("trials").asInt(), e.toString());
  }

  @Test
  void aPartOfThePictureTakesAPart() throws Exception {
    JsonNode whole = estimate(small("all-of-it", MOVING));
    ObjectNode shot = small("a-part", MOVING);
    ((ObjectNode) shot.get("settings"))
        .putObject("crop")
        .put("x", 0)
        .put("y", 0)
        .put("width", shot.get("width").asInt() / 4)
        .put("height", shot.get("height").asInt() / 4)
        .put("alone", true);
    Answer a = change(shot);
    assertEquals(200, a.status(), String.valueOf(a.json()));
    double part = estimate(a.json()).at("/bytes/value").asDouble();
    double all = whole.at("/bytes/value").asDouble();
    assertTrue(part < 0.5 * all, part + " of " + all);
  }
}
