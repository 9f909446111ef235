package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.Callable;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.stream.Stream;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** The next revision of a scene, the way back, and scenes that are read otherwise. */
class RevisionApiTest extends ServerCase {
  @BeforeEach
  void inANewWindow() {
    window = "w" + System.nanoTime();
  }

  private static void undo() throws Exception {
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
  }

  private static JsonNode taken(Answer a) {
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return a.json();
  }

  /** Returns what waits of a scene. */
  private static JsonNode held(String scene, String gltf) throws Exception {
    JsonNode imported =
        taken(upload("/api/revisions?production=1&hold=true", scene + ".gltf", gltf.getBytes()));
    assertTrue(imported.get("waiting").asBoolean());
    return imported.get("revision");
  }

  private static JsonNode shotNow(JsonNode shot) throws Exception {
    for (JsonNode s : get("/api/shots?production=1")) {
      if (s.get("id").equals(shot.get("id"))) {
        return s;
      }
    }
    throw new AssertionError("no shot " + shot);
  }

  private static String layer() throws Exception {
    return get("/api/layers?production=1").get(0).get("document").toString();
  }

  @Test
  void aNewerRevisionIsLookedAtThenTakenWithItsNewNames() throws Exception {
    ObjectNode shot = shot("sails", "eye-sails");
    ObjectNode main = (ObjectNode) get("/api/layers?production=1").get(0);
    ((ObjectNode) main.at("/document/layer"))
        .putArray("objects")
        .addObject()
        .put("role", "holdout")
        .putArray("match")
        .add("sail");
    taken(send("PUT", "/api/layers/" + main.get("id"), main.toString()));
    String before = layer();
    String renamed = gltf("eye-sails").replace("sail\",\"mesh\"", "canvas-sail\",\"mesh\"");
    JsonNode next =
        held("sails", renamed.replace("\"eye-sails\",\"camera\"", "\"eye-two\",\"camera\""));
    assertEquals(2, next.get("number").asInt());
    long id = next.get("id").asLong();
    assertEquals(1, get("/api/revisions/waiting?production=1").size());
    assertEquals(shot.get("revisionId"), shotNow(shot).get("revisionId"));

    JsonNode d = get("/api/revisions/" + id + "/difference?from=" + shot.get("revisionId"));
    assertEquals(
        List.of("eye-sails to eye-two", "sail to canvas-sail"),
        d.get("renamed")
            .valueStream()
            .map(r -> r.get("from").asString() + " to " + r.get("to").asString())
            .sorted()
            .toList());
    String none = "{\"renamed\":[]}";
    String names =
        "{\"renamed\":[{\"from\":\"eye-sails\",\"to\":\"eye-two\"},"
            + "{\"from\":\"sail\",\"to\":\"canvas-sail\"}]}";
    JsonNode unfit = send("POST", "/api/revisions/" + id + "/unfit", none).json();
    assertTrue(unfit.get(0).asString().contains("\"eye-sails\" is gone"), unfit.toString());
    assertEquals(0, send("POST", "/api/revisions/" + id + "/unfit", names).json().size());

    JsonNode done = taken(send("POST", "/api/revisions/" + id + "/take", names));
    assertEquals(0, done.get("unfit").size());
    assertEquals("eye-two", shotNow(shot).get("camera").asString());
    assertEquals(id, shotNow(shot).get("revisionId").asLong());
    assertTrue(layer().contains("canvas-sail"), layer());
    refused(409, "waits no more", send("DELETE", "/api/revisions/" + id, ""));

    undo();
    assertEquals("eye-sails", shotNow(shot).get("camera").asString());
    assertEquals(before, layer());

    // There and back again.
    assertEquals(200, send("POST", "/api/productions/1/redo", "").status());
    String back = "{\"renamed\":[{\"from\":\"eye-two\",\"to\":\"eye-sails\"}]}";
    taken(send("POST", "/api/revisions/" + shot.get("revisionId") + "/use", back));
    assertEquals(shot.get("revisionId"), shotNow(shot).get("revisionId"));
    undo();
    assertEquals(id, shotNow(shot).get("revisionId").asLong());
  }

  @Test
  void whatIsThrownAwayIsGone() throws Exception {
    shot("thrown", "eye-thrown");
    JsonNode next = held("thrown", gltf("eye-thrown").replace("canvas", "linen"));
    assertEquals(200, send("DELETE", "/api/revisions/" + next.get("id"), "").status());
    assertFalse(home.resolve("scenes").resolve(next.get("sha256").asString()).toFile().exists());
    JsonNode again = held("thrown", gltf("eye-thrown").replace("canvas", "linen"));
    assertEquals(2, again.get("number").asInt());
    assertEquals(200, send("DELETE", "/api/revisions/" + again.get("id"), "").status());
  }

  private static JsonNode revision(long id) throws Exception {
    for (JsonNode r : get("/api/revisions?production=1")) {
      if (r.get("id").asLong() == id) {
        return r;
      }
    }
    throw new AssertionError("no revision " + id);
  }

  @Test
  void aSceneIsReadOtherwiseAndTheNextRevisionLikewise() throws Exception {
    ObjectNode shot = shot("inches", "eye-inches");
    long id = shot.get("revisionId").asLong();
    JsonNode filed = revision(id);
    String at = "/api/revisions/" + id;
    String inches = "{\"scale\":0.0254,\"up\":\"z\",\"without\":[],\"files\":{}}";
    JsonNode read = taken(send("PUT", at + "/reading", inches));
    assertEquals(0.0254, read.at("/report/sizeMetres").asDouble(), 1e-6);
    assertNotEquals(filed.get("sha256"), read.get("sha256"));
    assertEquals(read, revision(id));
    undo();
    assertEquals(filed, revision(id));
    assertEquals(200, send("POST", "/api/productions/1/redo", "").status());
    assertEquals(read, revision(id));
    JsonNode next = held("inches", gltf("eye-inches").replace("canvas", "linen"));
    assertEquals(0.0254, next.at("/report/sizeMetres").asDouble(), 1e-6);
    refused(400, "(got 0.0)", send("PUT", at + "/reading", inches.replace("0.0254", "0.0")));
    refused(422, "cannot be used", upload(at + "/pictures", "wood.png", "no picture".getBytes()));
  }

  @Test
  void aMissingTextureIsPicked() throws Exception {
    String without =
        gltf("eye-bark")
            .replace(
                "\"buffers\":",
                "\"images\":[{\"uri\":\"bark.png\"}],\"textures\":[{\"source\":0}],\"buffers\":");
    JsonNode made = taken(upload("bark.gltf", without)).get("revision");
    assertEquals("bark.png", made.at("/report/missing/0").asString());
    java.io.ByteArrayOutputStream png = new java.io.ByteArrayOutputStream();
    javax.imageio.ImageIO.write(
        new java.awt.image.BufferedImage(2, 2, java.awt.image.BufferedImage.TYPE_INT_RGB),
        "png",
        png);
    String at = "/api/revisions/" + made.get("id") + "/pictures?instead=bark.png";
    JsonNode added = taken(upload(at, "Bark new.png", png.toByteArray()));
    assertEquals(0, added.at("/revision/report/missing").size());
    assertEquals(1, added.at("/revision/report/textures").asInt());
    undo();
    assertEquals(made, revision(made.get("id").asLong()));
  }

  /** A sky's picture lies in a revision's folder; who goes to another revision keeps the sky. */
  @Test
  void theSkysPictureGoesAlong() throws Exception {
    ObjectNode shot = shot("dome", "eye-dome");
    String first = "/api/revisions/" + shot.get("revisionId");
    JsonNode next = held("dome", gltf("eye-dome").replace("canvas", "linen"));
    String at = "/api/revisions/" + next.get("id");
    taken(send("POST", at + "/take", "{\"renamed\":[]}"));
    // Sixteen pixels, each part of which is one run.
    byte[] hdr =
        "#?RADIANCE\nFORMAT=32-bit_rle_rgbe\n\n-Y 1 +X 16\n\2\2\0\20\220a\220b\220c\220\201"
            .getBytes(java.nio.charset.StandardCharsets.ISO_8859_1);
    String file = taken(upload(at + "/pictures", "sky.hdr", hdr)).get("file").asString();
    String sky = "{\"sky\":{\"picture\":{\"file\":\"" + file + "\"}}}";
    taken(send("POST", "/api/rigs?production=1", "{\"scene\":\"dome\",\"rig\":" + sky + "}"));
    String picture = "/picture?camera=eye-dome&frame=1&width=16";
    taken(send("POST", first + "/use", "{\"renamed\":[]}"));
    for (String of : List.of(first, at)) {
      assertTrue(bytes(of + picture).length > 100);
    }
  }

  /** Equal ones, and others of the same name: each is a revision, and has its files. */
  @Test
  void uploadsAtOnceAreAllTaken() throws Exception {
    List<Callable<Answer>> all = new ArrayList<>();
    for (int k = 0; k < 8; k++) {
      String scene = gltf("eye").replace("canvas", "canvas-" + k / 4);
      all.add(() -> upload("crowd.gltf", scene));
    }
    Set<Integer> numbers = new HashSet<>();
    ExecutorService crowd = Executors.newFixedThreadPool(all.size());
    for (Future<Answer> f : crowd.invokeAll(all)) {
      JsonNode r = taken(f.get()).get("revision");
      numbers.add(r.get("number").asInt());
      bytes("/api/revisions/" + r.get("id") + "/picture?camera=eye&frame=1&width=32");
    }
    crowd.shutdown();
    assertEquals(Set.of(1, 2, 3, 4, 5, 6, 7, 8), numbers);
    assertEquals(List.of(), marks());
  }

  private static List<Path> marks() throws Exception {
    try (Stream<Path> there = Files.list(home.resolve("scenes"))) {
      return there.filter(p -> p.toString().endsWith(".new")).toList();
    }
  }
}
