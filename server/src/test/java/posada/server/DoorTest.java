package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.ByteArrayOutputStream;
import java.net.Socket;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.stream.Stream;
import java.util.zip.ZipEntry;
import java.util.zip.ZipOutputStream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** What is refused before any station is asked, and what every answer says to a browser. */
class DoorTest extends ServerCase {
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "/api/shots?production=x | production cannot be \"x\": it must be a whole number. | 400",
        "/api/shots?production=1.5 | it must be a whole number. | 400",
        "/api/shots?production=99999999999999999999 | it must be a whole number. | 400",
        "/api/shots?production=1&more=2 | more is not known here; there are production. | 400",
        "/api/shots | Required parameter 'production' is not present. | 400",
        "/api/runs/strands/x | id cannot be \"x\": it must be a whole number. | 400",
        "/api/revisions/1/space/shapes?detail=ALL | it must be one of FULL, MOVING. | 400",
        "/api/revisions/1/picture?camera=a%00b&frame=1 | NUL | 400",
        "/error | nothing at this address | 404",
        "/api/nothing | There is nothing at /api/nothing. | 404"
      })
  void addressesAreRead(String path, String says, int status) throws Exception {
    Answer a = send("GET", path, "");
    assertEquals(status, a.status(), String.valueOf(a.json()));
    assertTrue(a.detail().contains(says), a.detail());
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "{\"name\":null} | name must be a text (got nothing).",
        "{\"name\":7} | name must be a text (got 7).",
        "{} | name is missing.",
        "{\"name\":\"a\\u0000b\"} | name has a sign in it that is none (NUL).",
        "{\"name\":\"a\",\"more\":1} | more is not known; there are copyOf, name.",
        "[] | The body must be an object (got []).",
        "null | The body must be an object (got nothing).",
        "{\"name\":\"a\",\"name\":\"b\"} | JSON is damaged",
        "{\"name\": | JSON is damaged"
      })
  void bodiesAreRead(String body, String says) throws Exception {
    refused(400, says, send("POST", "/api/productions", body));
  }

  /** A body is read whatever it calls itself. */
  @ParameterizedTest
  @ValueSource(strings = {"application/json", "application/x+json", "application/merge-patch+json"})
  void noOtherNameForJsonPasses(String type) throws Exception {
    HttpResponse<String> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + "/api/productions"))
                .header("Content-Type", type)
                .POST(HttpRequest.BodyPublishers.ofString("{\"name\":\"a\\u0000b\"}"))
                .build(),
            BodyHandlers.ofString());
    assertEquals(400, a.statusCode(), a.body());
    assertTrue(a.body().contains("NUL"), a.body());
  }

  @Test
  void whatIsTooLargeIsNotRead() throws Exception {
    refused(
        400,
        "name may have 20000 letters (got 30000).",
        send("POST", "/api/productions", "{\"name\":\"" + "w".repeat(30_000) + "\"}"));
    String large = "{\"name\":\"" + "w".repeat(17 << 20) + "\"}";
    refused(413, "16 MiB", send("POST", "/api/productions", large));
    refused(400, "nested too deep", send("POST", "/api/productions", "[".repeat(100_000)));
  }

  /** What was seen to be taken once though it is wrong. */
  @ParameterizedTest
  @ValueSource(
      strings = {
        "width:0",
        "width:-1",
        "width:1000000000",
        "height:-7",
        "width:640.7",
        "name:null"
      })
  void productionsKeepToTheirBounds(String change) throws Exception {
    ObjectNode p = (ObjectNode) get("/api/productions").get(0);
    String[] c = change.split(":");
    p.set(c[0], JSON.readTree(c[1]));
    Answer a = send("PUT", "/api/productions/1", p.toString());
    assertEquals(400, a.status(), String.valueOf(a.json()));
    assertTrue(a.detail().contains(c[0]), a.detail());
  }

  /** Likewise of shots, and what once was a fault of the server. */
  @Test
  void shotsKeepToTheirBounds() throws Exception {
    ObjectNode shot = shot("door", "eye");
    for (String change :
        new String[] {
          "frames:\"" + "1,".repeat(1500) + "1\"",
          "frames:7",
          "width:640.7",
          "camera:\"" + "w".repeat(5000) + "\"",
          "name:null",
          "more:1"
        }) {
      int colon = change.indexOf(':');
      String field = change.substring(0, colon);
      ObjectNode wrong = shot.deepCopy();
      wrong.set(field, JSON.readTree(change.substring(colon + 1)));
      Answer a = change(wrong);
      assertEquals(400, a.status(), change + ": " + a.json());
      assertTrue(a.detail().contains(field), a.detail());
    }
    assertEquals(200, change(shot).status());
    String picture = "/api/revisions/%d/picture?camera=eye&frame=%d&width=%d";
    long revision = shot.get("revisionId").asLong();
    refused(400, "frame must be", send("GET", picture.formatted(revision, -1, 64), ""));
    refused(400, "width must be", send("GET", picture.formatted(revision, 1, 0), ""));
  }

  @Test
  void listsOfTheSameAreOneOrRefused() throws Exception {
    ObjectNode delivery = (ObjectNode) get("/api/deliveries?production=1").get(0);
    ArrayNode formats = ((ObjectNode) delivery.get("document")).putArray("formats");
    for (int k = 0; k < 60; k++) {
      formats.add("exr");
    }
    Answer a = send("PUT", "/api/deliveries/" + delivery.get("id"), delivery.toString());
    assertTrue(a.status() == 200 || a.status() == 400, String.valueOf(a.json()));
    ObjectNode layer = (ObjectNode) get("/api/layers?production=1").get(0);
    ArrayNode passes = ((ObjectNode) layer.get("document")).putArray("passes");
    for (int k = 0; k < 500; k++) {
      passes.add("beauty");
    }
    Answer b = send("PUT", "/api/layers/" + layer.get("id"), layer.toString());
    assertTrue(b.status() == 200 || b.status() == 400, String.valueOf(b.json()));
  }

  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "multipart/form-data | --cut",
        "multipart/form-data; boundary=cut | --cut",
        "multipart/form-data; boundary=cut | '--cut\r\nContent-Disposition: form-data; name=\"file\"'",
        "multipart/form-data; boundary=cut | ''",
        "application/json | {}"
      })
  void formsThatAreCutOffAreRefused(String type, String body) throws Exception {
    HttpResponse<String> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + "/api/revisions?production=1"))
                .header("Content-Type", type)
                .POST(HttpRequest.BodyPublishers.ofString(body))
                .build(),
            BodyHandlers.ofString());
    assertTrue(a.statusCode() >= 400 && a.statusCode() < 500, a.statusCode() + " " + a.body());
    String as = a.headers().firstValue("Content-Type").orElse("");
    assertTrue(as.startsWith("application/problem+json"), as);
  }

  @ParameterizedTest
  @ValueSource(strings = {"a,a/b.gltf", ".", "link,link/b.gltf", "../b.gltf", "LONG", ""})
  void oddZipsAreRefusedAndNothingIsLeft(String entries) throws Exception {
    ByteArrayOutputStream zip = new ByteArrayOutputStream();
    try (ZipOutputStream out = new ZipOutputStream(zip)) {
      for (String e : entries.isEmpty() ? new String[0] : entries.split(",")) {
        out.putNextEntry(new ZipEntry(e.equals("LONG") ? "w".repeat(300) + ".gltf" : e));
        out.write(gltf("eye").getBytes(StandardCharsets.UTF_8));
      }
    }
    Answer a = upload("/api/revisions?production=1", "odd.zip", zip.toByteArray());
    assertEquals(422, a.status(), String.valueOf(a.json()));
    assertTrue(a.detail().startsWith("odd.zip: the "), a.detail());
    try (Stream<Path> left = Files.list(home.resolve("incoming"))) {
      assertEquals(0, left.count());
    }
  }

  /** Requests that are no requests get a problem document as well, never a page. */
  @ParameterizedTest
  @CsvSource(
      delimiter = '|',
      value = {
        "GET /a{b HTTP/1.1 | 400",
        "GET /%zz HTTP/1.1 | 400",
        "GET /api/shots?production=%zz HTTP/1.1 | 400",
        "GET /../../etc/passwd HTTP/1.1 | 400",
        "TRACE /api/shots HTTP/1.1 | 405",
        "GET /assets/nothing.js HTTP/1.1 | 404",
        "nonsense | 400"
      })
  void nothingIsAnsweredByAPage(String line, int status) throws Exception {
    try (Socket s = new Socket("127.0.0.1", URI.create(base).getPort())) {
      s.setSoTimeout(10_000);
      String request = line + "\r\nHost: localhost\r\nConnection: close\r\n\r\n";
      s.getOutputStream().write(request.getBytes(StandardCharsets.UTF_8));
      String said = new String(s.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
      assertTrue(said.startsWith("HTTP/1.1 " + status), said);
      assertTrue(said.contains("application/problem+json"), said);
      assertTrue(said.contains("Content-Security-Policy"), said);
    }
  }

  @ParameterizedTest
  @ValueSource(strings = {"/", "/api/productions", "/api/nothing", "/api/shots?production=x"})
  void everyAnswerSaysWhatABrowserMayDo(String path) throws Exception {
    HttpResponse<String> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + path)).build(), BodyHandlers.ofString());
    for (String header :
        new String[] {
          "X-Content-Type-Options",
          "X-Frame-Options",
          "Referrer-Policy",
          "Cross-Origin-Opener-Policy",
          "Cross-Origin-Resource-Policy"
        }) {
      assertTrue(a.headers().firstValue(header).isPresent(), path + " lacks " + header);
    }
    String policy = a.headers().firstValue("Content-Security-Policy").orElse("");
    assertTrue(policy.contains("default-src 'self'") && !policy.contains("script-src"), policy);
  }

  /** However an address is spelt, pages from elsewhere are refused. */
  @ParameterizedTest
  @ValueSource(strings = {"/api/shots?production=1", "/%61pi/shots?production=1", "/./api/health"})
  void pagesFromElsewhereAreRefused(String path) throws Exception {
    HttpResponse<String> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + path))
                .header("Sec-Fetch-Site", "cross-site")
                .build(),
            BodyHandlers.ofString());
    assertEquals(403, a.statusCode(), a.body());
    assertTrue(a.body().contains("Pages from elsewhere"), a.body());
  }

  /** Shots are called anything, and have a page under that name. */
  @ParameterizedTest
  @ValueSource(strings = {"50 %", "a;b", "a/b", "a\\b", "\u7f8a\u306e\u5ce0", "a?b#c", ".x."})
  void everyNameHasAPage(String name) throws Exception {
    String at = URLEncoder.encode(name, StandardCharsets.UTF_8).replace("+", "%20");
    HttpResponse<String> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + "/larkspur-line/shots/" + at)).build(),
            BodyHandlers.ofString());
    assertEquals(200, a.statusCode(), a.body());
    assertTrue(a.body().contains("<div id=\"root\">"), a.body());
  }
}
