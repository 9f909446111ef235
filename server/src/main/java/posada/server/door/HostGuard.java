package posada.server.door;

import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.InetAddress;
import java.net.NetworkInterface;
import java.net.URI;
import java.net.UnknownHostException;
import java.util.Collections;
import java.util.Locale;
import java.util.Set;
import java.util.TreeSet;
import org.springframework.core.annotation.Order;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.web.filter.OncePerRequestFilter;
import posada.server.app.PosadaProperties;

/**
 * Lets requests in only if they are addressed to this server by a name of its own and do not come
 * from a page elsewhere, so that a foreign page cannot drive it through the browser.
 */
@Component
@Order(DoorOrder.HOST)
class HostGuard extends OncePerRequestFilter {
  private final Set<String> hosts = new TreeSet<>(Set.of("localhost", "127.0.0.1", "[::1]"));

  HostGuard(PosadaProperties properties, Reach reach) throws IOException {
    if (reach.others()) {
      hosts.addAll(ownNames());
    }
    properties.hosts().forEach(h -> hosts.add(h.toLowerCase(Locale.ROOT)));
  }

  /** Returns the addresses of this machine, and its name. */
  private static Set<String> ownNames() throws IOException {
    Set<String> all = new TreeSet<>();
    for (NetworkInterface n : Collections.list(NetworkInterface.getNetworkInterfaces())) {
      for (InetAddress a : Collections.list(n.getInetAddresses())) {
        String s = a.getHostAddress();
        int zone = s.indexOf('%');
        s = zone < 0 ? s : s.substring(0, zone);
        all.add(s.contains(":") ? "[" + s + "]" : s);
      }
    }
    try {
      all.add(InetAddress.getLocalHost().getHostName().toLowerCase(Locale.ROOT));
    } catch (UnknownHostException e) {
      // It has no name then.
    }
    return all;
  }

  @Override
  protected void doFilterInternal(
      HttpServletRequest request, HttpServletResponse response, FilterChain chain)
      throws ServletException, IOException {
    Problems.protect(response);
    String host = request.getHeader("Host");
    if (host == null || !hosts.contains(name(host))) {
      refuse(
          response,
          "This server is not called \""
              + ApiSchema.shortened(String.valueOf(host))
              + "\"; posada.hosts names what else it is called.");
      return;
    }
    String origin = request.getHeader("Origin");
    if (origin != null && !sameOrigin(origin, host)) {
      refuse(response, "Pages of \"" + ApiSchema.shortened(origin) + "\" cannot use this server.");
      return;
    }
    // Decoded, so that no spelling of an address passes.
    String path = request.getServletPath();
    if ("cross-site".equals(request.getHeader("Sec-Fetch-Site")) && path.startsWith("/api")) {
      refuse(response, "Pages from elsewhere cannot use this server.");
      return;
    }
    chain.doFilter(request, response);
  }

  private static void refuse(HttpServletResponse response, String why) throws IOException {
    Problems.write(response, HttpStatus.FORBIDDEN, why);
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
