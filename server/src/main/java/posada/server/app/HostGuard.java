package posada.server.app;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URI;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;

/**
 * Lets requests in only if they are addressed to this server by a name of its own and do not come
 * from a page elsewhere, so that a foreign page cannot drive it through the browser.
 */
@Component
class HostGuard extends OncePerRequestFilter {
  private final Set<String> hosts = new TreeSet<>(Set.of("localhost", "127.0.0.1", "[::1]"));

  HostGuard(PosadaProperties properties) {
    properties.hosts().forEach(h -> hosts.add(h.toLowerCase(Locale.ROOT)));
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    String host = request.getHeader("Host");
    String origin = request.getHeader("Origin");
    if (host == null || !hosts.contains(name(host))) {
      response.sendError(HttpServletResponse.SC_FORBIDDEN, "unknown host");
      return;
    }
    if (origin != null && !sameOrigin(origin, host)) {
      response.sendError(HttpServletResponse.SC_FORBIDDEN, "foreign origin");
      return;
    }
    String site = request.getHeader("Sec-Fetch-Site");
    if ("cross-site".equals(site) && request.getRequestURI().startsWith("/api/")) {
      response.sendError(HttpServletResponse.SC_FORBIDDEN, "foreign page");
      return;
    }
    response.setHeader("X-Content-Type-Options", "nosniff");
    response.setHeader("Cross-Origin-Resource-Policy", "same-origin");
    response.setHeader("X-Frame-Options", "DENY");
    chain.doFilter(request, response);
  }

  private static String name(String host) {
    String h = host.toLowerCase(Locale.ROOT);
    int port = h.lastIndexOf(':');
    return port > h.lastIndexOf(']') ? h.substring(0, port) : h;
  }

  private static boolean sameOrigin(String origin, String host) {
    try {
      return host.equalsIgnoreCase(URI.create(origin).getAuthority());
    } catch (IllegalArgumentException e) {
      return false;
    }
  }
}
