package posada.server.door;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ReadListener;
import jakarta.servlet.ServletException;
import jakarta.servlet.ServletInputStream;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletRequestWrapper;
import jakarta.servlet.http.HttpServletResponse;
import java.io.BufferedReader;
import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.io.InputStreamReader;
import java.net.URLDecoder;
import java.nio.charset.StandardCharsets;
import java.util.Locale;
import java.util.Map;
import java.util.TreeSet;
import java.util.concurrent.Semaphore;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.http.server.PathContainer;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import org.springframework.web.util.pattern.PathPattern;
import posada.formats.settings.Documents;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Reads what is asked once, and lets in only what the API knows and what has a bound. */
@Component
@Order(DoorOrder.DOOR)
class Door extends OncePerRequestFilter {
  /** Bytes of a body in JSON, at most. */
  static final int LARGEST_BODY = 16 << 20;

  /** Nanoseconds in which such a body must have come. */
  private static final long LONGEST_READING = 30_000_000_000L;

  /** Files that may come in at once. */
  private static final int UPLOADS = 16;

  private final Semaphore uploads = new Semaphore(UPLOADS);

  private static final JsonMapper STRICT = Documents.strict(JsonMapper.builder()).build();

  private final ApiSchema api;

  Door(ApiSchema api) {
    this.api = api;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    ApiSchema.Operation o = api.find(request.getMethod(), request.getRequestURI());
    if (o == null) {
      // Nothing is there, or it is a page: both are answered behind the door, and take no body.
      chain.doFilter(request, response);
      return;
    }
    String wrong = address(o, request);
    if (wrong != null) {
      Problems.write(response, HttpStatus.BAD_REQUEST, wrong);
      return;
    }
    if (files(request.getContentType())) {
      upload(request, response, chain);
      return;
    }
    // Whatever the body calls itself: there are other names for JSON.
    if (o.body() == null) {
      chain.doFilter(request, response);
      return;
    }
    byte[] body = read(request.getInputStream());
    if (body == null) {
      Problems.write(
          response, HttpStatus.REQUEST_TIMEOUT, "The request came too slowly and was given up.");
      return;
    }
    if (body.length > LARGEST_BODY) {
      Problems.write(
          response,
          HttpStatus.CONTENT_TOO_LARGE,
          "The request may have " + (LARGEST_BODY >> 20) + " MiB.");
      return;
    }
    wrong = body(o, body);
    if (wrong != null) {
      Problems.write(response, HttpStatus.BAD_REQUEST, wrong);
      return;
    }
    chain.doFilter(new Read(request, body), response);
  }

  private static boolean files(String type) {
    return type != null && type.toLowerCase(Locale.ROOT).startsWith("multipart/");
  }

  private void upload(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    if (!uploads.tryAcquire()) {
      Problems.write(
          response,
          HttpStatus.SERVICE_UNAVAILABLE,
          UPLOADS + " files are coming in already; try again when one has arrived.");
      return;
    }
    try {
      chain.doFilter(request, response);
    } finally {
      uploads.release();
    }
  }

  /** Returns a body; null if it takes too long, so that slow senders hold no thread for good. */
  private static byte[] read(InputStream in) throws IOException {
    ByteArrayOutputStream all = new ByteArrayOutputStream();
    byte[] some = new byte[1 << 16];
    long end = System.nanoTime() + LONGEST_READING;
    while (all.size() <= LARGEST_BODY) {
      int n = in.read(some);
      if (n < 0) {
        return all.toByteArray();
      }
      all.write(some, 0, n);
      if (System.nanoTime() > end) {
        return null;
      }
    }
    return all.toByteArray();
  }

  private static String address(ApiSchema.Operation o, HttpServletRequest request) {
    PathPattern.PathMatchInfo path =
        o.pattern().matchAndExtract(PathContainer.parsePath(request.getRequestURI()));
    for (Map.Entry<String, String> v : path.getUriVariables().entrySet()) {
      JsonNode schema = o.path().get(v.getKey());
      String wrong = schema == null ? null : ApiSchema.wrong(v.getKey(), schema, v.getValue());
      if (wrong != null) {
        return wrong;
      }
    }
    String query = request.getQueryString();
    if (query == null) {
      return null;
    }
    for (String part : query.split("&")) {
      int at = part.indexOf('=');
      String name = decoded(at < 0 ? part : part.substring(0, at));
      String value = decoded(at < 0 ? "" : part.substring(at + 1));
      if (name == null || value == null) {
        return "The address cannot be read: " + ApiSchema.shortened(part) + ".";
      }
      if (name.isEmpty() && value.isEmpty()) {
        continue;
      }
      JsonNode schema = o.query().get(name);
      if (schema == null) {
        return ApiSchema.shortened(name)
            + " is not known here; there "
            + (o.query().isEmpty()
                ? "is nothing to choose"
                : "are " + String.join(", ", new TreeSet<>(o.query().keySet())))
            + ".";
      }
      String wrong = ApiSchema.wrong(name, schema, value);
      if (wrong != null) {
        return wrong;
      }
    }
    return null;
  }

  private static String decoded(String s) {
    try {
      return URLDecoder.decode(s, StandardCharsets.UTF_8);
    } catch (IllegalArgumentException e) {
      return null;
    }
  }

  private static String body(ApiSchema.Operation o, byte[] body) {
    JsonNode tree;
    try {
      tree = STRICT.readTree(body);
    } catch (JacksonException e) {
      return Documents.sentence(e, null);
    }
    return tree == null || tree.isMissingNode()
        ? "The request has no JSON in it."
        : ApiSchema.wrong(o.body().obtain(), tree);
  }

  /** A request whose body has been read. */
  private static final class Read extends HttpServletRequestWrapper {
    private final byte[] body;

    Read(HttpServletRequest request, byte[] body) {
      super(request);
      this.body = body;
    }

    @Override
    public ServletInputStream getInputStream() {
      ByteArrayInputStream in = new ByteArrayInputStream(body);
      return new ServletInputStream() {
        @Override
        public int read() {
          return in.read();
        }

        @Override
        public int read(byte[] b, int off, int len) {
          return in.read(b, off, len);
        }

        @Override
        public boolean isFinished() {
          return in.available() == 0;
        }

        @Override
        public boolean isReady() {
          return true;
        }

        @Override
        public void setReadListener(ReadListener listener) {
          throw new UnsupportedOperationException("the body has been read already");
        }
      };
    }

    @Override
    public BufferedReader getReader() {
      return new BufferedReader(new InputStreamReader(getInputStream(), StandardCharsets.UTF_8));
    }
  }
}
