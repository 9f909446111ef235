package posada.server.door;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.OutputStream;
import java.nio.charset.StandardCharsets;
import java.util.LinkedHashMap;
import java.util.Map;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import posada.formats.settings.Documents;

/**
 * Refusals before any station was asked: problem documents (RFC 9457), and what every answer says.
 */
final class Problems {
  /** Headers of every answer, errors too. */
  private static final Map<String, String> HEADERS =
      Map.of(
          "Content-Security-Policy",
          "default-src 'self'; img-src 'self' data: blob:; media-src 'self' blob:; "
              + "style-src 'self' 'unsafe-inline'; object-src 'none'; base-uri 'none'; "
              + "form-action 'self'; frame-ancestors 'none'",
          "X-Content-Type-Options",
          "nosniff",
          "X-Frame-Options",
          "DENY",
          "Referrer-Policy",
          "no-referrer",
          "Cross-Origin-Opener-Policy",
          "same-origin",
          "Cross-Origin-Resource-Policy",
          "same-origin");

  private Problems() {}

  /** Says what browsers may do with an answer. */
  static void protect(HttpServletResponse response) {
    HEADERS.forEach(response::setHeader);
  }

  /** Refuses a request with a sentence. */
  static void write(HttpServletResponse response, HttpStatus status, String detail)
      throws IOException {
    byte[] json = json(status, detail);
    response.setStatus(status.value());
    response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
    response.setContentLength(json.length);
    try (OutputStream out = response.getOutputStream()) {
      out.write(json);
    }
  }

  /** Returns a problem document. */
  static byte[] json(HttpStatus status, String detail) {
    Map<String, Object> all = new LinkedHashMap<>();
    all.put("title", status.getReasonPhrase());
    all.put("status", status.value());
    all.put("detail", detail);
    return Documents.write(all).getBytes(StandardCharsets.UTF_8);
  }

  /** Returns a sentence for a status that nobody explained. */
  static String usual(HttpStatus status) {
    return switch (status) {
      case BAD_REQUEST -> "The address, a header or the body of the request cannot be read.";
      case NOT_FOUND -> "There is nothing at this address.";
      case METHOD_NOT_ALLOWED -> "This cannot be done at this address.";
      case URI_TOO_LONG, REQUEST_HEADER_FIELDS_TOO_LARGE ->
          "The address or the headers of the request are too long.";
      case CONTENT_TOO_LARGE -> "The request is too large.";
      default ->
          status.is5xxServerError()
              ? "The server failed at this; its log says where."
              : "The request is refused: " + status.getReasonPhrase().toLowerCase() + ".";
    };
  }
}
