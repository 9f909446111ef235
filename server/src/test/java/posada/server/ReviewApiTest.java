package posada.server;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.awt.image.BufferedImage;
import java.io.ByteArrayInputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import java.util.zip.ZipOutputStream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import posada.core.image.FrameImage;
import posada.formats.exr.ExrReader;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What a lead does with finished frames. */
class ReviewApiTest extends ServerCase {
  private static ObjectNode small(String name, String frames) throws Exception {
    ObjectNode shot = shot(name, MOVING);
    shot.put("name", name).put("frames", frames).put("width", 64).put("height", 48);
    String noisy = "{\"sampling\":{\"most\":4},\"denoising\":{\"picture\":false}}";
    Answer a = change(recipe(shot.put("scale", 100), noisy));
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return (ObjectNode) a.json();
  }

  private static JsonNode rendered(ObjectNode shot) throws Exception {
    return after(path(render(shot)), "RUNNING");
  }

  private static String key(JsonNode run) {
    return "/api/footage/strand-" + run.get("id").asLong();
  }

  private static Path exr(JsonNode run, int frame) {
    return Path.of(run.get("folder").asString())
        .resolve("all/%s_main_all.%04d.exr".formatted(run.get("shot").asString(), frame));
  }

  private static BufferedImage picture(String path) throws Exception {
    return ImageIO.read(new ByteArrayInputStream(bytes(path)));
  }

  private static Answer json(String method, String path, String body) throws Exception {
    return send(method, path, body.replace('\'', '"'));
  }

  @Test
  void aFrameIsLookedAtInManyWays() throws Exception {
    JsonNode run = rendered(small("looked", "1-2"));
    JsonNode info = get(key(run));
    assertEquals("[1,2]", info.get("frames").toString());
    List<String> passes = new ArrayList<>();
    info.get("passes").forEach(p -> passes.add(p.get("name").asString()));
    assertTrue(passes.containsAll(List.of("beauty", "depth")), passes.toString());
    String frame = key(run) + "/frames/1/picture";
    BufferedImage plain = picture(frame);
    assertEquals(64, plain.getWidth());
    assertEquals(32, picture(frame + "?most=32").getWidth());
    int middle = plain.getRGB(32, 24) & 255;
    assertTrue((picture(frame + "?stops=-3").getRGB(32, 24) & 255) < middle);
    assertTrue((picture(frame + "?gamma=2").getRGB(32, 24) & 255) > middle);
    assertEquals(64, picture(frame + "?pass=depth").getWidth());
    assertEquals(64, picture(frame + "?view=BANDS").getWidth());
    refused(400, "has no pass \"sheen\"; it has", send("GET", frame + "?pass=sheen", ""));
    assertEquals(12, get("/api/looks/bands").size());

    JsonNode values = get(key(run) + "/frames/1/values?x=32&y=24");
    FrameImage image = ExrReader.read(exr(run, 1));
    double red = Double.parseDouble(values.get(0).get("values").get(0).asString());
    assertEquals(image.find("R")[24 * 64 + 32], red, 1e-3 * red);
    refused(400, "64 x 48 pixels", send("GET", key(run) + "/frames/1/values?x=64&y=0", ""));
    refused(404, "no sequence \"film\"", send("GET", "/api/footage/film", ""));
  }

  @Test
  void aDamagedProxyIsMadeAgain() throws Exception {
    JsonNode run = rendered(small("proxied", "1"));
    byte[] first = bytes(key(run) + "/frames/1/picture");
    Path proxies = home.resolve("proxies");
    try (var files = Files.list(proxies)) {
      for (Path p : files.toList()) {
        byte[] bytes = Files.readAllBytes(p);
        bytes[bytes.length / 2] ^= 5;
        Files.write(p, bytes);
      }
    }
    assertArrayEquals(first, bytes(key(run) + "/frames/1/picture"));
  }

  @Test
  void whatChecksFindIsSaidFineWithAReason() throws Exception {
    JsonNode run = rendered(small("checked", "1-6"));
    // It was checked by itself.
    long end = System.nanoTime() + 30_000_000_000L;
    while (!get("/api/footage?production=1").toString().contains("strand-" + run.get("id"))) {
      assertTrue(System.nanoTime() < end, "no check of the finished strand");
      Thread.sleep(50);
    }
    JsonNode clean = get(key(run) + "/check");
    assertEquals(6, clean.get("frames").size());
    assertEquals(6, clean.get("noise").size());
    Files.delete(exr(run, 6));
    Files.write(exr(run, 3), new byte[10]);
    Files.copy(exr(run, 1), exr(run, 4), java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    JsonNode found = get(key(run) + "/check").get("faults");
    String kinds = "";
    for (JsonNode f : found) {
      kinds += f.get("kind").asString() + f.get("frames");
    }
    assertTrue(kinds.contains("DAMAGED[3]") && kinds.contains("MISSING[6]"), kinds);
    assertTrue(kinds.contains("LEDGER[4]"), kinds);
    String say = "{'kind':'MISSING','frame':6,'word':'FINE','reason':'%s','who':'Ida'}";
    String verdicts = key(run) + "/verdicts";
    refused(400, "Say why it is fine", json("PUT", verdicts, say.formatted("")));
    JsonNode said = json("PUT", verdicts, say.formatted("cut by the editor")).json();
    JsonNode missing = null;
    for (JsonNode f : said.get("faults")) {
      missing = f.get("kind").asString().equals("MISSING") ? f : missing;
    }
    assertEquals("cut by the editor", missing.get("reason").asString());
    assertEquals(missing, last(get(key(run) + "/check").get("faults"), "MISSING"));
  }

  private static JsonNode last(JsonNode faults, String kind) {
    JsonNode found = null;
    for (JsonNode f : faults) {
      found = f.get("kind").asString().equals(kind) ? f : found;
    }
    return found;
  }

  private static String again(JsonNode run, String frames, String more) {
    return "{'strandId':%d,'frames':'%s','recipeId':null,'more':0,%s}"
        .formatted(run.get("id").asLong(), frames, more)
        .replace("'more':0,'more'", "'more'");
  }

  /** Waits for a strand that was started. */
  private static JsonNode done(Answer started) throws Exception {
    assertEquals(200, started.status(), String.valueOf(started.json()));
    return after("/api/runs/strands/" + started.json().get("id").asLong(), "RUNNING");
  }

  private static final String WHOLE = "'x':0,'y':0,'width':0,'height':0";

  /** Waits until it is known how the frames of a shot stand. */
  private static void stands(String want, ObjectNode shot) throws Exception {
    long end = System.nanoTime() + 20_000_000_000L;
    String is = "?";
    while (is.contains("?")) {
      assertTrue(System.nanoTime() < end, is);
      Thread.sleep(50);
      for (JsonNode s : get("/api/ledger?production=1")) {
        boolean own = s.get("shotId").asLong() == shot.get("id").asLong();
        is = own ? s.get("states").asString() : is;
      }
    }
    assertEquals(want, is);
  }

  @Test
  void aBoxIsMergedIntoANewVersionThatHasTheOtherFramesToo() throws Exception {
    ObjectNode shot = small("boxed", "1-3");
    JsonNode first = rendered(shot);
    long fine = samples(shot.deepCopy(), 32).get("recipeId").asLong();
    String body = again(first, "2", "'x':0.25,'y':0.25,'width':0.5,'height':0.5");
    body = body.replace("'recipeId':null", "'recipeId':" + fine);
    Answer started = json("POST", "/api/again", body);
    JsonNode run = done(started);
    assertEquals("DONE", run.get("state").asString(), run.toString());
    assertEquals("AGAIN", run.get("kind").asString());
    assertTrue(
        run.get("sentBack").asString().startsWith("box 32 × 24 px at 16, 12"), run.toString());
    assertEquals(2, run.get("number").asInt());
    assertTrue(Files.isSameFile(exr(first, 1), exr(run, 1)));
    FrameImage old = ExrReader.read(exr(first, 2)), now = ExrReader.read(exr(run, 2));
    boolean changed = false;
    for (int i = 0; i < 64 * 48; i++) {
      int x = i % 64, y = i / 64;
      boolean inside = x >= 16 && x < 48 && y >= 12 && y < 36;
      changed |= inside && old.find("R")[i] != now.find("R")[i];
      assertTrue(inside || old.find("R")[i] == now.find("R")[i], x + ", " + y);
    }
    assertTrue(changed);
    stands("FKF", shot);
    refused(409, "Frame 2 is newest in v002", json("POST", "/api/again", body));
    // With the recipe of the strand, too, it is no frame that the strand's settings alone make.
    String own = again(run, "2-3", "'x':0,'y':0,'width':0.25,'height':0.25");
    assertEquals("DONE", done(json("POST", "/api/again", own)).get("state").asString());
    stands("FKK", shot);
  }

  @Test
  void moreSamplesGoOnTopAndTheLedgerKnows() throws Exception {
    ObjectNode shot = small("topped", "1-2");
    JsonNode first = rendered(shot);
    JsonNode run = done(json("POST", "/api/again", again(first, "1-2", "'more':12," + WHOLE)));
    assertEquals("DONE", run.get("state").asString(), run.toString());
    assertEquals("16", ExrReader.texts(exr(run, 1)).get("posadaSamples"));
    stands("KK", shot);
    ObjectNode larger = (ObjectNode) get("/api/shots?production=1").get(0);
    for (JsonNode s : get("/api/shots?production=1")) {
      larger = s.get("id").equals(shot.get("id")) ? (ObjectNode) s : larger;
    }
    assertEquals(200, change(larger.put("width", 96)).status());
    stands("SS", shot);
    // The version stays what it is: once more on top of that.
    JsonNode more = done(json("POST", "/api/again", again(run, "1", "'more':4," + WHOLE)));
    assertEquals("20", ExrReader.texts(exr(more, 1)).get("posadaSamples"));
    String both = again(more, "1-2", "'more':4," + WHOLE);
    refused(409, "have 20 and 16 samples", json("POST", "/api/again", both));
  }

  @Test
  void framesAreRenderedAgainAsTheyWereOrRejected() throws Exception {
    ObjectNode shot = small("redone", "1-2");
    JsonNode first = rendered(shot);
    byte[] whole = Files.readAllBytes(exr(first, 2));
    Files.write(exr(first, 2), new byte[3]);
    JsonNode run = done(json("POST", "/api/again", again(first, "2", WHOLE)));
    FrameImage now = ExrReader.read(exr(run, 2));
    assertArrayEquals(ExrReader.read("whole", whole, null).find("G"), now.find("G"));
    stands("FF", shot);
    refused(
        400,
        "Frame 7 of redone main v002 has not been rendered",
        json("POST", "/api/again", again(run, "7", WHOLE)));
  }

  @Test
  void aNewVersionAsksAgainAndSaysWhatChanged() throws Exception {
    ObjectNode shot = small("approved", "1-3");
    JsonNode first = rendered(shot);
    String decide = "{'strands':[%d],'approved':%b,'who':'%s','note':'%s'}";
    long id = first.get("id").asLong();
    refused(
        400, "Say who decides", json("POST", "/api/approvals", decide.formatted(id, true, "", "")));
    refused(400, "Say why", json("POST", "/api/approvals", decide.formatted(id, false, "Ida", "")));
    json("POST", "/api/approvals", decide.formatted(id, true, "Ida", "as agreed"));
    JsonNode run = done(json("POST", "/api/again", again(first, "2", "'more':4," + WHOLE)));
    JsonNode changes = get("/api/approvals/" + run.get("id").asLong() + "/changes");
    assertEquals("{\"frames\":[2],\"since\":1}", sorted(changes));
    JsonNode newest = get("/api/approvals?production=1").get(0);
    assertEquals(id, newest.get("strandId").asLong());
    assertEquals("as agreed", newest.get("note").asString());
  }

  private static String sorted(JsonNode n) {
    return "{\"frames\":" + n.get("frames") + ",\"since\":" + n.get("since") + "}";
  }

  @Test
  void aPackageHoldsAPageAFilmAndTheMarkedFrames() throws Exception {
    JsonNode run = rendered(small("packed", "1-4"));
    String note =
        "{'footage':'strand-%d','frame':3,'text':'too <bright>','x':0.1,'y':0.2,'width':0.3,"
            + "'height':0.4,'who':'Ida'}";
    JsonNode made = json("POST", "/api/remarks", note.formatted(run.get("id").asLong())).json();
    assertEquals(1, get("/api/remarks?production=1").size());
    json("PUT", "/api/remarks/" + made.get("id"), "{'text':'too bright','done':true}");
    List<String> names = new ArrayList<>();
    String page = "";
    byte[] film = null;
    byte[] zip = bytes("/api/review/package?production=1&strands=" + run.get("id").asLong());
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(zip))) {
      for (ZipEntry e = in.getNextEntry(); e != null; e = in.getNextEntry()) {
        names.add(e.getName());
        byte[] bytes = in.readAllBytes();
        page = e.getName().equals("index.html") ? new String(bytes) : page;
        film = e.getName().endsWith(".mp4") ? bytes : film;
      }
    }
    assertEquals(
        List.of("films/packed_main_v001.mp4", "frames/packed_main_v001.0003.jpg", "index.html"),
        names);
    assertTrue(page.contains("too bright"), page);
    assertFalse(page.contains("http"), "it asks for nothing from elsewhere");
    Path mp4 = Files.write(home.resolve("packed.mp4"), film);
    Process probe =
        new ProcessBuilder(
                "ffprobe",
                "-v",
                "error",
                "-count_frames",
                "-show_entries",
                "stream=nb_read_frames,r_frame_rate",
                "-of",
                "csv=p=0",
                mp4.toString())
            .start();
    assertEquals("24/1,4", new String(probe.getInputStream().readAllBytes()).strip());
    json("DELETE", "/api/remarks/" + made.get("id"), "");
    assertEquals(0, get("/api/remarks?production=1").size());
  }

  @Test
  void sequencesFromElsewhereAreTakenInWhateverTheyComeAs() throws Exception {
    JsonNode run = rendered(small("elsewhere", "1-3"));
    Path folder = Files.createDirectories(home.resolve("outside"));
    for (int f : new int[] {1, 2, 3}) {
      Files.copy(exr(run, f), folder.resolve("car.%04d.exr".formatted(f)));
      Files.copy(exr(run, f), folder.resolve("sky.%04d.exr".formatted(10 + 2 * f)));
    }
    Files.delete(folder.resolve("sky.0014.exr"));
    Files.write(folder.resolve("car.0002.exr"), new byte[99]);
    String open = "{'productionId':1,'path':'%s'}";
    JsonNode both = json("POST", "/api/sequences", open.formatted(folder)).json();
    assertEquals(2, both.size());
    String car = "/api/footage/sequence-" + both.get(0).get("id").asLong();
    assertEquals("[1,2,3]", get(car).get("frames").toString());
    assertEquals(64, picture(car + "/frames/3/picture").getWidth());
    refused(422, "Frame 2 of", send("GET", car + "/frames/2/picture", ""));
    assertEquals("DAMAGED", get(car + "/check").get("faults").get(0).get("kind").asString());
    refused(404, "nothing at", json("POST", "/api/sequences", open.formatted("/nowhere/at/all")));
    Path empty = Files.createDirectories(home.resolve("empty"));
    refused(400, "there is no sequence in", json("POST", "/api/sequences", open.formatted(empty)));

    Path zip = home.resolve("some.zip");
    try (ZipOutputStream out = new ZipOutputStream(Files.newOutputStream(zip))) {
      for (int f : new int[] {1, 2}) {
        out.putNextEntry(new ZipEntry("a/p.%d.exr".formatted(f)));
        Files.copy(exr(run, f), out);
      }
    }
    JsonNode zipped = json("POST", "/api/sequences", open.formatted(zip)).json().get(0);
    String id = zipped.get("id").asString();
    assertEquals(64, picture("/api/footage/sequence-" + id + "/frames/2/picture").getWidth());
    Path kept = Path.of(zipped.get("folder").asString());
    assertTrue(Files.isDirectory(kept));
    assertEquals(200, send("DELETE", "/api/sequences/" + id, "").status());
    assertFalse(Files.exists(kept));

    Path film = home.resolve("t.mp4");
    new ProcessBuilder(
            "ffmpeg",
            "-v",
            "error",
            "-f",
            "lavfi",
            "-i",
            "testsrc2=size=96x64:rate=25:duration=0.4",
            "-c:v",
            "libx264",
            film.toString())
        .start()
        .waitFor();
    JsonNode taken = json("POST", "/api/sequences", open.formatted(film)).json().get(0);
    assertEquals(25, taken.get("frameRate").asDouble(), 1e-6);
    String key = "/api/footage/sequence-" + taken.get("id").asLong();
    long end = System.nanoTime() + 20_000_000_000L;
    while (get(key).get("frames").size() < 10) {
      assertTrue(System.nanoTime() < end, get(key).toString());
      Thread.sleep(200);
    }
    assertEquals(96, picture(key + "/frames/10/picture").getWidth());
    Path none = Files.writeString(home.resolve("none.mp4"), "no film");
    refused(422, "is no film", json("POST", "/api/sequences", open.formatted(none)));

    // A picture by itself is a sequence of one frame.
    Path title =
        Files.copy(exr(run, 1), Files.createDirectories(home.resolve("t")).resolve("title.exr"));
    JsonNode still = json("POST", "/api/sequences", open.formatted(title)).json().get(0);
    String alone = "/api/footage/sequence-" + still.get("id").asLong();
    assertEquals("[1]", get(alone).get("frames").toString());
    assertEquals(64, picture(alone + "/frames/1/picture").getWidth());
  }
}
