package posada.bench;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublisher;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.function.Predicate;
import java.util.stream.Stream;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A server in a folder of its own, as long as it is open, and how it is talked to. */
final class Served implements AutoCloseable {
  static final JsonMapper JSON = new JsonMapper();

  private static final long LONGEST_START = 60_000_000_000L;

  private final HttpClient http = HttpClient.newHttpClient();
  private final String base;
  private final Process server;

  Served() throws Exception {
    Path home = Files.createTempDirectory("served");
    int port;
    try (ServerSocket free = new ServerSocket(0)) {
      port = free.getLocalPort();
    }
    base = "http://localhost:" + port;
    Path root = Path.of("").toAbsolutePath();
    ProcessBuilder b =
        new ProcessBuilder("sh", "-c", "root=" + root + "; . bin/common.sh; run_server");
    b.environment().put("POSADA_HOME", home.toString());
    b.environment().put("PORT", Integer.toString(port));
    server = b.redirectErrorStream(true).redirectOutput(home.resolve("log").toFile()).start();
    try {
      await();
    } catch (IOException | InterruptedException e) {
      close();
      throw e;
    }
  }

  private void await() throws IOException, InterruptedException {
    long end = System.nanoTime() + LONGEST_START;
    while (true) {
      try {
        send("GET", "/api/productions", "");
        return;
      } catch (IOException notYet) {
        if (System.nanoTime() > end) {
          throw notYet;
        }
        Thread.sleep(200);
      }
    }
  }

  @Override
  public void close() throws InterruptedException {
    server.descendants().forEach(ProcessHandle::destroyForcibly);
    server.destroyForcibly().waitFor();
  }

  private JsonNode send(String method, String path, BodyPublisher body, String type)
      throws IOException, InterruptedException {
    HttpRequest r =
        HttpRequest.newBuilder(URI.create(base + path))
            .header("Content-Type", type)
            .method(method, body)
            .build();
    var answer = http.send(r, BodyHandlers.ofString());
    if (answer.statusCode() >= 300) {
      throw new IOException(method + " " + path + ": " + answer.body());
    }
    return answer.body().isEmpty() ? null : JSON.readTree(answer.body());
  }

  JsonNode send(String method, String path, String json) throws IOException, InterruptedException {
    return send(method, path, BodyPublishers.ofString(json), "application/json");
  }

  /** Imports a scene; returns the number of its revision. */
  long take(Path scene) throws IOException, InterruptedException {
    ByteArrayOutputStream body = new ByteArrayOutputStream();
    String head =
        "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"scene.glb\"\r\n\r\n";
    body.writeBytes(head.getBytes(StandardCharsets.UTF_8));
    body.writeBytes(Files.readAllBytes(scene));
    body.writeBytes("\r\n--cut--\r\n".getBytes(StandardCharsets.UTF_8));
    return send(
            "POST",
            "/api/revisions?production=1",
            BodyPublishers.ofByteArray(body.toByteArray()),
            "multipart/form-data; boundary=cut")
        .at("/revision/id")
        .asLong();
  }

  /**
   * Listens to a stream until an event is the one that is waited for, and leaves.
   *
   * @return seconds until then
   */
  double until(String path, Predicate<JsonNode> wanted) throws IOException, InterruptedException {
    long start = System.nanoTime();
    HttpRequest r = HttpRequest.newBuilder(URI.create(base + path)).build();
    try (Stream<String> lines = http.send(r, BodyHandlers.ofLines()).body()) {
      for (var i = lines.iterator(); i.hasNext(); ) {
        String line = i.next();
        if (line.startsWith("data:{") && wanted.test(JSON.readTree(line.substring(5)))) {
          return (System.nanoTime() - start) / 1e9;
        }
      }
    }
    throw new IOException(path + " ended before it was there");
  }
}
