package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import java.util.Scanner;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.stream.IntStream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Runs, their light, what is seen of them, and previews, through the server's API. */
class RunApiTest extends ServerCase {
  /** Lets two small frames of a shot go; returns the path of their run. */
  private static String startRun(ObjectNode shot) throws Exception {
    shot.put("frames", "1-2").put("width", 16).put("height", 16).put("scale", 100);
    assertEquals(200, change(samples(shot, 2)).status());
    return path(render(shot));
  }

  /** Waits for a run to end as it should, with all its frames in one state. */
  private static JsonNode ended(String path, String state, String frames) throws Exception {
    JsonNode run = after(path, "RUNNING");
    assertEquals(state, run.get("state").asString(), run.toString());
    assertTrue(get(path + "/frames").get("states").asString().matches(frames + "+"));
    return run;
  }

  @Test
  void framesWaitForTheirLight() throws Exception {
    ObjectNode shot = shot("lit", "eye");
    recipe(shot, "{\"irradiance\": {\"use\": true, \"paths\": 512}}");
    String path = startRun(shot);
    JsonNode light = ended(path, "DONE", "F").get("bakes").get(0);
    assertEquals("FRESH", light.get("state").asString());
    assertTrue(light.get("points").asInt() > 0, light.toString());
    assertTrue(light.get("seconds").asDouble() > 0, light.toString());
    Path file = Path.of(get(path).get("folder").asString(), "baked.light");
    assertTrue(Files.exists(file));
    // It is not for those who get the pictures.
    Set<String> packed = archive(path).keySet();
    assertFalse(packed.contains("baked.light"), packed.toString());
  }

  @Test
  void framesAreLeftOutIfTheirLightCannotBeBaked() throws Exception {
    ObjectNode shot = shot("swaying", MOVING);
    recipe(shot, "{\"irradiance\": {\"use\": true}}");
    String path = startRun(shot);
    JsonNode light = ended(path, "FAILED", "-").get("bakes").get(0);
    assertEquals("FAILED", light.get("state").asString());
    assertTrue(light.get("failure").asString().contains("sail"), light.toString());
    // Nothing is different when it goes on, and the frames wait for it again.
    assertEquals(200, send("POST", path + "/resume", "").status());
    light = ended(path, "FAILED", "-").get("bakes").get(0);
    assertEquals(1, light.get("attempts").asInt(), "trying again cannot help");
  }

  @Test
  void runsOfOneFolderGetNumbersOfTheirOwnWhateverTheirShotsWereCalled() throws Exception {
    ObjectNode shot = shot("numbers", "num one");
    String first = startRun(shot);
    ended(first, "DONE", "F");
    assertEquals(200, send("DELETE", "/api/shots/" + shot.get("id").asLong(), "").status());
    ObjectNode other = shot("numbers", "NUM-one");
    String second = startRun(other);
    JsonNode run = ended(second, "DONE", "F");
    assertEquals(2, run.get("number").asInt());
    // Files that nobody knows of are not written over.
    Path next = Path.of(run.get("folder").asString()).resolveSibling("v003");
    Files.createDirectories(next);
    wants(other, "beauty");
    assertEquals(4, get(path(render(other))).get("number").asInt());
  }

  /** Strands are started together or not at all. */
  @Test
  void nothingIsStartedIfOneOfTheStrandsCannotBe() throws Exception {
    ObjectNode good = shot("good", "eye-good"), bad = shot("bad", "eye-bad");
    ObjectNode names = (ObjectNode) get("/api/deliveries?production=1").get(1).deepCopy();
    String made = "{\"productionId\":1,\"name\":\"flat\",\"copyOf\":" + names.get("id") + "}";
    ObjectNode flat = (ObjectNode) send("POST", "/api/deliveries", made).json();
    // A file for each pass, and all of one name.
    ((ObjectNode) flat.get("document")).put("pattern", "{shot}.{frame:4}");
    String path = "/api/deliveries/" + flat.get("id").asLong();
    assertEquals(200, send("PUT", path, flat.toString()).status());
    assertEquals(200, change(bad.put("deliveryId", flat.get("id").asLong())).status());
    long layer = get("/api/layers?production=1").get(0).get("id").asLong();
    String strand = "{\"shotId\":%d,\"layerId\":" + layer + "}";
    String both =
        "{\"productionId\":1,\"strands\":["
            + strand.formatted(good.get("id").asLong())
            + ","
            + strand.formatted(bad.get("id").asLong())
            + "]}";
    int before = get("/api/runs/strands?production=1").size();
    refused(409, "Shot \"eye-bad\", layer main: ", send("POST", "/api/runs", both));
    assertEquals(before, get("/api/runs/strands?production=1").size());
    JsonNode errors = get("/api/runs/checks?production=1").get("findings");
    assertEquals("FILE_NAMES", errors.get(0).get("rule").asString(), errors.toString());
    assertEquals(200, send("DELETE", "/api/shots/" + bad.get("id").asLong(), "").status());
  }

  /** A double press. */
  @Test
  void ofStartsAtOneMomentOneIsTaken() throws Exception {
    ObjectNode shot = shot("hurry", "eye");
    shot.put("frames", "1-2").put("width", 64).put("height", 64).put("scale", 100);
    assertEquals(200, change(samples(shot, 2000)).status());
    List<CompletableFuture<Answer>> starts =
        IntStream.range(0, 8)
            .mapToObj(
                i ->
                    CompletableFuture.supplyAsync(
                        () -> {
                          try {
                            return render(shot);
                          } catch (Exception e) {
                            throw new IllegalStateException(e);
                          }
                        },
                        each -> new Thread(each).start()))
            .toList();
    List<Answer> taken = starts.stream().map(s -> s.join()).filter(a -> a.status() == 200).toList();
    assertEquals(1, taken.size());
    starts.stream()
        .map(s -> s.join())
        .filter(a -> a.status() != 200)
        .forEach(a -> refused(409, "is being rendered in run", a));
    assertEquals(200, send("POST", path(taken.get(0)) + "/cancel", "").status());
  }

  @Test
  void aRunGoesFromShotToArchive() throws Exception {
    ObjectNode shot = shot("job", "eye");
    String path = startRun(shot);
    JsonNode run = ended(path, "DONE", "F");
    assertEquals(run, get("/api/runs/strands?production=1").get(0), "the newest comes first");
    assertEquals(0, run.get("bakes").size());

    String frames = path.replace("/api/runs/strands/", "/api/footage/strand-") + "/frames/";
    byte[] jpeg = bytes(frames + "2/picture");
    assertEquals(0xffd8, (jpeg[0] & 255) << 8 | jpeg[1] & 255);
    refused(404, "Frame 3", send("GET", frames + "3/picture", ""));
    refused(400, "shown cannot be \"heat\"", send("GET", frames + "2/picture?shown=heat", ""));
    refused(400, "-10 .. 10", send("GET", frames + "2/picture?stops=11", ""));
    refused(409, "is not running", send("POST", path + "/cancel", ""));
    refused(409, "nothing to go on with", send("POST", path + "/resume", ""));
    refused(409, "is not running", send("POST", path + "/pause", ""));

    Map<String, String> packed = archive(path);
    // The first bytes of an OpenEXR file (its file layout, "Magic Number").
    String name = shot.get("name").asString();
    String exr = "all/" + name + "_main_all.0002.exr";
    assertEquals("v/1\u0001", packed.get(exr), packed.keySet().toString());
  }

  /** Returns the first bytes of each file of a run's archive. */
  private static Map<String, String> archive(String path) throws Exception {
    Map<String, String> packed = new TreeMap<>();
    try (ZipInputStream zip =
        new ZipInputStream(new ByteArrayInputStream(bytes(path + "/archive")))) {
      for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
        packed.put(e.getName(), new String(zip.readNBytes(4), StandardCharsets.ISO_8859_1));
      }
    }
    return packed;
  }

  /** Gives the layer main of a shot one pass of its own. */
  private static void wants(ObjectNode shot, String pass) throws Exception {
    long layer = get("/api/layers?production=1").get(0).get("id").asLong();
    String strand =
        """
        [{"id":0,"shotId":%d,"layerId":%d,"on":true,"recipeId":null,"deliveryId":null,
        "passes":{"wanted":["%s"]}}]
        """;
    Answer said =
        send(
            "PUT",
            "/api/strands?production=1",
            strand.formatted(shot.get("id").asLong(), layer, pass));
    assertEquals(200, said.status(), String.valueOf(said.json()));
  }

  @Test
  void whatHappensIsPushed() throws Exception {
    ObjectNode shot = shot("pushed", "eye");
    HttpRequest r = HttpRequest.newBuilder(URI.create(base + "/api/events")).build();
    Set<String> heard = new TreeSet<>();
    try (InputStream in = CLIENT.send(r, BodyHandlers.ofInputStream()).body();
        Scanner lines = new Scanner(in, StandardCharsets.UTF_8)) {
      String path = startRun(shot);
      String end = "\"state\":\"DONE\"";
      String name = "";
      String line = "";
      while (!(name.equals("strand") && line.contains(end))) {
        line = lines.nextLine();
        if (line.startsWith("event:")) {
          name = line.substring(6).trim();
          heard.add(name);
        }
      }
      assertEquals("DONE", get(path).get("state").asString());
    }
    assertTrue(heard.containsAll(Set.of("stale", "strand", "frame", "ledger")), heard.toString());
  }

  @Test
  void aCancelledRunGoesOnWhereItStopped() throws Exception {
    ObjectNode shot = shot("stopped", "eye");
    samples(shot.put("frames", "1-40").put("width", 64).put("height", 64), 16);
    assertEquals(200, change(shot).status());
    String path = path(render(shot));
    while (get(path).get("fresh").asInt() < 2) {
      Thread.sleep(5);
    }
    assertEquals(200, send("POST", path + "/cancel", "").status());
    JsonNode stopped = get(path);
    assertEquals("CANCELLED", stopped.get("state").asString());
    assertTrue(stopped.get("fresh").asInt() < 40, "it was over before it could be cancelled");
    Path folder = Path.of(stopped.get("folder").asString());
    long end = System.nanoTime() + 60_000_000_000L;
    while (send("POST", path + "/resume", "").status() != 200) {
      assertTrue(System.nanoTime() < end, "the last frame does not stop");
      Thread.sleep(5);
    }
    ended(path, "DONE", "F");
    try (var files = Files.walk(folder)) {
      assertEquals(40, files.filter(f -> f.toString().endsWith(".exr")).count());
    }
  }

  private static JsonNode preview(long shot, String state) throws Exception {
    String path = "/api/shots/" + shot + "/preview";
    JsonNode job = after(path, "DRAWING");
    assertEquals(state, job.get("state").asString(), job.toString());
    return job;
  }

  @Test
  void aShotHasOnePreviewTheNewest() throws Exception {
    ObjectNode shot = shot("moves", "eye");
    shot.put("frames", "1-6").put("width", 64).put("height", 48).put("scale", 100);
    assertEquals(200, change(shot).status());
    long id = shot.get("id").asLong();
    String path = "/api/shots/" + id + "/preview";
    assertEquals(204, send("GET", path, "").status(), "none yet");
    refused(400, "sketch", send("POST", path, "{\"look\": {\"style\": \"sketch\"}}"));
    assertEquals(200, send("POST", path, "{\"look\": {\"style\": \"clay\"}}").status());
    JsonNode first = preview(id, "READY");
    assertEquals(6, first.get("done").asInt());
    byte[] film = bytes(path + "/" + first.get("id").asLong() + ".mp4");
    // The first box of the file (ISO/IEC 14496-12, section 4.3).
    assertEquals("ftyp", new String(film, 4, 4, StandardCharsets.US_ASCII));
    // One that is finished cannot be stopped any more, and a newer one takes its place.
    assertEquals("READY", send("DELETE", path, "").json().get("state").asString());
    assertEquals(200, send("POST", path, "{\"every\": 2}").status());
    JsonNode second = preview(id, "READY");
    assertEquals(3, second.get("total").asInt());
    String gone = path + "/" + first.get("id").asLong() + ".mp4";
    refused(404, "not there any more", send("GET", gone, ""));
    assertFalse(Files.exists(home.resolve("previews/preview-" + first.get("id") + ".mp4")));
    Path newest = home.resolve("previews/preview-" + second.get("id") + ".mp4");
    assertTrue(Files.exists(newest));
    send("DELETE", "/api/shots/" + id, "");
    assertFalse(Files.exists(newest), "it goes with its shot");
  }
}
