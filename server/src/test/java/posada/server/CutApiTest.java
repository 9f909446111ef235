package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayInputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.zip.ZipEntry;
import java.util.zip.ZipInputStream;
import javax.imageio.ImageIO;
import org.apache.pdfbox.Loader;
import org.apache.pdfbox.pdmodel.PDDocument;
import org.apache.pdfbox.text.PDFTextStripper;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/** Shots one after the other: made of bound cameras, copied, named, and drawn. */
class CutApiTest extends ServerCase {
  private long revision;

  @BeforeEach
  void aSceneOfItsOwn() throws Exception {
    window = "w" + System.nanoTime();
    Answer taken = upload("cut" + System.nanoTime() + ".gltf", gltf(MOVING));
    assertEquals(200, taken.status(), String.valueOf(taken.json()));
    revision = taken.json().at("/revision/id").asLong();
  }

  @AfterEach
  void leaveNothing() throws Exception {
    for (JsonNode s : get("/api/shots?production=1")) {
      send("DELETE", "/api/shots/" + s.get("id"), "");
    }
  }

  private List<ObjectNode> cut(String bound, int last, int handles) throws Exception {
    Answer a =
        send(
            "POST",
            "/api/shots/cut",
            "{\"revisionId\":%d,\"last\":%d,\"handles\":%d,\"bound\":[%s]}"
                .formatted(revision, last, handles, bound));
    assertEquals(200, a.status(), String.valueOf(a.json()));
    List<ObjectNode> all = new ArrayList<>();
    a.json().forEach(s -> all.add((ObjectNode) s));
    return all;
  }

  private static String from(int frame) {
    return "{\"frame\":" + frame + ",\"camera\":\"" + MOVING + "\"}";
  }

  private static JsonNode drawn(String form, int picks) throws Exception {
    String wish =
        """
        {"shots":[],"form":"%s","frames":null,"picks":%d,"recipe":{"scale":5}}
        """
            .formatted(form, picks);
    Answer a = send("POST", "/api/productions/1/cut", wish);
    assertEquals(200, a.status(), String.valueOf(a.json()));
    JsonNode job = after("/api/productions/1/cut", "DRAWING");
    assertEquals("READY", job.get("state").asString(), job.toString());
    return job;
  }

  private static byte[] file(JsonNode job) throws Exception {
    return bytes("/api/productions/1/cut/" + job.get("id").asLong());
  }

  @Test
  void aCutOfBoundCamerasIsOneFilm() throws Exception {
    List<ObjectNode> shots = cut(from(1) + "," + from(13), 24, 4);
    // Before the first frame there is one more.
    assertEquals("0-16", shots.get(0).get("frames").asString());
    assertEquals("9-28", shots.get(1).get("frames").asString());
    // A shot of another shape stands in the middle.
    change(shots.get(1).put("width", 640).put("height", 640));
    Path film = home.resolve("cut.mp4");
    JsonNode job = drawn("FILM", 0);
    assertEquals(24, job.get("total").asInt());
    Files.write(film, file(job));
    Process p =
        new ProcessBuilder(
                "ffprobe",
                "-v",
                "error",
                "-count_frames",
                "-show_entries",
                "stream=width,height,r_frame_rate,nb_read_frames",
                "-of",
                "csv=p=0",
                film.toString())
            .start();
    assertEquals("96,54,24/1,24", new String(p.getInputStream().readAllBytes()).strip());
  }

  @Test
  void shotsAreDrawnAsFilesAndAsContactSheets() throws Exception {
    cut(from(1) + "," + from(13), 24, 0);
    List<String> names = new ArrayList<>();
    try (ZipInputStream zip =
        new ZipInputStream(new ByteArrayInputStream(file(drawn("FRAMES", 0))))) {
      for (ZipEntry e = zip.getNextEntry(); e != null; e = zip.getNextEntry()) {
        names.add(e.getName());
      }
    }
    assertEquals(24, names.size());
    assertEquals("01-moving/01-moving.0001.png", names.get(0));
    var sheet = ImageIO.read(new ByteArrayInputStream(file(drawn("SHEET", 3))));
    // Three in a row of 480 x 270, two rows.
    assertEquals(3 * 488 + 8, sheet.getWidth());
    assertEquals(2 * 278 + 8, sheet.getHeight());
    try (PDDocument pdf = Loader.loadPDF(file(drawn("PAGES", 0)))) {
      // Six in a row of 480 x 270: at least four rows on a page lying.
      assertEquals(1, pdf.getNumberOfPages());
      assertTrue(new PDFTextStripper().getText(pdf).contains("1 of 1"));
    }
    String none =
        "{\"shots\":[],\"form\":\"FILM\",\"frames\":\"500-600\",\"picks\":0,\"recipe\":{}}";
    refused(400, "500-600", send("POST", "/api/productions/1/cut", none));
  }

  @Test
  void shotsAreCopiedAndNamedInOneStep() throws Exception {
    List<ObjectNode> shots = cut(from(1) + "," + from(13), 24, 0);
    long first = shots.get(0).get("id").asLong(), second = shots.get(1).get("id").asLong();
    JsonNode copy = send("POST", "/api/shots/" + first + "/copy", "").json();
    assertEquals("moving-3", copy.get("name").asString());
    assertEquals("1-12", copy.get("frames").asString());
    String names =
        "{\"productionId\":1,\"ids\":[%d,%d],\"pattern\":\"moving-{number}\",\"first\":%d,\"step\":1,\"take\":true}";
    refused(
        409,
        "\"moving-3\" would share",
        send("POST", "/api/shots/names", names.formatted(first, second, 2)));
    // The first takes the name that the second has now.
    send("DELETE", "/api/shots/" + copy.get("id"), "");
    Answer a = send("POST", "/api/shots/names", names.formatted(first, second, 2));
    assertEquals("[\"moving-2\",\"moving-3\"]", String.valueOf(a.json()));
    assertEquals(200, send("POST", "/api/productions/1/undo", "").status());
    List<String> now = new ArrayList<>();
    get("/api/shots?production=1").forEach(s -> now.add(s.get("name").asString()));
    assertEquals(List.of("moving", "moving-2"), now);
  }

  @Test
  void timecodesAreFrames() throws Exception {
    JsonNode f = get("/api/frames?rate=24&text=00:00:01:00-00:00:04:00");
    assertEquals("24-96", f.get("shortest").asString());
  }
}
