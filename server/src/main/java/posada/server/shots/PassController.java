package posada.server.shots;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import posada.core.trace.PassEntry;

/** The catalogue of passes. */
@RestController
class PassController {
  @GetMapping("/api/passes")
  List<PassEntry> all() {
    return PassEntry.all();
  }
}
