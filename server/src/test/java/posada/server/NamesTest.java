package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.net.URI;
import java.net.URLDecoder;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.text.Normalizer;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.stream.Stream;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Names in any script, with any sign and at their longest; those that look alike are kept apart.
 */
class NamesTest extends ServerCase {
  /** Three bytes each, so that a hundred of them are more than a file system takes. */
  private static final String LONG = "\u7f8a".repeat(100);

  private static final List<String> NAMES =
      List.of(
          LONG,
          LONG.substring(1) + "\u306e",
          "shot 1",
          "shot-1",
          "SHOT 1",
          "a/b",
          "a?b",
          "a:b",
          "caf\u00e9",
          "cafe\u0301",
          "\u0421\u043a\u043b\u043e\u043d 50 %;\"x\"",
          "\ud83d\ude82 tunnel",
          ".",
          "..",
          "CON",
          "-rf");

  private static String folded(Path p) {
    return Normalizer.normalize(p.toString(), Normalizer.Form.NFC).toLowerCase(Locale.ROOT);
  }

  @Test
  void shotsOfAnyNameAreRenderedApartAndCanBeHad() throws Exception {
    Set<String> folders = new HashSet<>();
    Set<String> files = new HashSet<>();
    for (String name : NAMES) {
      ObjectNode shot = samples(shot("names", "eye"), 1);
      shot.put("name", name).put("width", 32).put("height", 18).put("frames", "1");
      Answer named = change(shot);
      if (named.status() == 409) {
        // It would share the folder of another one, and is told so.
        assertTrue(named.detail().contains("Shot \""), named.detail());
        continue;
      }
      assertEquals(200, named.status(), name + ": " + named.json());
      JsonNode run = after(path(render(named.json())), "RUNNING");
      assertEquals("DONE", run.get("state").asString(), name + ": " + run);
      Path folder = Path.of(run.get("folder").asString());
      assertTrue(folder.normalize().startsWith(home.resolve("output")), folder.toString());
      assertTrue(folders.add(folded(folder)), name + " shares " + folder);
      try (Stream<Path> all = Files.walk(folder)) {
        for (Path p : all.filter(Files::isRegularFile).toList()) {
          assertTrue(files.add(folded(p.getFileName())), name + " has a file of another: " + p);
        }
      }
      String disposition = header("/api/runs/strands/" + run.get("id") + "/archive");
      assertTrue(disposition.startsWith("attachment"), disposition);
      assertTrue(disposition.contains("filename*=UTF-8''"), disposition);
      String told = disposition.replaceAll(".*filename\\*=UTF-8''([^;]+).*", "$1");
      String decoded = URLDecoder.decode(told, StandardCharsets.UTF_8);
      assertTrue(decoded.endsWith(".zip") && !decoded.contains("/"), decoded);
    }
  }

  private static String header(String path) throws Exception {
    HttpResponse<byte[]> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + path)).build(), BodyHandlers.ofByteArray());
    assertEquals(200, a.statusCode());
    return a.headers().firstValue("Content-Disposition").orElse("");
  }

  @ParameterizedTest
  @ValueSource(strings = {"a/b", "eye 50 %", "\u7f8a\u306e\u5ce0", "a?b#c&d=e", "\\\"quoted\\\""})
  void camerasOfAnyNameHaveAPictureAndAShot(String camera) throws Exception {
    ObjectNode shot = shot("cameras", camera.replace("\\\"", "'"));
    String asked =
        java.net.URLEncoder.encode(shot.get("camera").asString(), StandardCharsets.UTF_8);
    long revision = shot.get("revisionId").asLong();
    bytes("/api/revisions/" + revision + "/picture?camera=" + asked + "&frame=1&width=32");
  }

  /** A scene's camera may be called anything, at any length; its shot gets a name that fits. */
  @Test
  void aLongCameraBecomesAShot() throws Exception {
    ObjectNode shot = shot("long", "w".repeat(300));
    assertTrue(shot.get("name").asString().length() <= 100, shot.get("name").asString());
  }

  /** Files that come in are called anything, too. */
  @ParameterizedTest
  @ValueSource(ints = {1, 100, 240, 300, 2000})
  void uploadsOfAnyNameAreTakenOrRefusedInASentence(int letters) throws Exception {
    for (String sign : List.of("w", "\u7f8a")) {
      Answer a = upload(sign.repeat(letters) + ".gltf", gltf("eye"));
      assertTrue(a.status() == 200 || a.status() == 400 || a.status() == 422, a.json().toString());
      assertTrue(a.status() == 200 || !a.detail().isBlank(), a.json().toString());
    }
    try (Stream<Path> left = Files.list(home.resolve("incoming"))) {
      assertEquals(0, left.count());
    }
  }

  @Test
  void productionsAndLayersOfAnyName() throws Exception {
    Set<String> addresses = new HashSet<>();
    for (String name : NAMES) {
      Answer made =
          send("POST", "/api/productions", JSON.createObjectNode().put("name", name).toString());
      assertTrue(made.status() == 200 || made.status() == 409, name + ": " + made.json());
      if (made.status() == 200) {
        assertTrue(addresses.add(made.json().get("address").asString()), name);
      }
      Answer layer =
          send(
              "POST",
              "/api/layers",
              JSON.createObjectNode()
                  .put("productionId", 1)
                  .put("name", name)
                  .putNull("copyOf")
                  .toString());
      // They stand in the names of channels and of files: small letters, digits and dashes.
      assertTrue(
          layer.status() == 200 || layer.detail().contains("small letters"),
          name + ": " + layer.json());
    }
  }
}
