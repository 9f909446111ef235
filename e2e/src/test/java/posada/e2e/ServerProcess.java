package posada.e2e;

import static java.lang.ProcessBuilder.Redirect.DISCARD;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.net.ServerSocket;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Map;
import java.util.concurrent.ExecutionException;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.TimeoutException;
import java.util.stream.Stream;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The real server in a process of its own, on a free port, with its data in a given folder. */
final class ServerProcess implements AutoCloseable {
  private static final JsonMapper JSON = new JsonMapper();
  private static final Path ROOT = Path.of("..").toAbsolutePath().normalize();
  final int port;
  private final Process process;
  private final HttpClient http = HttpClient.newHttpClient();

  ServerProcess(Path home) throws Exception {
    this(home, freePort());
  }

  private static int freePort() throws IOException {
    try (ServerSocket free = new ServerSocket(0)) {
      return free.getLocalPort();
    }
  }

  ServerProcess(Path home, int port) throws Exception {
    this(home, port, Map.of());
  }

  ServerProcess(Path home, Map<String, String> environment) throws Exception {
    this(home, freePort(), environment);
  }

  static {
    // There are many starts to come.
    try {
      command("train_server")
          .redirectErrorStream(true)
          .redirectOutput(DISCARD)
          .start()
          .onExit()
          .get(3, TimeUnit.MINUTES);
    } catch (IOException | ExecutionException | TimeoutException e) {
      System.err.println("servers start as slowly as they do untrained: " + e);
    } catch (InterruptedException e) {
      Thread.currentThread().interrupt();
    }
  }

  /** A command of bin/common.sh. */
  private static ProcessBuilder command(String name) {
    return new ProcessBuilder("sh", "-c", "root=" + ROOT + "; . \"$root/bin/common.sh\"; " + name);
  }

  private ServerProcess(Path home, int port, Map<String, String> environment) throws Exception {
    this.port = port;
    // As bin/demo starts it, with the JDK that it would take.
    ProcessBuilder b = command("run_server");
    b.environment().put("POSADA_HOME", home.toString());
    b.environment().put("PORT", Integer.toString(port));
    b.environment().putAll(environment);
    b.redirectErrorStream(true);
    b.redirectOutput(Files.createTempFile("posada-server", ".log").toFile());
    process = b.start();
    long end = System.nanoTime() + 120_000_000_000L;
    int ready = environment.containsKey("POSADA_PASSWORD") ? 401 : 200;
    while (status("/api/productions") != ready) {
      if (!process.isAlive() || System.nanoTime() > end) {
        throw new IOException("the server did not start");
      }
      Thread.sleep(200);
    }
  }

  String url(String path) {
    return "http://localhost:" + port + path;
  }

  HttpResponse<String> send(HttpRequest.Builder request) throws Exception {
    return http.send(request.build(), HttpResponse.BodyHandlers.ofString());
  }

  /** Renders a layer of a shot; returns the run when it is done. */
  JsonNode rendered(long shot, long layer) throws Exception {
    String body =
        "{\"productionId\":1,\"strands\":[{\"shotId\":%d,\"layerId\":%d}]}".formatted(shot, layer);
    JsonNode now = JSON.readTree(post("/api/runs", body)).get(0);
    String path = "/api/runs/strands/" + now.get("id").asLong();
    while (now.get("state").asString().equals("RUNNING")) {
      Thread.sleep(200);
      now = JSON.readTree(get(path));
    }
    assertEquals("DONE", now.get("state").asString(), now.toString());
    return now;
  }

  String get(String path) throws Exception {
    return send(HttpRequest.newBuilder(URI.create(url(path)))).body();
  }

  String post(String path, String json) throws Exception {
    return send(HttpRequest.newBuilder(URI.create(url(path)))
            .header("Content-Type", "application/json")
            .POST(HttpRequest.BodyPublishers.ofString(json)))
        .body();
  }

  void put(String path, String json) throws Exception {
    HttpResponse<String> r =
        send(
            HttpRequest.newBuilder(URI.create(url(path)))
                .header("Content-Type", "application/json")
                .PUT(HttpRequest.BodyPublishers.ofString(json)));
    if (r.statusCode() >= 300) {
      throw new AssertionError(path + ": " + r.body());
    }
  }

  /** Imports a scene; returns the number of its revision. */
  long upload(String name, byte[] scene) throws Exception {
    String head =
        "--cut\r\nContent-Disposition: form-data; name=\"file\"; filename=\"%s\"\r\n\r\n"
            .formatted(name);
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    all.writeBytes(head.getBytes(StandardCharsets.UTF_8));
    all.writeBytes(scene);
    all.writeBytes("\r\n--cut--\r\n".getBytes(StandardCharsets.UTF_8));
    String answer =
        send(HttpRequest.newBuilder(URI.create(url("/api/revisions?production=1")))
                .header("Content-Type", "multipart/form-data; boundary=cut")
                .POST(HttpRequest.BodyPublishers.ofByteArray(all.toByteArray())))
            .body();
    JsonNode id = JSON.readTree(answer).at("/revision/id");
    if (!id.isNumber()) {
      throw new AssertionError(name + ": " + answer);
    }
    return id.asLong();
  }

  private int status(String path) throws InterruptedException {
    try {
      return http.send(
              HttpRequest.newBuilder(URI.create(url(path))).build(),
              HttpResponse.BodyHandlers.discarding())
          .statusCode();
    } catch (IOException e) {
      return 0;
    }
  }

  /** Returns how many streams of events are open: each has a thread. */
  long streams() throws IOException {
    try (Stream<Path> threads = Files.list(Path.of("/proc/" + process.pid() + "/task"))) {
      return threads.filter(t -> read(t.resolve("comm")).startsWith("events-")).count();
    }
  }

  private static String read(Path file) {
    try {
      return Files.readString(file);
    } catch (IOException ended) {
      return "";
    }
  }

  /** Ends the process as kill -9 does: without a chance to tidy up. */
  void kill() throws InterruptedException {
    process.destroyForcibly().waitFor();
  }

  /** Ends the process as a service manager does, and waits for it. */
  void stop() throws InterruptedException {
    process.destroy();
    process.waitFor();
  }

  @Override
  public void close() throws Exception {
    kill();
  }
}
