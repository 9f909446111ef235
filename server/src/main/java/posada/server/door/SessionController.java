package posada.server.door;

import io.swagger.v3.oas.annotations.Parameter;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.http.ResponseEntity;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.SimpleGrantedAuthority;
import org.springframework.security.core.context.SecurityContext;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.web.ErrorResponseException;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;

/** Signing in with a password, and out. */
@RestController
class SessionController {
  private static final String ROLE = "ROLE_";

  private final Passwords passwords;
  private final Attempts attempts;
  private final HttpSessionSecurityContextRepository sessions =
      new HttpSessionSecurityContextRepository();

  SessionController(Passwords passwords, Attempts attempts) {
    this.passwords = passwords;
    this.attempts = attempts;
  }

  /**
   * Who asks.
   *
   * @param needed true if the server asks for a password
   */
  record Session(boolean needed, Passwords.Right right) {}

  record SignIn(String password) {}

  @GetMapping("/api/session")
  Session session() {
    return new Session(passwords.needed(), right());
  }

  private Passwords.Right right() {
    if (!passwords.needed()) {
      return Passwords.Right.ALL;
    }
    Authentication a = SecurityContextHolder.getContext().getAuthentication();
    for (Passwords.Right r : List.of(Passwords.Right.ALL, Passwords.Right.LOOK)) {
      String role = ROLE + r.name();
      if (a != null && a.getAuthorities().stream().anyMatch(g -> role.equals(g.getAuthority()))) {
        return r;
      }
    }
    return Passwords.Right.NONE;
  }

  @PostMapping("/api/session")
  Session signIn(
      @RequestBody SignIn in,
      @Parameter(hidden = true) HttpServletRequest request,
      @Parameter(hidden = true) HttpServletResponse response) {
    if (!passwords.needed()) {
      return session();
    }
    String place = request.getRemoteAddr();
    long wait = attempts.begin(place);
    if (wait > 0) {
      response.setHeader("Retry-After", Long.toString(wait));
      throw refused(
          HttpStatus.TOO_MANY_REQUESTS,
          "Too many passwords were wrong; the next is looked at in " + wait + " s.");
    }
    Passwords.Right right = passwords.right(in.password());
    if (right == Passwords.Right.NONE) {
      throw refused(HttpStatus.UNAUTHORIZED, "The password is wrong.");
    }
    attempts.right(place);
    HttpSession old = request.getSession(false);
    if (old != null) {
      old.invalidate();
    }
    SecurityContext context = SecurityContextHolder.createEmptyContext();
    context.setAuthentication(
        new UsernamePasswordAuthenticationToken(
            "lead", null, List.of(new SimpleGrantedAuthority(ROLE + right.name()))));
    SecurityContextHolder.setContext(context);
    sessions.saveContext(context, request, response);
    return new Session(true, right);
  }

  private static ErrorResponseException refused(HttpStatus status, String why) {
    ErrorResponseException e = new ErrorResponseException(status);
    e.setDetail(why);
    return e;
  }

  @DeleteMapping("/api/session")
  ResponseEntity<Void> signOut(@Parameter(hidden = true) HttpServletRequest request) {
    HttpSession s = request.getSession(false);
    if (s != null) {
      s.invalidate();
    }
    SecurityContextHolder.clearContext();
    return ResponseEntity.noContent().build();
  }
}
