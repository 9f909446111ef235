package posada.server.shots;

import java.util.Arrays;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;
import posada.core.trace.Pass;

/** The catalogue of passes. */
@RestController
class PassController {
  /**
   * A pass as it is offered.
   *
   * @param use how a compositor combines it
   * @param filtered false if it is taken at the pixel's centre
   */
  record PassEntry(
      String name,
      String holds,
      String units,
      String use,
      boolean filtered,
      String precision,
      String cost,
      List<String> channels) {}

  @GetMapping("/api/passes")
  List<PassEntry> all() {
    return Arrays.stream(Pass.values())
        .map(
            p ->
                new PassEntry(
                    p.label(),
                    p.holds(),
                    p.units(),
                    p.use().label(),
                    p.filtered(),
                    p.precision().name().toLowerCase(java.util.Locale.ROOT),
                    p.cost(),
                    p.channels()))
        .toList();
  }
}
