package posada.e2e;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Queue;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * Edits, uploads, films, assemblies, handovers and copies of the database outlive the server:
 * nothing that was answered is lost, nothing is there twice, half-written or left behind.
 */
class KilledWorkTest {
  private static final JsonMapper JSON = new JsonMapper();
  private static final int FRAMES = 12;
  @TempDir Path folder;

  private final long seed = Long.getLong("posada.seed", System.nanoTime());
  private final Random random = new Random(seed);
  private final Queue<String> faults = new ConcurrentLinkedQueue<>();

  /** What was answered: the newest samples of the recipe, and revisions. */
  private volatile long answered = 1, sent = 1;

  private final Set<Long> revisions = new TreeSet<>();
  private int uploads, handovers, films;
  private long strand, recipe, stack;
  private String footage;

  private Path home() {
    return folder.resolve("home");
  }

  private static JsonNode read(String text) {
    return JSON.readTree(text);
  }

  /** Something that is done again and again until the server is gone. */
  private interface Work {
    void once(ServerProcess server) throws Exception;
  }

  private Thread again(ServerProcess server, Work w) {
    Thread t =
        new Thread(
            () -> {
              try {
                while (!Thread.interrupted()) {
                  w.once(server);
                }
              } catch (IOException | InterruptedException killed) {
                return;
              } catch (Exception | AssertionError e) {
                faults.add(e.toString());
              }
            });
    t.start();
    return t;
  }

  private void edit(ServerProcess server) throws Exception {
    ObjectNode r = null;
    for (JsonNode each : read(server.get("/api/recipes?production=1"))) {
      r = each.get("id").asLong() == recipe ? (ObjectNode) each : r;
    }
    ((ObjectNode) r.at("/document/sampling")).put("most", ++sent);
    server.put("/api/recipes/" + recipe, r.toString());
    answered = sent;
  }

  private void upload(ServerProcess server) throws Exception {
    String scene =
        """
        {"asset":{"version":"2.0"},"scene":0,"scenes":[{"nodes":[0]}],
         "nodes":[{"name":"eye-%d","camera":0}],
         "cameras":[{"type":"perspective","perspective":{"yfov":0.7,"znear":0.1}}]}
        """
            .formatted(++uploads);
    revisions.add(
        server.upload("wagon-%d.gltf".formatted(uploads), scene.getBytes(StandardCharsets.UTF_8)));
  }

  private String film(String of, String kind) {
    return ("{'productionId':1,'name':'film','width':0,'height':0,'segments':[{'title':'part',"
            + of
            + ",'frames':null}],'output':{'kind':'"
            + kind
            + "'}}")
        .replace('\'', '"');
  }

  private void film(ServerProcess server) throws Exception {
    boolean running =
        read(server.get("/api/films?production=1"))
            .valueStream()
            .anyMatch(f -> f.get("state").asString().equals("RUNNING"));
    if (!running) {
      String plain = "'stackId':null,'footage':'" + footage + "'";
      String stacked = "'stackId':" + stack + ",'footage':null";
      String of = films % 2 == 0 ? plain : stacked;
      String kind = List.of("mp4", "exr", "png").get(films % 3);
      String answer = server.post("/api/films", film(of, kind));
      assertTrue(read(answer).has("id"), answer);
      films++;
    }
    Thread.sleep(50);
  }

  private void handOver(ServerProcess server) throws Exception {
    boolean running =
        read(server.get("/api/handovers?production=1"))
            .valueStream()
            .anyMatch(h -> h.get("state").asString().equals("RUNNING"));
    if (!running) {
      handovers++;
      String path = handovers % 2 == 0 ? "null" : "\"" + folder.resolve("over-" + handovers) + "\"";
      String answer =
          server.post(
              "/api/handovers",
              "{\"productionId\":1,\"keys\":[\"strand-%d\"],\"path\":%s,\"copy\":true}"
                  .formatted(strand, path));
      assertTrue(read(answer).has("id"), answer);
      assertTrue(server.post("/api/backups", "").contains("\"file\""));
    }
    Thread.sleep(20);
  }

  private void prepare() throws Exception {
    try (ServerProcess server = new ServerProcess(home())) {
      long revision = server.upload("slider.zip", Files.readAllBytes(SmallScene.write(folder)));
      ObjectNode shot =
          (ObjectNode)
              read(
                  server.post(
                      "/api/shots", "{\"revisionId\":" + revision + ",\"camera\":\"front\"}"));
      ObjectNode own = (ObjectNode) read(server.get("/api/recipes?production=1")).get(0);
      ((ObjectNode) own.at("/document/sampling")).put("most", 2);
      server.put("/api/recipes/" + own.get("id").asLong(), own.toString());
      long id = shot.get("id").asLong();
      shot.put("scale", 25).set("recipeId", own.get("id"));
      server.put("/api/shots/" + id, shot.toString());
      long layer = read(server.get("/api/layers?production=1")).get(0).get("id").asLong();
      strand = server.rendered(id, layer).get("id").asLong();
      footage = "shot-%d.layer-%d".formatted(id, layer);
      recipe =
          read(server.post(
                  "/api/recipes",
                  "{\"productionId\":1,\"name\":\"edited\",\"copyOf\":" + own.get("id") + "}"))
              .get("id")
              .asLong();
      String input =
          "{\"id\":\"1\",\"name\":\"main\",\"source\":{\"footage\":\"" + footage + "\"}}";
      String document =
          "{\"width\":320,\"height\":180,\"rate\":24,\"frames\":\"1-12\",\"inputs\":[%s]}"
              .formatted(input);
      stack =
          read(server.post(
                  "/api/stacks",
                  "{\"productionId\":1,\"name\":\"mix\",\"document\":" + document + "}"))
              .get("id")
              .asLong();
      edit(server);
    }
  }

  /**
   * {@code -Dposada.kills=100} kills more often, {@code -Dposada.seed=N} at the moments of a run.
   */
  @Test
  void killsAtRandomMomentsLoseNothing() throws Exception {
    int kills = Integer.getInteger("posada.kills", 4);
    prepare();
    for (int k = 0; k < kills; k++) {
      try (ServerProcess server = new ServerProcess(home())) {
        check(server);
        List<Thread> all = new ArrayList<>();
        for (Work w : List.<Work>of(this::edit, this::upload, this::film, this::handOver)) {
          all.add(again(server, w));
        }
        Thread.sleep(random.nextInt(4000));
        server.kill();
        for (Thread t : all) {
          t.join();
        }
      }
      assertEquals("[]", faults.toString(), "seed " + seed);
    }
    try (ServerProcess server = new ServerProcess(home())) {
      check(server);
      wholeFilms(server);
    }
  }

  private static Set<String> names(Path folder) throws IOException {
    if (!Files.exists(folder)) {
      return Set.of();
    }
    try (Stream<Path> all = Files.list(folder)) {
      return all.map(p -> p.getFileName().toString())
          .collect(Collectors.toCollection(TreeSet::new));
    }
  }

  /** Compares what is there after a start with what was answered before. */
  private void check(ServerProcess server) throws Exception {
    String told = "seed " + seed;
    for (JsonNode r : read(server.get("/api/recipes?production=1"))) {
      if (r.get("id").asLong() == recipe) {
        long now = r.at("/document/sampling/most").asLong();
        // The last one may have been written without an answer.
        assertTrue(now == answered || now == sent, now + " is not " + answered + ", " + told);
        answered = now;
        sent = now;
      }
    }
    Set<Long> there = new TreeSet<>();
    Set<String> used = new TreeSet<>();
    for (JsonNode r : read(server.get("/api/revisions?production=1"))) {
      assertTrue(there.add(r.get("id").asLong()));
      assertTrue(used.add(r.get("sha256").asString()), "twice: " + r.get("scene") + ", " + told);
    }
    assertTrue(there.containsAll(revisions), there + " lost some of " + revisions + ", " + told);
    assertEquals(used, names(home().resolve("scenes")), told);
    revisions.addAll(there);
    assertEquals(Set.of(), names(home().resolve("incoming")), told);
    try (Stream<Path> all = Files.walk(home().resolve("uploads"))) {
      assertEquals(List.of(), all.filter(Files::isRegularFile).toList(), told);
    }
    for (String copy : names(home().resolve("backups"))) {
      assertTrue(copy.endsWith(".zip"), copy + ", " + told);
    }
    handedOver(server, told);
  }

  private void handedOver(ServerProcess server, String told) throws Exception {
    Set<String> zips = new TreeSet<>(names(home().resolve("handovers")));
    for (JsonNode h : read(server.get("/api/handovers?production=1"))) {
      Path path = Path.of(h.get("path").asString());
      boolean finished = h.get("state").asString().equals("FINISHED");
      assertFalse(h.get("state").asString().equals("RUNNING"), h + ", " + told);
      if (h.get("zip").asBoolean()) {
        zips.remove(path.getFileName().toString());
      } else {
        assertEquals(finished, Files.exists(path.resolve("manifest.json")), h + ", " + told);
        assertEquals(finished, !names(path).isEmpty(), h + ", " + told);
      }
    }
    assertEquals(Set.of(), zips, told);
  }

  private void wholeFilms(ServerProcess server) throws Exception {
    long end = System.nanoTime() + 300_000_000_000L;
    while (server.get("/api/films?production=1").contains("\"RUNNING\"")) {
      assertTrue(System.nanoTime() < end, "a film hangs, seed " + seed);
      Thread.sleep(100);
    }
    Set<String> folders = new TreeSet<>();
    for (JsonNode f : read(server.get("/api/films?production=1"))) {
      assertEquals("FINISHED", f.get("state").asString(), f + ", seed " + seed);
      Path made = Path.of(f.get("file").asString());
      assertTrue(folders.add(made.getParent().toString()), "twice: " + made);
      if (made.toString().endsWith(".mp4")) {
        assertEquals(FRAMES, pictures(made), made + ", seed " + seed);
      } else {
        assertEquals(FRAMES, names(made).size(), made + ", seed " + seed);
      }
    }
    assertTrue(folders.size() >= Math.max(1, films), folders.size() + " of " + films);
    Path versions = Path.of(folders.iterator().next()).getParent();
    assertEquals(folders.size(), names(versions).size(), "seed " + seed);
    try (Stream<Path> all = Files.walk(home().resolve("output"))) {
      assertEquals(List.of(), all.filter(p -> p.toString().endsWith("-part")).toList());
    }
  }

  private static int pictures(Path film) throws Exception {
    Process p =
        new ProcessBuilder(
                "ffprobe",
                "-v",
                "error",
                "-count_frames",
                "-select_streams",
                "v",
                "-show_entries",
                "stream=nb_read_frames",
                "-of",
                "csv=p=0",
                film.toString())
            .redirectErrorStream(true)
            .start();
    String said = new String(p.getInputStream().readAllBytes(), StandardCharsets.UTF_8).strip();
    assertTrue(said.matches("\\d+"), film + ": " + said);
    return Integer.parseInt(said);
  }
}
