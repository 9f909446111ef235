package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Base64;
import java.util.List;
import java.util.Scanner;
import java.util.TreeSet;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.TimeUnit;
import java.util.stream.Stream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What is known of a shot before it is let go: its picture, what it costs, what it may have. */
class ShotApiTest extends ServerCase {
  private static ObjectNode small(String scene, int samples) throws Exception {
    ObjectNode shot = shot(scene, "eye");
    shot.put("frames", "1-2").put("width", 64).put("height", 48).put("scale", 100);
    Answer changed = change(samples(shot, samples));
    assertEquals(200, changed.status(), String.valueOf(changed.json()));
    return (ObjectNode) changed.json();
  }

  /** An event's name and data. */
  private record Event(String name, String data) {}

  /** Returns all that a shot's live picture says until it ends. */
  private static List<Event> live(ObjectNode shot, String rest) throws Exception {
    return live(shot, rest, () -> {});
  }

  /**
   * @param heard run at each event
   */
  private static List<Event> live(ObjectNode shot, String rest, Runnable heard) throws Exception {
    String path = "/api/shots/" + shot.get("id").asLong() + "/live?viewer=one&frame=1" + rest;
    HttpRequest r = HttpRequest.newBuilder(URI.create(base + path)).build();
    List<Event> events = new ArrayList<>();
    String name = "";
    try (InputStream in = CLIENT.send(r, BodyHandlers.ofInputStream()).body();
        Scanner lines = new Scanner(in, StandardCharsets.UTF_8)) {
      while (lines.hasNextLine()) {
        String line = lines.nextLine();
        if (line.startsWith("event:")) {
          name = line.substring(6).trim();
        } else if (line.startsWith("data:")) {
          events.add(new Event(name, line.substring(5)));
          heard.run();
        }
      }
    }
    return events;
  }

  private static BufferedImage picture(Event e) throws Exception {
    assertEquals("picture", e.name, e.data);
    byte[] jpeg = Base64.getDecoder().decode(JSON.readTree(e.data).get("data").asString());
    return ImageIO.read(new ByteArrayInputStream(jpeg));
  }

  /** Each would have overwritten the other's frames. */
  @Test
  void shotsWhoseFilesWouldShareAFolderAreRefused() throws Exception {
    ObjectNode first = shot("fold", "Fold Ä");
    // Its own name in other letters is no clash.
    assertEquals(200, change(first.put("name", "FOLD Ä")).status());
    for (String name : List.of("fold-ä", "FOLD/ä", " fold?Ä ", "fold-a\u0308", "ｆold-ä")) {
      ObjectNode other = shot("folds", "eye");
      Answer refused = change(other.put("name", name));
      refused(409, "with shot \"FOLD Ä\"", refused);
      assertEquals(200, send("DELETE", "/api/shots/" + other.get("id").asLong(), "").status());
    }
    assertEquals("Fold Ä-2", shot("fold", "Fold Ä").get("name").asString());
  }

  private static boolean drawing() {
    return Thread.getAllStackTraces().entrySet().stream()
        .filter(t -> t.getKey().getName().equals("viewer"))
        .flatMap(t -> Stream.of(t.getValue()))
        .anyMatch(f -> f.getMethodName().equals("refine"));
  }

  @Test
  void theLivePictureStopsWhenItsViewerLeaves() throws Exception {
    ObjectNode shot = shot("left", "eye");
    change(samples(shot.put("width", 1280).put("height", 960).put("scale", 100), 4096));
    String path = "/api/shots/" + shot.get("id").asLong() + "/live?viewer=gone&frame=1";
    HttpRequest r = HttpRequest.newBuilder(URI.create(base + path)).build();
    try (InputStream in = CLIENT.send(r, BodyHandlers.ofInputStream()).body();
        Scanner lines = new Scanner(in, StandardCharsets.UTF_8)) {
      assertTrue(lines.findWithinHorizon("event:picture", 0) != null);
      assertTrue(drawing());
    }
    long end = System.nanoTime() + 60_000_000_000L;
    while (drawing()) {
      assertTrue(System.nanoTime() < end, "it goes on for nobody");
      Thread.sleep(50);
    }
  }

  @Test
  void theLivePictureGoesFromCoarseToFineAndBeyondTheSamplesOfTheShot() throws Exception {
    List<Event> events = live(small("live", 6), "");
    int samples = 0;
    for (Event e : events) {
      JsonNode u = JSON.readTree(e.data);
      assertTrue(u.get("samples").asInt() >= samples, e.data);
      samples = u.get("samples").asInt();
      assertEquals(6, u.get("target").asInt());
      assertEquals(u.get("width").asInt(), picture(e).getWidth());
    }
    assertEquals(16 * 6, samples);
    assertTrue(events.stream().anyMatch(e -> e.data.contains("\"samples\":6,")));
    assertEquals(16, picture(events.get(0)).getWidth(), "a quarter at first");
    BufferedImage last = picture(events.get(events.size() - 1));
    assertEquals(64, last.getWidth());
    assertEquals(48, last.getHeight());
    // The sail is in the lower left, the sky around it; both are there and differ.
    assertTrue((last.getRGB(24, 30) & 255) != (last.getRGB(60, 4) & 255));
  }

  @Test
  void theLivePictureIsAsLargeAsIsAskedFor() throws Exception {
    List<Event> events = live(small("lively", 1), "&most=32");
    BufferedImage last = picture(events.get(events.size() - 1));
    assertEquals(32, last.getWidth());
    assertEquals(24, last.getHeight());
  }

  /** Whoever looks at another frame no longer waits for the one before: that stream ends early. */
  @Test
  void aViewersNewerPictureEndsTheOneBefore() throws Exception {
    ObjectNode slow = small("slow", 60_000);
    CountDownLatch begun = new CountDownLatch(1);
    CompletableFuture<List<Event>> first =
        CompletableFuture.supplyAsync(() -> quietly(slow, begun::countDown));
    assertTrue(begun.await(30, TimeUnit.SECONDS), "it does not begin");
    assertFalse(first.isDone(), "60,000 samples are not there at once");
    List<Event> second = live(small("quick", 1), "");
    assertEquals(64, picture(second.get(second.size() - 1)).getWidth());
    List<Event> ended = first.get(30, TimeUnit.SECONDS);
    int samples = JSON.readTree(ended.get(ended.size() - 1).data).get("samples").asInt();
    assertTrue(samples < 60_000, "it went on to " + samples);
  }

  private static List<Event> quietly(ObjectNode shot, Runnable heard) {
    try {
      return live(shot, "", heard);
    } catch (Exception e) {
      throw new IllegalStateException(e);
    }
  }

  /** The scene's file is gone from the disk, as when somebody tidied up. */
  @Test
  void aLivePictureThatCannotBeMadeSaysWhy() throws Exception {
    ObjectNode shot = shot("gone", "eye");
    Path scene;
    try (Stream<Path> all = Files.walk(home)) {
      scene = all.filter(p -> p.getFileName().toString().equals("gone.gltf")).findFirst().get();
    }
    Files.delete(scene);
    List<Event> events = live(shot, "");
    Event last = events.get(events.size() - 1);
    assertEquals("failed", last.name, last.data);
    assertTrue(last.data.contains("gone.gltf cannot be read"), last.data);
  }

  /** What a crop leaves out of the batch is seen all the same. */
  @Test
  void theLivePictureIsWhole() throws Exception {
    ObjectNode shot = small("cropped", 1);
    say(shot, "{\"crop\": {\"width\": 16, \"height\": 16, \"alone\": true}}");
    Answer changed = change(shot);
    assertEquals(200, changed.status(), String.valueOf(changed.json()));
    List<Event> events = live((ObjectNode) changed.json(), "");
    assertEquals(64, picture(events.get(events.size() - 1)).getWidth());
  }

  @Test
  void whatAFrameCostsFollowsItsSettings() throws Exception {
    ObjectNode shot = small("cost", 4);
    String path = "/api/shots/" + shot.get("id").asLong() + "/estimate";
    JsonNode few = get(path);
    assertTrue(few.get("rays").asString().contains("4"), few.toString());
    change(samples(shot, 64).put("width", 640).put("height", 480));
    JsonNode many = get(path);
    assertTrue(many.get("rays").asString().contains("64"), many.toString());
    // A pixel of a picture has three colours and alpha at least, four bytes each.
    long more = many.get("memoryBytes").asLong() - few.get("memoryBytes").asLong();
    assertTrue(more > 16L * (640 * 480 - 64 * 48), many + " after " + few);
  }

  /** The meter measures the light and not the exposure that is set. */
  @Test
  void anExposureIsMetered() throws Exception {
    ObjectNode shot = small("metered", 4);
    String path = "/api/shots/" + shot.get("id").asLong() + "/meter";
    double stops = send("POST", path, "").json().get("stops").asDouble();
    say(shot, "{\"lens\": {\"exposure\": " + (stops + 9) + "}}");
    Answer changed = change(shot);
    assertEquals(stops, send("POST", path, "").json().get("stops").asDouble());
    List<Event> events = live((ObjectNode) changed.json(), "");
    JsonNode bright = JSON.readTree(events.get(events.size() - 1).data).get("brightness");
    assertTrue(bright.get("white").asDouble() > 0.9, bright.toString());
    assertEquals(0, bright.get("black").asDouble(), 0.1);
  }

  @Test
  void passesAndFormatsAreListed() throws Exception {
    TreeSet<String> passes = new TreeSet<>(), formats = new TreeSet<>(), packed = new TreeSet<>();
    get("/api/passes").forEach(p -> passes.add(p.get("name").asString()));
    JsonNode all = get("/api/formats");
    all.get("formats").forEach(f -> formats.add(f.get("extension").asString()));
    all.get("compressions").forEach(c -> packed.add(c.asString()));
    get("/api/layers?production=1")
        .get(0)
        .at("/document/passes/wanted")
        .forEach(p -> assertTrue(passes.contains(p.asString()), p + " is new"));
    assertTrue(passes.size() > 10, passes.toString());
    assertTrue(formats.contains("exr"), formats.toString());
    assertTrue(packed.contains("zip"), packed.toString());
  }

  @Test
  void camerasHavePicturesOfTheirOwn() throws Exception {
    long revision = small("pictured", 1).get("revisionId").asLong();
    String path = "/api/revisions/" + revision + "/picture?frame=1&camera=";
    BufferedImage image = ImageIO.read(new ByteArrayInputStream(bytes(path + "eye&width=100")));
    assertEquals(100, image.getWidth());
    refused(400, "far", send("GET", path + "far", ""));
    refused(404, "revision 99", send("GET", "/api/revisions/99/picture?camera=eye&frame=1", ""));
  }
}
