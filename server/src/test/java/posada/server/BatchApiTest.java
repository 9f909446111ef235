package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.List;
import java.util.function.Predicate;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** What is done around a batch: proofs, a choice of frames, checks, what-if and finishing. */
class BatchApiTest extends ServerCase {
  private static ObjectNode small(String scene, int samples) throws Exception {
    ObjectNode shot = shot(scene, MOVING);
    shot.put("name", scene).put("frames", "1-9").put("width", 64).put("height", 64);
    Answer a = change(samples(shot.put("scale", 100), samples));
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return (ObjectNode) a.json();
  }

  private static long layer() throws Exception {
    return get("/api/layers?production=1").get(0).get("id").asLong();
  }

  private static String wanted(JsonNode shot, String frames) throws Exception {
    return "{\"productionId\":1,\"strands\":[{\"shotId\":%d,\"layerId\":%d,\"frames\":%s}]}"
        .formatted(shot.get("id").asLong(), layer(), frames);
  }

  /** The one of a list that is about a shot. */
  private static JsonNode of(JsonNode list, JsonNode shot) {
    return first(list, e -> e.get("shotId").equals(shot.get("id")));
  }

  private static JsonNode first(JsonNode list, Predicate<JsonNode> which) {
    return StreamSupport.stream(list.spliterator(), false).filter(which).findFirst().orElseThrow();
  }

  private static JsonNode proof(JsonNode shot) throws Exception {
    return of(get("/api/proofs?production=1"), shot);
  }

  private static List<Integer> frames(JsonNode proof) {
    return StreamSupport.stream(proof.get("frames").spliterator(), false)
        .map(f -> f.get("frame").asInt())
        .toList();
  }

  private static Answer judge(JsonNode shot, String frame, String verdict, String note)
      throws Exception {
    return send(
        "POST",
        "/api/proofs/verdicts",
        "{\"shotId\":%d,\"layerId\":%d,\"frame\":%s,\"verdict\":%s,\"note\":%s}"
            .formatted(shot.get("id").asLong(), layer(), frame, verdict, note));
  }

  private static boolean found(String rule) throws Exception {
    JsonNode all = get("/api/runs/checks?production=1").get("findings");
    return StreamSupport.stream(all.spliterator(), false)
        .anyMatch(f -> f.get("rule").asString().equals(rule));
  }

  @Test
  void aProofIsRenderedJudgedAndCounted() throws Exception {
    ObjectNode shot = small("proofed", 2);
    assertEquals("NONE", proof(shot).get("outcome").asString());
    assertTrue(found("NO_PROOF"));
    Answer started = send("POST", "/api/proofs", wanted(shot, "null"));
    JsonNode run = after(path(started), "RUNNING");
    assertEquals("DONE", run.get("state").asString(), run.toString());
    assertEquals("PROOF", run.get("kind").asString());
    JsonNode proof = proof(shot);
    assertEquals("TO_JUDGE", proof.get("outcome").asString(), proof.toString());
    assertTrue(frames(proof).containsAll(List.of(1, 5, 9)), proof.toString());
    assertEquals(frames(proof).size(), run.get("fresh").asInt());

    assertEquals(200, judge(shot, "null", "\"APPROVED\"", "null").status());
    assertEquals("APPROVED", proof(shot).get("outcome").asString());
    assertEquals(200, judge(shot, "5", "\"REJECTED\"", "\"too dark\"").status());
    proof = proof(shot);
    assertEquals("REJECTED", proof.get("outcome").asString());
    assertEquals(
        "too dark",
        first(proof.get("frames"), f -> f.get("frame").asInt() == 5).get("note").asString());
    assertTrue(found("PROOF_REJECTED"));
    refused(404, "no such frame", judge(shot, "3", "\"APPROVED\"", "null"));

    // The batch renders what the proof has not, in the same version.
    JsonNode whole = after(path(render(shot)), "RUNNING");
    assertEquals(run.get("number"), whole.get("number"));
    assertEquals(run.get("fresh"), whole.get("saved"));
    assertEquals(9, whole.get("fresh").asInt());

    // What was judged is another picture then.
    recipe(shot, "{\"sampling\": {\"most\": 3}}");
    assertEquals(200, change(shot).status());
    assertEquals("STALE", proof(shot).get("outcome").asString());
    refused(409, "is not fresh", judge(shot, "5", "\"APPROVED\"", "null"));
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
  }

  @Test
  void aChoiceOfFramesIsRendered() throws Exception {
    ObjectNode shot = small("chosen", 2);
    refused(400, "none of shot", send("POST", "/api/runs", wanted(shot, "\"8-12\"")));
    JsonNode run = after(path(send("POST", "/api/runs", wanted(shot, "\"2,4-5\""))), "RUNNING");
    assertEquals(3, run.get("fresh").asInt(), run.toString());
    assertEquals("2,4-5", run.get("frames").asString());
    JsonNode ledger = of(get("/api/ledger?production=1"), shot);
    assertEquals("MFMFFMMMM", ledger.get("states").asString());
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
  }

  @Test
  void filmSheetAndManifestAreMadeOfTheFrames() throws Exception {
    ObjectNode shot = small("finished", 2);
    ObjectNode d = (ObjectNode) get("/api/deliveries?production=1").get(0);
    String made = "{\"productionId\":1,\"name\":\"all\",\"copyOf\":" + d.get("id") + "}";
    ObjectNode own = (ObjectNode) send("POST", "/api/deliveries", made).json();
    ((ObjectNode) own.get("document"))
        .set("extras", JSON.readTree("[\"film\",\"contact-sheet\",\"manifest\"]"));
    String at = "/api/deliveries/" + own.get("id").asLong();
    assertEquals(200, send("PUT", at, own.toString()).status());
    assertEquals(200, change(shot.put("deliveryId", own.get("id").asLong())).status());

    String asked =
        "{\"shotId\":%d,\"layerId\":%d,\"delivery\":%s}"
            .formatted(shot.get("id").asLong(), layer(), own.get("document"));
    JsonNode paths = send("POST", "/api/strands/paths", asked).json();
    assertEquals("all/finished_main_all.0001.exr", paths.at("/first/0").asString());
    assertEquals("finished_main_v001.mp4", paths.at("/last/1").asString());
    JsonNode bad = send("POST", "/api/strands/paths", asked.replace("{frame:4}", "same")).json();
    assertTrue(bad.get("refusal").asString().contains("{frame:4}"), bad.toString());

    JsonNode run = after(path(render(shot)), "RUNNING");
    assertEquals("DONE", run.get("state").asString(), run.toString());
    Path folder = Path.of(run.get("folder").asString());
    Process probe =
        new ProcessBuilder(
                "ffprobe",
                "-v",
                "error",
                "-count_frames",
                "-show_entries",
                "stream=codec_name,nb_read_frames,r_frame_rate,width",
                "-of",
                "csv=p=0",
                folder.resolve("finished_main_v001.mp4").toString())
            .start();
    String said = new String(probe.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertEquals("h264,64,24/1,9", said.strip());
    assertTrue(Files.size(folder.resolve("finished_main_v001_sheet.png")) > 500);
    JsonNode manifest = JSON.readTree(Files.readString(folder.resolve("finished_main_v001.json")));
    assertEquals(9, manifest.get("files").size());
    Process sum =
        new ProcessBuilder(
                "sha256sum", folder.resolve(manifest.at("/files/4/path").asString()).toString())
            .start();
    String hash = new String(sum.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
    assertTrue(hash.startsWith(manifest.at("/files/4/sha256").asString()), hash);

    // Nothing is made again while nothing changes; what is gone is.
    JsonNode again = after(path(render(shot)), "RUNNING");
    assertEquals(0, again.get("finishes").size(), again.toString());
    Files.delete(folder.resolve("finished_main_v001.mp4"));
    again = after(path(render(shot)), "RUNNING");
    assertEquals(1, again.get("finishes").size(), again.toString());
    assertTrue(Files.exists(folder.resolve("finished_main_v001.mp4")));
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
  }

  private static JsonNode whatIf(String change) throws Exception {
    long end = System.nanoTime() + 60_000_000_000L;
    while (true) {
      JsonNode l =
          first(
              get("/api/whatif?production=1"),
              e ->
                  change == null
                      ? e.get("change").isNull()
                      : e.get("change").asString().equals(change));
      if (l.get("pending").asInt() == 0) {
        return l;
      }
      assertTrue(System.nanoTime() < end, l.toString());
      Thread.sleep(50);
    }
  }

  @Test
  void whatWouldBeCheaperIsToldTakenAndUndone() throws Exception {
    // So many that what a frame takes besides is little.
    ObjectNode shot = small("cheaper", 1024);
    JsonNode today = whatIf(null);
    JsonNode half = whatIf("EVERY_SECOND_FRAME");
    double share = half.at("/seconds/value").asDouble() / today.at("/seconds/value").asDouble();
    assertEquals(5 / 9.0, share, 0.1, half.toString());
    JsonNode few = whatIf("FEWER_SAMPLES");
    assertTrue(few.get("noise").asDouble() > 1.5 * today.get("noise").asDouble(), few.toString());
    assertTrue(
        few.at("/seconds/value").asDouble() < today.at("/seconds/value").asDouble(),
        few.toString());
    assertFalse(whatIf("BAKED_LIGHT").get("refusal").isNull(), "the sail moves");

    String path = "/api/shots/" + shot.get("id").asLong();
    assertEquals(204, take("EVERY_SECOND_FRAME").status());
    assertEquals(
        "1-9x2",
        first(get("/api/shots?production=1"), s -> same(s, shot)).get("frames").asString());
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
    assertEquals(
        "1-9", first(get("/api/shots?production=1"), s -> same(s, shot)).get("frames").asString());

    double seconds = today.at("/seconds/value").asDouble() / 2;
    JsonNode fit = get("/api/fit?production=1&seconds=" + seconds);
    JsonNode row = of(fit.get("strands"), shot);
    assertEquals(1024, row.get("samplesNow").asInt());
    assertTrue(row.get("samplesThen").asInt() < 1024, fit.toString());
    assertTrue(row.get("secondsThen").asDouble() <= seconds * 1.001, fit.toString());
    String asked = "{\"productionId\":1,\"seconds\":" + seconds + "}";
    assertEquals(204, send("POST", "/api/fit", asked).status());
    JsonNode strand = of(get("/api/strands?production=1"), shot);
    JsonNode own =
        first(get("/api/recipes?production=1"), r -> r.get("id").equals(strand.get("recipeId")));
    assertEquals(row.get("samplesThen"), own.at("/document/sampling/most"));
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
    assertTrue(of(get("/api/strands?production=1"), shot).get("recipeId").isNull());
    refused(
        409,
        "Even with the fewest samples",
        send("POST", "/api/fit", asked.replaceFirst("seconds\":.*}", "seconds\":1e-9}")));
    assertEquals(200, send("DELETE", path, "").status());
  }

  private static boolean same(JsonNode a, JsonNode b) {
    return a.get("id").equals(b.get("id"));
  }

  private static Answer take(String change) throws Exception {
    return send("POST", "/api/whatif", "{\"productionId\":1,\"change\":\"" + change + "\"}");
  }

  @Test
  void warningsThatWereReadAreKeptWithTheRun() throws Exception {
    ObjectNode shot = small("warned", 2);
    ObjectNode production = (ObjectNode) get("/api/productions").get(0);
    production.put("deadline", Instant.now().minusSeconds(60).toString());
    assertEquals(200, send("PUT", "/api/productions/1", production.toString()).status());
    whatIf(null);
    JsonNode all = get("/api/runs/checks?production=1").get("findings");
    JsonNode late = first(all, f -> f.get("rule").asString().equals("DEADLINE"));
    ObjectNode asked = (ObjectNode) JSON.readTree(wanted(shot, "null"));
    asked.set("warnings", JSON.createArrayNode().add(late));
    ((ObjectNode) late).put("text", "something else");
    JsonNode noProof = first(all, f -> f.get("rule").asString().equals("NO_PROOF"));
    ((tools.jackson.databind.node.ArrayNode) asked.get("warnings")).add(noProof);
    Answer started = send("POST", "/api/runs", asked.toString());
    JsonNode run = after(path(started), "RUNNING");
    JsonNode kept = get("/api/runs/" + run.get("runId").asLong() + "/report").get("warnings");
    // Only what is still found is accepted.
    assertEquals(1, kept.size(), kept.toString());
    assertEquals("NO_PROOF", kept.get(0).get("rule").asString());
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
  }

  @Test
  void aFrameThatComesOutOtherwiseIsSuspect() throws Exception {
    ObjectNode shot = small("compared", 2);
    assertEquals(200, change(shot.put("frames", "1-4")).status());
    JsonNode run = after(path(render(shot)), "RUNNING");
    Path all = Path.of(run.get("folder").asString()).resolve("all");
    Files.copy(
        all.resolve("compared_main_all.0001.exr"),
        all.resolve("compared_main_all.0003.exr"),
        java.nio.file.StandardCopyOption.REPLACE_EXISTING);
    Answer begun = send("POST", "/api/ledger/check", "{\"productionId\":1}");
    assertEquals(4, begun.json().get("total").asInt(), String.valueOf(begun.json()));
    long end = System.nanoTime() + 60_000_000_000L;
    while (!of(get("/api/ledger?production=1"), shot).get("states").asString().equals("FFUF")) {
      assertTrue(System.nanoTime() < end, get("/api/ledger?production=1").toString());
      Thread.sleep(50);
    }
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
  }

  @Test
  void layersAreMadeFromTheSceneOrderedAndTakenBack() throws Exception {
    ObjectNode shot = small("apart", 2);
    String planned = "{\"revisionId\":%d,\"way\":\"%s\"}";
    long revision = shot.get("revisionId").asLong();
    refused(
        400,
        "Every object of this scene moves",
        send("POST", "/api/layers/planned", planned.formatted(revision, "MOVING_AND_STILL")));
    Answer made = send("POST", "/api/layers/planned", planned.formatted(revision, "CLAY"));
    assertEquals("clay", made.json().get(0).get("name").asString());
    long clay = made.json().get(0).get("id").asLong();
    String ids = "[" + clay + "," + layer() + "]";
    assertEquals(200, send("PUT", "/api/layers/order?production=1", ids).status());
    assertEquals("clay", get("/api/layers?production=1").get(0).get("name").asString());
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
    assertEquals("main", get("/api/layers?production=1").get(0).get("name").asString());
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
    assertEquals(1, get("/api/layers?production=1").size());
    send("DELETE", "/api/shots/" + shot.get("id").asLong(), "");
  }
}
