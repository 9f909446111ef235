package posada.server;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.file.Files;
import java.nio.file.Path;
import java.security.SecureRandom;
import java.security.cert.X509Certificate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import javax.net.ssl.SSLContext;
import javax.net.ssl.TrustManager;
import javax.net.ssl.X509ExtendedTrustManager;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ConfigurableApplicationContext;
import posada.server.app.PosadaServer;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** A server that others can reach: nobody gets in without a password, and not with a guess. */
class AccessTest {
  @TempDir Path home;
  private ConfigurableApplicationContext server;
  private String base;
  private HttpClient client = HttpClient.newHttpClient();

  private void start(String... more) {
    startAt("0.0.0.0", more);
  }

  private void startAt(String address, String... more) {
    List<String> all = new ArrayList<>(List.of(more));
    all.addAll(List.of("--posada.home=" + home, "--server.port=0", "--server.address=" + address));
    server = PosadaServer.start(all.toArray(String[]::new));
    base = "http://127.0.0.1:" + server.getEnvironment().getProperty("local.server.port");
  }

  @AfterEach
  void stop() {
    server.close();
  }

  private HttpResponse<String> ask(String method, String path, String body, String cookie)
      throws Exception {
    HttpRequest.Builder b =
        HttpRequest.newBuilder(URI.create(base + path)).header("X-Window", "one");
    if (cookie != null) {
      b.header("Cookie", cookie);
    }
    if (body != null) {
      b.header("Content-Type", "application/json");
    }
    return client.send(
        b.method(method, body == null ? BodyPublishers.noBody() : BodyPublishers.ofString(body))
            .build(),
        BodyHandlers.ofString());
  }

  private HttpResponse<String> signIn(String password) throws Exception {
    return ask("POST", "/api/session", "{\"password\":\"" + password + "\"}", null);
  }

  private static String cookie(HttpResponse<String> a) {
    return a.headers().firstValue("Set-Cookie").orElseThrow();
  }

  @Test
  void withoutAPasswordOneIsMadeAndNobodyGetsInByGuessing() throws Exception {
    start();
    assertTrue(
        Files.readString(home.resolve("password")).startsWith("$2"), "only its hash is kept");
    assertEquals(
        "rw-------",
        java.nio.file.attribute.PosixFilePermissions.toString(
            Files.getPosixFilePermissions(home.resolve("password"))));
    for (String path : List.of("/api/productions", "/%61pi/shots?production=1", "/api/events")) {
      HttpResponse<String> a = ask("GET", path, null, null);
      assertEquals(401, a.statusCode(), path);
      assertEquals("application/problem+json", a.headers().firstValue("Content-Type").orElse(""));
    }
    assertEquals(401, ask("POST", "/api/productions", "{\"name\":\"x\"}", null).statusCode());
    assertEquals(200, ask("GET", "/larkspur-line/shots", null, null).statusCode());
    for (int i = 0; i < 5; i++) {
      assertEquals(401, signIn("guess" + i).statusCode());
    }
    HttpResponse<String> slow = signIn("guess");
    assertEquals(429, slow.statusCode(), slow.body());
    assertTrue(Integer.parseInt(slow.headers().firstValue("Retry-After").orElse("0")) >= 1);
    assertEquals(403, foreign("Host: evil.example"));
  }

  /** Returns the status of a request with a header that the client does not set itself. */
  private int foreign(String host) throws IOException {
    try (java.net.Socket s = new java.net.Socket("127.0.0.1", URI.create(base).getPort())) {
      s.getOutputStream().write(("GET /api/session HTTP/1.1\r\n" + host + "\r\n\r\n").getBytes());
      byte[] line = s.getInputStream().readNBytes(12);
      return Integer.parseInt(new String(line).substring(9));
    }
  }

  @Test
  void onePasswordIsForLookingOnly() throws Exception {
    start("--posada.password=opens-all", "--posada.view-password=only-looks");
    assertFalse(Files.exists(home.resolve("password")));
    HttpResponse<String> in = signIn("only-looks");
    assertEquals(200, in.statusCode(), in.body());
    String set = cookie(in);
    assertTrue(set.contains("HttpOnly") && set.contains("SameSite=Strict"), set);
    String look = set.substring(0, set.indexOf(';'));
    assertEquals(200, ask("GET", "/api/productions", null, look).statusCode());
    String made = "{\"name\":\"Night cut\"}";
    HttpResponse<String> refused = ask("POST", "/api/productions", made, look);
    assertEquals(403, refused.statusCode());
    assertTrue(refused.body().contains("looking only"), refused.body());
    assertEquals(400, ask("POST", "/api/strands/paths", "{}", look).statusCode());
    String all = cookie(signIn("opens-all")).split(";")[0];
    String session = ask("GET", "/api/session", null, all).body();
    assertEquals("ALL", new JsonMapper().readTree(session).get("right").asString());
    assertTrue(ask("POST", "/api/productions", made, all).statusCode() != 403);
    assertEquals(204, ask("DELETE", "/api/session", null, all).statusCode());
    assertEquals(401, ask("GET", "/api/productions", null, all).statusCode());
    assertEquals(200, ask("GET", "/api/productions", null, look).statusCode());
  }

  /** Who may only look changes nothing, whatever is asked: these are all that take a body. */
  @Test
  void lookingChangesNothing() throws Exception {
    start("--posada.password=opens-all", "--posada.view-password=only-looks");
    String look = cookie(signIn("only-looks")).split(";")[0];
    Set<String> open = new TreeSet<>();
    JsonNode paths;
    try (InputStream in = AccessTest.class.getResourceAsStream("/openapi.json")) {
      paths = new JsonMapper().readTree(in).get("paths");
    }
    for (String path : paths.propertyNames()) {
      for (String method : paths.get(path).propertyNames()) {
        String at = path.replaceAll("\\{[^}]+}", "1");
        if (!method.equals("get") && !path.equals("/api/session")) {
          if (ask(method.toUpperCase(Locale.ROOT), at, "{}", look).statusCode() != 403) {
            open.add(path);
          }
        }
      }
    }
    assertEquals(
        Set.of(
            "/api/assemblies/picture",
            "/api/assemblies/steps",
            "/api/assemblies/words",
            "/api/moves/panels",
            "/api/moves/stops",
            "/api/revisions/{id}/unfit",
            "/api/shots/{id}/variants",
            "/api/strands/paths"),
        open);
  }

  /** An empty address is every address. */
  @Test
  void anEmptyAddressIsNotThisMachineOnly() throws Exception {
    startAt("");
    assertEquals(401, ask("GET", "/api/productions", null, null).statusCode());
    assertEquals(401, signIn("w".repeat(300)).statusCode());
  }

  /** Guesses at the same time are no way around the count. */
  @Test
  void manyGuessesAtOnceAreCounted() throws Exception {
    start("--posada.password=opens-all");
    ExecutorService many = Executors.newFixedThreadPool(20);
    List<Future<Integer>> all = new ArrayList<>();
    for (int i = 0; i < 40; i++) {
      String guess = "guess" + i;
      all.add(many.submit(() -> signIn(guess).statusCode()));
    }
    int looked = 0;
    for (Future<Integer> f : all) {
      looked += f.get() == 401 ? 1 : 0;
    }
    many.shutdown();
    assertTrue(looked >= 5 && looked < 12, looked + " of 40 were looked at");
  }

  /** The usual settings of the framework give TLS. */
  @Test
  void theLineIsEncrypted() throws Exception {
    Path store = home.resolve("own.p12");
    String keytool = Path.of(System.getProperty("java.home"), "bin", "keytool").toString();
    Process made =
        new ProcessBuilder(
                keytool,
                "-genkeypair",
                "-alias",
                "posada",
                "-keyalg",
                "EC",
                "-dname",
                "CN=localhost",
                "-validity",
                "2",
                "-storetype",
                "PKCS12",
                "-keystore",
                store.toString(),
                "-storepass",
                "secret")
            .redirectErrorStream(true)
            .redirectOutput(home.resolve("keytool.log").toFile())
            .start();
    assertTrue(made.waitFor(60, TimeUnit.SECONDS) && made.exitValue() == 0);
    start(
        "--posada.password=opens-all",
        "--server.ssl.key-store=" + store,
        "--server.ssl.key-store-password=secret");
    base = base.replace("http:", "https:");
    SSLContext trusting = SSLContext.getInstance("TLS");
    trusting.init(null, new TrustManager[] {new Everybody()}, new SecureRandom());
    client = HttpClient.newBuilder().sslContext(trusting).build();
    HttpResponse<String> in = signIn("opens-all");
    assertEquals(200, in.statusCode(), in.body());
    assertTrue(cookie(in).contains("Secure"), cookie(in));
    assertTrue(in.sslSession().orElseThrow().getProtocol().startsWith("TLSv1."));
  }

  /** Trusts the key that was just made, whatever it is called. */
  private static final class Everybody extends X509ExtendedTrustManager {
    @Override
    public void checkClientTrusted(X509Certificate[] c, String t, java.net.Socket s) {}

    @Override
    public void checkServerTrusted(X509Certificate[] c, String t, java.net.Socket s) {}

    @Override
    public void checkClientTrusted(X509Certificate[] c, String t, javax.net.ssl.SSLEngine e) {}

    @Override
    public void checkServerTrusted(X509Certificate[] c, String t, javax.net.ssl.SSLEngine e) {}

    @Override
    public void checkClientTrusted(X509Certificate[] c, String t) {}

    @Override
    public void checkServerTrusted(X509Certificate[] c, String t) {}

    @Override
    public X509Certificate[] getAcceptedIssuers() {
      return new X509Certificate[0];
    }
  }
}
