package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Which frames are fresh after what, and that a run renders the others only. */
class LedgerApiTest extends ServerCase {
  private static ObjectNode small(String scene, String camera) throws Exception {
    ObjectNode shot = shot(scene, camera);
    shot.put("name", scene)
        .put("frames", "1-4")
        .put("width", 16)
        .put("height", 16)
        .put("scale", 100);
    return changed(samples(shot, 2));
  }

  private static ObjectNode changed(ObjectNode shot) throws Exception {
    Answer a = change(shot);
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return (ObjectNode) a.json();
  }

  /** Renders a shot and waits for its end. */
  private static JsonNode run(JsonNode shot) throws Exception {
    JsonNode run = after(path(render(shot)), "RUNNING");
    assertEquals("DONE", run.get("state").asString(), run.toString());
    return run;
  }

  /** What the ledger says of a shot's first layer, once it is all known. */
  private static JsonNode ledger(JsonNode shot) throws Exception {
    long end = System.nanoTime() + 30_000_000_000L;
    while (true) {
      for (JsonNode l : get("/api/ledger?production=1")) {
        if (l.get("shotId").equals(shot.get("id")) && !l.get("states").asString().contains("?")) {
          return l;
        }
      }
      assertTrue(System.nanoTime() < end, "frames are compared for ever");
      Thread.sleep(20);
    }
  }

  private static void stands(String states, String reasons, JsonNode shot) throws Exception {
    JsonNode l = ledger(shot);
    assertEquals(states, l.get("states").asString(), l.toString());
    StringBuilder why = new StringBuilder();
    l.get("reasons")
        .forEach(
            r -> why.append(r.get("frames").asString() + ": " + r.get("text").asString() + "; "));
    assertEquals(reasons, why.toString());
  }

  /** What a run did: frames in all, fresh before, copied, and the version of its files. */
  private static void did(String what, JsonNode run) {
    assertEquals(
        what,
        String.format(
            "%s frames, %s saved, %s copied, v%s",
            run.get("total"), run.get("saved"), run.get("copied"), run.get("number")));
  }

  @Test
  void nothingFreshIsRenderedAgain() throws Exception {
    ObjectNode shot = small("swing", MOVING);
    stands("MMMM", "", shot);
    JsonNode first = run(shot);
    did("4 frames, 0 saved, 0 copied, v1", first);
    stands("FFFF", "", shot);
    did("4 frames, 4 saved, 0 copied, v1", run(shot));
    // A longer range is filled in where the others are.
    shot = changed(shot.put("frames", "1-6"));
    stands("FFFFMM", "", shot);
    did("6 frames, 4 saved, 0 copied, v1", run(shot));
    // A name changes no picture.
    shot = changed(shot.put("name", "swing again"));
    stands("FFFFFF", "", shot);
    // Whatever changes gets a version of its own.
    shot = changed(samples(shot, 3));
    stands("SSSSSS", "1-6: recipe; ", shot);
    did("6 frames, 0 saved, 0 copied, v1", run(shot));
    stands("FFFFFF", "", shot);
  }

  @Test
  void framesThatAreMadeFromTheSameAreRenderedOnce() throws Exception {
    ObjectNode shot = small("still", "eye");
    JsonNode run = run(shot);
    did("4 frames, 0 saved, 3 copied, v1", run);
    stands("FFFF", "", shot);
    Path folder = Path.of(run.get("folder").asString());
    try (var all = Files.walk(folder)) {
      assertEquals(4, all.filter(f -> f.toString().endsWith(".exr")).count());
    }
  }

  @Test
  void anotherRevisionLeavesStaleWhatItChanges() throws Exception {
    ObjectNode shot = small("cloth", MOVING);
    run(shot);
    String dark = gltf(MOVING).replace("\"metallicFactor\":0", "\"metallicFactor\":1");
    assertEquals(200, upload("cloth.gltf", dark).status());
    stands("SSSS", "1-4: material of sail; ", shot);
    String renamed = gltf(MOVING).replace("\"canvas\"", "\"linen\"");
    assertEquals(200, upload("cloth.gltf", renamed).status());
    stands("FFFF", "", shot);
    String moved = gltf(MOVING).replace("[0.3,0.3,3]", "[0.3,0.3,4]");
    assertEquals(200, upload("cloth.gltf", moved).status());
    stands("SSSS", "1-4: camera; ", shot);
  }

  @Test
  void framesAreSuspectOrKeptAsSomebodySays() throws Exception {
    ObjectNode shot = small("flag", MOVING);
    JsonNode first = run(shot);
    long layer = ledger(shot).get("layerId").asLong();
    String mark =
        "{\"shotId\":"
            + shot.get("id")
            + ",\"layerId\":"
            + layer
            + ",\"frames\":\"%s\",\"mark\":%s,\"note\":%s}";
    String path = "/api/ledger/marks";
    refused(400, "has been rendered", send("POST", path, mark.formatted("9", "null", "null")));
    assertEquals(
        200, send("POST", path, mark.formatted("2", "\"SUSPECT\"", "\"a spot\"")).status());
    stands("FUFF", "2: suspect: a spot; ", shot);
    // The others are in the new version without being rendered, and take no room.
    JsonNode second = run(shot);
    did("4 frames, 3 saved, 0 copied, v2", second);
    stands("FFFF", "", shot);
    String file = "all/" + shot.get("name").asString() + "_main_all.000%d.exr";
    Path was = Path.of(first.get("folder").asString()),
        is = Path.of(second.get("folder").asString());
    assertTrue(Files.isSameFile(was.resolve(file.formatted(1)), is.resolve(file.formatted(1))));
    assertFalse(Files.isSameFile(was.resolve(file.formatted(2)), is.resolve(file.formatted(2))));

    shot = changed(samples(shot, 3));
    assertEquals(200, send("POST", path, mark.formatted("3-4", "\"KEPT\"", "null")).status());
    stands("SSKK", "1-2: recipe; 3-4: recipe; ", shot);
    did("4 frames, 2 saved, 0 copied, v3", run(shot));
    stands("FFKK", "3-4: recipe; ", shot);
  }

  @Test
  void filesThatAreGoneAreMissing() throws Exception {
    ObjectNode shot = small("lost", MOVING);
    JsonNode run = run(shot);
    Path all = Path.of(run.get("folder").asString()).resolve("all");
    Files.delete(all.resolve(shot.get("name").asString() + "_main_all.0002.exr"));
    did("4 frames, 3 saved, 0 copied, v1", run(shot));
  }

  @Test
  void aPausedStrandGoesOn() throws Exception {
    ObjectNode shot = small("rest", MOVING);
    shot = changed(shot.put("frames", "1-400"));
    String path = path(render(shot));
    assertEquals(200, send("POST", path + "/pause", "").status());
    assertEquals("PAUSED", get(path).get("state").asString());
    refused(409, "is being rendered in run", render(shot));
    // What was in work comes to its end, and then nothing happens.
    int before = -1;
    int now = get(path).get("fresh").asInt();
    while (before != now) {
      before = now;
      Thread.sleep(300);
      now = get(path).get("fresh").asInt();
    }
    assertTrue(now < 400, "it was over before it could be paused");
    assertEquals(200, send("POST", path + "/first", "").status());
    assertEquals(200, send("POST", path + "/resume", "").status());
    assertEquals("DONE", after(path, "RUNNING").get("state").asString());
  }
}
