package posada.server.door;

import io.swagger.v3.oas.annotations.Hidden;
import jakarta.servlet.RequestDispatcher;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import org.apache.catalina.connector.Request;
import org.apache.catalina.connector.Response;
import org.apache.catalina.core.StandardHost;
import org.apache.catalina.valves.ErrorReportValve;
import org.apache.tomcat.util.buf.EncodedSolidusHandling;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.boot.webmvc.error.ErrorController;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.stereotype.Component;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.RequestMapping;

/** Errors that no station answers are problem documents too, and never pages. */
@Controller
@Hidden
class ErrorAnswers implements ErrorController {
  @RequestMapping("/error")
  void error(HttpServletRequest request, HttpServletResponse response) throws IOException {
    Object code = request.getAttribute(RequestDispatcher.ERROR_STATUS_CODE);
    HttpStatus known = code instanceof Integer c ? HttpStatus.resolve(c) : HttpStatus.NOT_FOUND;
    HttpStatus status = known == null ? HttpStatus.INTERNAL_SERVER_ERROR : known;
    if (!response.isCommitted()) {
      Problems.protect(response);
      Problems.write(response, status, Problems.usual(status));
    }
  }

  /** For requests that cannot even be read. */
  @Component
  static class Unreadable implements WebServerFactoryCustomizer<TomcatServletWebServerFactory> {
    @Override
    public void customize(TomcatServletWebServerFactory factory) {
      factory.addContextCustomizers(
          c -> {
            if (c.getParent() instanceof StandardHost host) {
              host.setErrorReportValveClass(Valve.class.getName());
            }
          });
      // Names may have slashes in them.
      String through = EncodedSolidusHandling.PASS_THROUGH.getValue();
      factory.addConnectorCustomizers(
          c -> {
            c.setEncodedSolidusHandling(through);
            c.setEncodedReverseSolidusHandling(through);
          });
    }
  }

  /** Writes what Tomcat would write a page for. */
  public static final class Valve extends ErrorReportValve {
    @Override
    protected void report(Request request, Response response, Throwable thrown) {
      HttpStatus status = HttpStatus.resolve(response.getStatus());
      if (response.getStatus() < 400 || status == null || response.getContentWritten() > 0) {
        return;
      }
      if (!response.setErrorReported()) {
        return;
      }
      try {
        Problems.protect(response);
        response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
        response.setCharacterEncoding(StandardCharsets.UTF_8.name());
        byte[] json = Problems.json(status, Problems.usual(status));
        response.getReporter().write(new String(json, StandardCharsets.UTF_8));
        response.finishResponse();
      } catch (IOException | IllegalStateException e) {
        // Nobody is left to tell.
      }
    }
  }
}
