package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.lang.management.ManagementFactory;
import java.net.Socket;
import java.net.URI;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.ScheduledExecutorService;
import java.util.concurrent.TimeUnit;
import java.util.concurrent.atomic.AtomicBoolean;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Many who watch, some who stop reading, some who send a byte a second: nobody else notices, and
 * what they held comes back.
 *
 * <p>{@code -Dposada.attack.samples=N} says how long the run lasts that they watch; its time and
 * those of the answers are printed.
 */
class ReadersTest extends ServerCase {
  private static final int SAMPLES = Integer.getInteger("posada.attack.samples", 2);
  private static final int STREAMS = 200, CLIENTS = 50, STUCK = 20;
  private static final List<String> VIEWS =
      List.of(
          "/",
          "/api/productions",
          "/api/shots?production=1",
          "/api/strands?production=1",
          "/api/runs/strands?production=1",
          "/api/layers?production=1",
          "/api/recipes?production=1",
          "/api/ledger?production=1",
          "/api/revisions?production=1",
          "/api/rigs?production=1",
          "/api/health",
          "/api/passes");

  private static Socket open(String head) throws Exception {
    Socket s = new Socket("127.0.0.1", URI.create(base).getPort());
    s.setSoTimeout(30_000);
    s.getOutputStream().write(head.getBytes(StandardCharsets.UTF_8));
    return s;
  }

  private static int threads() {
    return ManagementFactory.getThreadMXBean().getThreadCount();
  }

  @Test
  void nobodyElseNoticesAndThreadsGoBack() throws Exception {
    ObjectNode shot = shot("watched", MOVING).put("width", 320).put("height", 180);
    shot.put("scale", 100);
    double alone = rendered(change(samples(shot, SAMPLES)));
    for (String view : VIEWS) {
      assertEquals(200, ask(view));
    }
    int before = threads();
    List<Socket> all = new ArrayList<>();
    for (int i = 0; i < STREAMS; i++) {
      Socket s = open("GET /api/events HTTP/1.1\r\nHost: localhost\r\n\r\n");
      all.add(s);
      assertTrue(new String(s.getInputStream().readNBytes(12)).endsWith("200"), "stream " + i);
    }
    for (int i = 0; i < STUCK; i++) {
      // One that never reads, one that never ends its body, one that never ends its head.
      all.add(open("GET /api/openapi HTTP/1.1\r\nHost: localhost\r\n\r\n"));
      all.add(
          open(
              "POST /api/productions HTTP/1.1\r\nHost: localhost\r\n"
                  + "Content-Type: application/json\r\nContent-Length: 1000\r\n\r\n{"));
      all.add(open("GET /api/shots?production=1 HTTP/1.1\r\nHost: loc"));
    }
    Queue<Double> times = new ConcurrentLinkedQueue<>();
    Queue<String> faults = new ConcurrentLinkedQueue<>();
    AtomicBoolean over = new AtomicBoolean();
    ExecutorService clients = Executors.newFixedThreadPool(CLIENTS);
    for (int c = 0; c < CLIENTS; c++) {
      int first = c;
      clients.execute(
          () -> {
            for (int k = first; !over.get(); k++) {
              look(VIEWS.get(k % VIEWS.size()), times, faults);
            }
          });
    }
    // One that reads a byte a second.
    Socket slow = open("GET /api/openapi HTTP/1.1\r\nHost: localhost\r\n\r\n");
    all.add(slow);
    ScheduledExecutorService reading = Executors.newSingleThreadScheduledExecutor();
    reading.scheduleAtFixedRate(() -> byteOf(slow), 0, 1, TimeUnit.SECONDS);
    double watched;
    try {
      watched = rendered(change(samples(now(shot), SAMPLES + 1)));
    } finally {
      over.set(true);
      clients.shutdown();
      reading.shutdownNow();
    }
    assertTrue(clients.awaitTermination(60, TimeUnit.SECONDS));
    assertTrue(faults.isEmpty(), faults.size() + " faults, such as " + faults.peek());
    assertTrue(times.size() > CLIENTS, "answers " + times.size());
    double[] t = times.stream().mapToDouble(Double::doubleValue).sorted().toArray();
    System.out.printf(
        "readers: %d answers, half within %.0f ms, 95 %% within %.0f ms; a run of %.1f s took %.1f s%n",
        t.length, 1e3 * t[t.length / 2], 1e3 * t[t.length * 95 / 100], alone, watched);
    // A page that is open hears of the run, whoever else does not read.
    InputStream in = all.get(STREAMS - 1).getInputStream();
    byte[] heard = new byte[in.available()];
    assertTrue(in.read(heard) > 100, "a page heard nothing: " + Arrays.toString(heard));
    for (Socket s : all) {
      s.close();
    }
    long patience = System.nanoTime() + 90_000_000_000L;
    while (threads() > before + 40 && System.nanoTime() < patience) {
      Thread.sleep(500);
    }
    assertTrue(threads() <= before + 40, threads() + " threads after " + before);
  }

  private static void byteOf(Socket s) {
    try {
      assertTrue(s.getInputStream().read() >= 0);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static ObjectNode now(JsonNode shot) throws Exception {
    for (JsonNode s : get("/api/shots?production=1")) {
      if (s.get("id").equals(shot.get("id"))) {
        return (ObjectNode) s;
      }
    }
    throw new AssertionError("no shot " + shot);
  }

  /** Renders a shot; returns how long that took, seconds. */
  private static double rendered(Answer shot) throws Exception {
    assertEquals(200, shot.status(), String.valueOf(shot.json()));
    long begun = System.nanoTime();
    String run = path(render(shot.json()));
    long patience = begun + 600_000_000_000L;
    while (get(run).get("state").asString().equals("RUNNING")) {
      assertTrue(System.nanoTime() < patience, "the run hangs");
      Thread.sleep(50);
    }
    assertEquals("DONE", get(run).get("state").asString());
    return (System.nanoTime() - begun) * 1e-9;
  }

  private static int ask(String view) throws Exception {
    HttpResponse<byte[]> a =
        CLIENT.send(
            HttpRequest.newBuilder(URI.create(base + view)).build(), BodyHandlers.ofByteArray());
    return a.statusCode();
  }

  private static void look(String view, Queue<Double> times, Queue<String> faults) {
    long begun = System.nanoTime();
    try {
      int status = ask(view);
      if (status != 200) {
        faults.add(view + " " + status);
      }
      times.add((System.nanoTime() - begun) * 1e-9);
      // A page asks, and shows what it got.
      Thread.sleep(200);
    } catch (Exception e) {
      faults.add(view + " " + e);
    }
  }
}
