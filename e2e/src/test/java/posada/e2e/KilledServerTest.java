package posada.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpRequest;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.FileTime;
import java.util.Map;
import java.util.Random;
import java.util.TreeMap;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** A run outlives the server: nothing lost, nothing half-written, nothing finished done again. */
class KilledServerTest {
  private static final JsonMapper JSON = new JsonMapper();
  @TempDir Path folder;

  private static JsonNode json(String text) throws IOException {
    return JSON.readTree(text);
  }

  private static JsonNode waitFor(ServerProcess server, long run, int fresh) throws Exception {
    long end = System.nanoTime() + 120_000_000_000L;
    while (true) {
      JsonNode r = json(server.get("/api/runs/strands/" + run));
      boolean over = !r.get("state").asString().equals("RUNNING");
      if (r.get("fresh").asInt() >= fresh || over) {
        return r;
      }
      assertTrue(System.nanoTime() < end, "the run hangs: " + r);
      Thread.sleep(50);
    }
  }

  private static Map<String, FileTime> files(Path folder) throws IOException {
    Map<String, FileTime> found = new TreeMap<>();
    try (Stream<Path> all = Files.walk(folder)) {
      for (Path p : all.filter(Files::isRegularFile).toList()) {
        found.put(folder.relativize(p).toString(), Files.getLastModifiedTime(p));
      }
    }
    return found;
  }

  private static long start(ServerProcess server, Path zip) throws Exception {
    return start(server, zip, 24);
  }

  private static long start(ServerProcess server, Path zip, int samples) throws Exception {
    long revision = server.upload("slider.zip", Files.readAllBytes(zip));
    JsonNode shot =
        json(server.post("/api/shots", "{\"revisionId\":" + revision + ",\"camera\":\"front\"}"));
    ObjectNode small = (ObjectNode) shot;
    small.put("scale", 25);
    ObjectNode recipe = (ObjectNode) json(server.get("/api/recipes?production=1")).get(0);
    ((ObjectNode) recipe.at("/document/sampling")).put("most", samples);
    server.put("/api/recipes/" + recipe.get("id").asLong(), recipe.toString());
    small.put("recipeId", recipe.get("id").asLong());
    ObjectNode delivery = (ObjectNode) json(server.get("/api/deliveries?production=1")).get(0);
    ((ArrayNode) delivery.at("/document/formats")).add("png");
    server.put("/api/deliveries/" + delivery.get("id").asLong(), delivery.toString());
    String path = "/api/shots/" + shot.get("id").asLong();
    server.put(path, small.toString());
    return json(server.post("/api/runs", "{\"productionId\":1,\"strands\":null,\"comb\":null}"))
        .get(0)
        .get("id")
        .asLong();
  }

  @Test
  void theRunGoesOnAfterTheServerWasKilled() throws Exception {
    Path home = folder.resolve("home");
    Path zip = SmallScene.write(folder);
    long run;
    Path output;
    Map<String, FileTime> before;
    try (ServerProcess server = new ServerProcess(home)) {
      run = start(server, zip);
      JsonNode r = waitFor(server, run, 3);
      assertEquals("RUNNING", r.get("state").asString());
      output = Path.of(r.get("folder").asString());
      server.kill();
      before = files(output);
    }
    before.keySet().removeIf(f -> f.endsWith(".posada-part"));
    assertTrue(before.size() >= 6 && before.size() < 24, before.toString());
    try (ServerProcess server = new ServerProcess(home)) {
      JsonNode r = waitFor(server, run, 12);
      assertEquals("DONE", waitFor(server, run, 13).get("state").asString(), r.toString());
      Map<String, FileTime> after = files(output);
      assertEquals(24, after.size(), after.toString());
      // A frame counts as finished once all its files are there; those must not have been touched.
      for (int f = 1; f <= 12; f++) {
        String exr = String.format("all/front_main_all.%04d.exr", f);
        String png = String.format("beauty/front_main_beauty.%04d.png", f);
        if (before.containsKey(exr) && before.containsKey(png)) {
          assertEquals(before.get(exr), after.get(exr), exr);
          assertEquals(before.get(png), after.get(png), png);
        }
      }
      JsonNode frames = json(server.get("/api/runs/strands/" + run + "/frames"));
      assertEquals("F".repeat(12), frames.get("states").asString());
    }
  }

  private static JsonNode inWork(ServerProcess server, long run) throws Exception {
    long end = System.nanoTime() + 60_000_000_000L;
    while (true) {
      JsonNode frames = json(server.get("/api/runs/strands/" + run + "/frames"));
      if (frames.get("states").asString().startsWith("R")) {
        return frames;
      }
      assertTrue(System.nanoTime() < end, "not in work: " + frames);
      Thread.sleep(50);
    }
  }

  /** Three orderly stops in one slow frame made it fail. */
  @Test
  void anOrderlyStopIsNoAttemptAtTheFrameInWork() throws Exception {
    Path home = folder.resolve("home");
    long run;
    try (ServerProcess server = new ServerProcess(home)) {
      run = start(server, SmallScene.write(folder), 60_000);
      inWork(server, run);
      server.stop();
    }
    try (ServerProcess server = new ServerProcess(home)) {
      inWork(server, run);
      // After three attempts it would have been set aside.
      server.stop();
    }
    try (ServerProcess server = new ServerProcess(home)) {
      inWork(server, run);
      server.stop();
    }
    try (ServerProcess server = new ServerProcess(home)) {
      inWork(server, run);
    }
  }

  /** The files of frames of which all files are there, and when they were written. */
  private static Map<String, FileTime> whole(Path output) throws IOException {
    Map<String, FileTime> all = Files.exists(output) ? files(output) : new TreeMap<>();
    all.keySet().removeIf(f -> !f.endsWith(".exr") && !f.endsWith(".png"));
    Map<String, FileTime> whole = new TreeMap<>(all);
    whole
        .keySet()
        .removeIf(
            f ->
                !all.containsKey(
                        f.replace("/beauty/", "/all/")
                            .replace("_beauty.", "_all.")
                            .replace(".png", ".exr"))
                    || !all.containsKey(
                        f.replace("/all/", "/beauty/")
                            .replace("_all.", "_beauty.")
                            .replace(".exr", ".png")));
    return whole;
  }

  private static boolean running(ServerProcess server) throws Exception {
    return server.get("/api/runs/strands?production=1").contains("\"state\":\"RUNNING\"");
  }

  /** Goes on with frames during which the server ended three times, if there are any. */
  private static boolean resumed(ServerProcess server) throws Exception {
    boolean any = false;
    for (JsonNode s : json(server.get("/api/runs/strands?production=1"))) {
      if (s.get("state").asString().equals("FAILED")) {
        server.post("/api/runs/strands/" + s.get("id") + "/resume", "{}");
        any = true;
      }
    }
    return any;
  }

  /** Gives the recipe of all strands other samples, and starts them; returns the answer. */
  private static JsonNode startAgain(ServerProcess server, int samples) throws Exception {
    ObjectNode recipe = (ObjectNode) json(server.get("/api/recipes?production=1")).get(0);
    ((ObjectNode) recipe.at("/document/sampling")).put("most", samples);
    server.put("/api/recipes/" + recipe.get("id").asLong(), recipe.toString());
    return json(server.post("/api/runs", "{\"productionId\":1,\"strands\":null,\"comb\":true}"));
  }

  /**
   * Kills at random moments over runs of two strands, in which some frames are copies of others.
   * {@code -Dposada.kills=100} kills more often.
   */
  @Test
  void killsAtRandomMomentsLoseNothing() throws Exception {
    int kills = Integer.getInteger("posada.kills", 6);
    long seed = Long.getLong("posada.seed", System.nanoTime());
    Random random = new Random(seed);
    Path home = folder.resolve("home");
    Path output = home.resolve("output");
    int samples = 6;
    try (ServerProcess server = new ServerProcess(home)) {
      start(server, SmallScene.write(folder), 1);
      JsonNode shot = json(server.get("/api/shots?production=1")).get(0);
      ((ObjectNode) shot).put("frames", "1-20");
      server.put("/api/shots/" + shot.get("id").asLong(), shot.toString());
      long main = json(server.get("/api/layers?production=1")).get(0).get("id").asLong();
      String twin = "{\"productionId\":1,\"name\":\"twin\",\"copyOf\":" + main + "}";
      long layer = json(server.post("/api/layers", twin)).get("id").asLong();
      server.put(
          "/api/strands?production=1",
          "[{\"id\":0,\"shotId\":"
              + shot.get("id")
              + ",\"layerId\":"
              + layer
              + ",\"on\":true,\"recipeId\":null,\"deliveryId\":null,\"passes\":null}]");
      while (running(server)) {
        Thread.sleep(50);
      }
      assertEquals(2, startAgain(server, samples).size());
    }
    Map<String, FileTime> before = whole(output);
    for (int k = 0; k < kills; k++) {
      try (ServerProcess server = new ServerProcess(home)) {
        if (!running(server)) {
          assertEquals(2, startAgain(server, ++samples).size(), "seed " + seed);
        }
        Thread.sleep(random.nextInt(1500));
        server.kill();
      }
      Map<String, FileTime> now = whole(output);
      before.forEach(
          (f, time) -> assertEquals(time, now.get(f), f + " was written again, seed " + seed));
      before = now;
    }
    try (ServerProcess server = new ServerProcess(home)) {
      long end = System.nanoTime() + 300_000_000_000L;
      while (running(server) || resumed(server)) {
        assertTrue(System.nanoTime() < end, "the run hangs, seed " + seed);
        Thread.sleep(50);
      }
      for (JsonNode s : json(server.get("/api/runs/strands?production=1"))) {
        assertEquals("DONE", s.get("state").asString(), s + ", seed " + seed);
        String path = "/api/runs/strands/" + s.get("id") + "/frames";
        String states = json(server.get(path)).get("states").asString();
        assertTrue(states.matches("F+"), states);
        for (int f = 1; f <= states.length(); f++) {
          String picture = path + "/" + f + "/picture?most=64";
          assertTrue(server.get(picture).length() > 100, picture + ", seed " + seed);
        }
      }
      JsonNode ledger = json(server.get("/api/ledger?production=1"));
      ledger.forEach(l -> assertEquals("F".repeat(20), l.get("states").asString()));
      try (Stream<Path> all = Files.walk(output)) {
        assertTrue(all.noneMatch(f -> f.toString().endsWith(".posada-part")), "seed " + seed);
      }
    }
  }

  @Test
  void cancelStopsInTheMiddleOfAFrameAndKeepsWhatIsFinished() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"))) {
      long run = start(server, SmallScene.write(folder));
      waitFor(server, run, 1);
      long start = System.nanoTime();
      server.post("/api/runs/strands/" + run + "/cancel", "{}");
      while (server.get("/api/runs/strands/" + run + "/frames").contains("R")) {
        assertTrue(System.nanoTime() - start < 30_000_000_000L, "cancel hangs");
        Thread.sleep(20);
      }
      JsonNode r = json(server.get("/api/runs/strands/" + run));
      assertEquals("CANCELLED", r.get("state").asString());
      assertEquals(12, r.get("fresh").asInt() + r.get("skipped").asInt());
      assertTrue(r.get("fresh").asInt() >= 1);
      server.post("/api/runs/strands/" + run + "/resume", "{}");
      waitFor(server, run, 12);
      assertEquals("DONE", waitFor(server, run, 13).get("state").asString());
    }
  }

  @Test
  void onlyItsOwnPagesMayDriveTheServer() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"))) {
      HttpRequest.Builder foreign =
          HttpRequest.newBuilder(URI.create(server.url("/api/runs/strands?production=1")))
              .header("Origin", "http://elsewhere.example");
      assertEquals(403, server.send(foreign).statusCode());
      HttpRequest.Builder own =
          HttpRequest.newBuilder(URI.create(server.url("/api/runs/strands?production=1")))
              .header("Origin", "http://localhost:" + server.port);
      assertEquals(200, server.send(own).statusCode());
      JsonNode problem = json(server.get("/api/runs/strands/77"));
      assertEquals("There is no run 77.", problem.get("detail").asString());
    }
  }

  /** The front end's types come from a file; it must say what the server really offers. */
  @Test
  void theCommittedInterfaceIsTheServersOwn() throws Exception {
    try (ServerProcess server = new ServerProcess(folder.resolve("home"))) {
      ObjectNode now = (ObjectNode) json(server.get("/api/openapi"));
      now.remove("servers");
      JsonNode kept = JSON.readTree(Path.of("../web/src/api/openapi.json").toFile());
      assertEquals(kept, now, "run bin/api to take over the server's interface");
    }
  }
}
