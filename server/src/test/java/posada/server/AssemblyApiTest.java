package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.HashSet;
import java.util.Set;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import javax.imageio.ImageIO;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.parallel.Stop;
import posada.formats.exr.ExrReader;
import posada.formats.handover.HandoverCheck;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Putting together, films and handing over. */
class AssemblyApiTest extends ServerCase {
  @TempDir Path folder;

  private static JsonNode rendered(String name) throws Exception {
    ObjectNode shot = shot(name, MOVING);
    shot.put("name", name).put("frames", "1-3").put("width", 64).put("height", 48);
    String noisy = "{\"sampling\":{\"most\":4},\"denoising\":{\"picture\":false}}";
    Answer a = change(recipe(shot.put("scale", 100), noisy));
    assertEquals(200, a.status(), String.valueOf(a.json()));
    return after(path(render((ObjectNode) a.json())), "RUNNING");
  }

  private static String footage(JsonNode run) {
    return "shot-%d.layer-%d".formatted(run.get("shotId").asLong(), run.get("layerId").asLong());
  }

  private static Answer json(String method, String path, String body) throws Exception {
    return send(method, path, body.replace('\'', '"'));
  }

  private static String stack(String footage, double strength) {
    return ("{'width':64,'height':48,'rate':24,'frames':'1-3','inputs':["
            + "{'id':'2','name':'again','operator':'add','strength':"
            + strength
            + ",'source':{'footage':'"
            + footage
            + "'}},{'id':'1','name':'main','source':{'footage':'"
            + footage
            + "'}}]}")
        .replace('\'', '"');
  }

  @Test
  void aStackIsSeenMeasuredAndSaid() throws Exception {
    JsonNode run = rendered("stacked");
    String footage = footage(run);
    JsonNode offered = null;
    for (JsonNode o : get("/api/assemblies/sources?production=1")) {
      offered = o.get("footage").asString().equals(footage) ? o : offered;
    }
    assertEquals("stacked", offered.get("shot").asString());
    assertEquals(64, offered.get("width").asInt());
    String ask =
        "{\"stack\":%s,\"frame\":1,\"most\":%d,\"show\":\"RESULT\",\"input\":null,\"view\":\"STANDARD\",\"stops\":0}";
    byte[] jpeg = post("/api/assemblies/picture", ask.formatted(stack(footage, 1), 64));
    assertEquals(64, ImageIO.read(new ByteArrayInputStream(jpeg)).getWidth());
    byte[] half = post("/api/assemblies/picture", ask.formatted(stack(footage, 1), 32));
    assertEquals(32, ImageIO.read(new ByteArrayInputStream(half)).getWidth());

    String pixel = "{\"stack\":%s,\"frame\":1,\"x\":32,\"y\":24}".formatted(stack(footage, 1));
    JsonNode steps = send("POST", "/api/assemblies/steps", pixel).json();
    Path exr = Path.of(run.get("folder").asString()).resolve("all/stacked_main_all.0001.exr");
    float red = ExrReader.read(exr, Set.of("R")).find("R")[24 * 64 + 32];
    assertEquals(red, steps.get(0).get("after").get(0).asDouble(), 1e-4);
    assertEquals(2 * red, steps.get(1).get("after").get(0).asDouble(), 1e-4);

    String gone = "{\"stack\":%s,\"frame\":1}".formatted(stack("shot-999.layer-1", 1));
    JsonNode words = send("POST", "/api/assemblies/words", gone).json();
    assertTrue(words.get(0).get("text").asString().contains("Choose another source"), words + "");
    refused(
        400,
        "strength of again must be 0 .. 16",
        send("POST", "/api/assemblies/words", gone.replace(":1.0,", ":17,")));
  }

  private static byte[] post(String path, String body) throws Exception {
    HttpRequest r =
        HttpRequest.newBuilder(URI.create(base + path))
            .header("Content-Type", "application/json")
            .POST(BodyPublishers.ofString(body))
            .build();
    HttpResponse<byte[]> a = CLIENT.send(r, BodyHandlers.ofByteArray());
    assertEquals(200, a.statusCode(), path);
    assertTrue(a.headers().firstValue("Server-Timing").orElse("").startsWith("stack;dur="));
    return a.body();
  }

  @Test
  void aStackIsKeptAndChangesAreUndone() throws Exception {
    String document = stack("strand-1", 0.5);
    String body = "{\"productionId\":1,\"name\":\"kept\",\"document\":" + document + "}";
    JsonNode made = send("POST", "/api/stacks", body).json();
    ObjectNode changed = (ObjectNode) made.deepCopy();
    ((ObjectNode) changed.get("document").get("inputs").get(0)).put("strength", 0.25);
    Answer a = send("PUT", "/api/stacks/" + made.get("id"), changed.toString());
    assertEquals(200, a.status());
    assertEquals(409, send("PUT", "/api/stacks/" + made.get("id"), changed.toString()).status());
    send("POST", "/api/productions/1/undo", "");
    for (JsonNode s : get("/api/stacks?production=1")) {
      if (s.get("id").equals(made.get("id"))) {
        assertEquals(0.5, s.get("document").get("inputs").get(0).get("strength").asDouble());
      }
    }
    assertEquals(200, send("DELETE", "/api/stacks/" + made.get("id"), "").status());
  }

  private static JsonNode film(long id, String until) throws Exception {
    for (int i = 0; i < 600; i++) {
      for (JsonNode f : get("/api/films?production=1")) {
        if (f.get("id").asLong() == id
            && f.get("state").asString().equals(until)
            && f.get("stale").asInt() >= 0) {
          return f;
        }
      }
      Thread.sleep(50);
    }
    throw new AssertionError(get("/api/films?production=1").toString());
  }

  @Test
  void aFilmIsMadeInTheQueueAndBroughtUpToDate() throws Exception {
    JsonNode run = rendered("filmed");
    String make =
        ("{'productionId':1,'name':'filmed','width':0,'height':0,'segments':[{'title':'filmed',"
                + "'stackId':null,'footage':'"
                + footage(run)
                + "','frames':null}],'output':{}}")
            .replace('\'', '"');
    Answer started = send("POST", "/api/films", make);
    assertEquals(200, started.status(), String.valueOf(started.json()));
    long id = started.json().get("id").asLong();
    JsonNode f = film(id, "FINISHED");
    assertEquals(3, f.get("frames").asInt());
    assertTrue(f.get("bytes").asLong() > 0);
    Path mp4 = Path.of(f.get("file").asString());
    assertTrue(Files.size(mp4) > 0);
    assertEquals(Files.size(mp4), bytes("/api/films/" + id + "/file").length);
    Path second = mp4.getParent().resolve("frames/filmed_v001.0002.exr");
    long before = Files.getLastModifiedTime(second).toMillis();

    // Another picture of one frame: that one is stale, and is made again.
    Path exr = Path.of(run.get("folder").asString()).resolve("all/filmed_main_all.0001.exr");
    Files.write(exr, Files.readAllBytes(exr.resolveSibling("filmed_main_all.0003.exr")));
    assertEquals(200, send("POST", "/api/films/" + id + "/update", "").status());
    film(id, "FINISHED");
    assertEquals(before, Files.getLastModifiedTime(second).toMillis());
    float[] first =
        ExrReader.read(mp4.getParent().resolve("frames/filmed_v001.0001.exr"), Set.of("R"))
            .find("R");
    float[] third =
        ExrReader.read(mp4.getParent().resolve("frames/filmed_v001.0003.exr"), Set.of("R"))
            .find("R");
    org.junit.jupiter.api.Assertions.assertArrayEquals(third, first);

    refused(400, "has no inputs", send("POST", "/api/films", empty(stackId())));
    String card = "{'id':'1','name':'card','source':{'kind':'solid'}}";
    Answer slow =
        json(
            "POST",
            "/api/stacks",
            "{'productionId':1,'name':'card','document':{'width':64,'height':48,'rate':23.976,"
                + "'frames':'1-2','inputs':[%s]}}".formatted(card));
    String part =
        "{'title':'card','stackId':%d,'footage':null,'frames':null},{'title':'filmed'"
            .formatted(slow.json().get("id").asLong());
    refused(
        400,
        "\"filmed\" has 24 frames a second and \"card\" 23.976",
        json("POST", "/api/films", make.replace("{\"title\":\"filmed\"", part)));
    refused(404, "no film 99999", send("POST", "/api/films/99999/cancel", ""));
    assertEquals(200, send("DELETE", "/api/films/" + id + "?files=true", "").status());
    assertFalse(Files.exists(mp4));
  }

  private static long stackId() throws Exception {
    String document = "{\"width\":64,\"height\":48,\"rate\":24,\"frames\":\"1-3\",\"inputs\":[]}";
    return send(
            "POST",
            "/api/stacks",
            "{\"productionId\":1,\"name\":\"empty\",\"document\":" + document + "}")
        .json()
        .get("id")
        .asLong();
  }

  private static String empty(long stack) {
    return ("{'productionId':1,'name':'none','width':0,'height':0,'segments':[{'title':'none',"
            + "'stackId':"
            + stack
            + ",'footage':null,'frames':null}],'output':{}}")
        .replace('\'', '"');
  }

  @Test
  void handedOverAsFolderAndZip() throws Exception {
    JsonNode run = rendered("handed");
    String key = "strand-" + run.get("id");
    JsonNode offer = null;
    for (JsonNode o : get("/api/handovers/offers?production=1")) {
      offer = o.get("key").asString().equals(key) ? o : offer;
    }
    assertTrue(offer.get("warnings").toString().contains("nobody has approved it"), offer + "");
    Path into = folder.resolve("handover");
    String body = "{'productionId':1,'keys':['%s'],'path':'%s','copy':true}".formatted(key, into);
    long id = json("POST", "/api/handovers", body).json().get("id").asLong();
    JsonNode done = handed(id);
    assertEquals("FINISHED", done.get("state").asString(), done + "");
    assertEquals(java.util.List.of(), HandoverCheck.of(into, Stop.NEVER).problems());
    JsonNode check = send("POST", "/api/handovers/" + id + "/check", "").json();
    assertEquals(0, check.get("problems").size());
    refused(409, "is not empty", json("POST", "/api/handovers", body));
    refused(
        400,
        "must begin at the root",
        json("POST", "/api/handovers", body.replace(into + "", "x")));

    String zipped = "{'productionId':1,'keys':['%s'],'path':null,'copy':true}".formatted(key);
    long zip = json("POST", "/api/handovers", zipped).json().get("id").asLong();
    assertEquals("FINISHED", handed(zip).get("state").asString());
    byte[] bytes = bytes("/api/handovers/" + zip + "/zip");
    Set<String> names = new HashSet<>();
    try (ZipInputStream in = new ZipInputStream(new ByteArrayInputStream(bytes))) {
      for (ZipEntry e = in.getNextEntry(); e != null; e = in.getNextEntry()) {
        names.add(e.getName());
      }
    }
    assertTrue(
        names.containsAll(Set.of("manifest.json", "cut.otio", "READ-ME.txt")), names.toString());
    assertNotEquals(0, names.stream().filter(n -> n.endsWith("0002.exr")).count());
  }

  private static JsonNode handed(long id) throws Exception {
    for (int i = 0; i < 400; i++) {
      for (JsonNode h : get("/api/handovers?production=1")) {
        if (h.get("id").asLong() == id && !h.get("state").asString().equals("RUNNING")) {
          return h;
        }
      }
      Thread.sleep(50);
    }
    throw new AssertionError("not handed over");
  }

  @ParameterizedTest
  @ValueSource(
      strings = {
        "{'frame':1}",
        "{'stack':{'inputs':[null]},'frame':1}",
        "{'stack':{'frames':null,'inputs':[]},'frame':1}",
        "{'stack':{'inputs':[{'id':'1','name':'a'}]},'frame':1}",
        "{'stack':{'inputs':[{'id':'1','name':'a','source':{'kind':'solid'},"
            + "'mask':{'kind':'polygon','points':[null,[1,null],[2,3]]}}]},'frame':1}",
        "{'stack':{'inputs':[{'id':'1','name':'a','source':{'kind':'solid'},"
            + "'corrections':{'glow':{'rings':[null]}}}]},'frame':1}"
      })
  void whatIsNotThereIsRefusedInWords(String body) throws Exception {
    String sized =
        body.replace("'stack':{", "'stack':{'width':64,'height':48,'rate':24,")
            .replace("'rate':24,'inputs'", "'rate':24,'frames':'1-3','inputs'");
    Answer a = json("POST", "/api/assemblies/words", sized);
    assertEquals(400, a.status(), String.valueOf(a.json()));
    assertFalse(a.detail().contains("java") || a.detail().contains("Cannot"), a.detail());
    refused(
        400,
        "segments[0] must be an object",
        json(
            "POST",
            "/api/films",
            "{'productionId':1,'name':'x','width':0,'height':0,'segments':[null],'output':{}}"));
    refused(
        400,
        "keys[0] must be a text",
        json("POST", "/api/handovers", "{'productionId':1,'keys':[null],'path':null,'copy':true}"));
  }
}
