package posada.server.review;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.review.Fault;
import posada.server.review.FootageCheck.FaultVerdict;
import posada.server.review.FootageCheck.Word;

/** Checks of sequences, and what is said of what they find. */
@RestController
class CheckController {
  private final CheckService checks;

  CheckController(CheckService checks) {
    this.checks = checks;
  }

  /** What checks find in a sequence as it is now. */
  @GetMapping("/api/footage/{key}/check")
  FootageCheck check(@PathVariable String key) throws IOException {
    return checks.check(FootageKey.of(key));
  }

  /**
   * How many findings there are.
   *
   * @param open those that nobody has called fine
   */
  record CheckedFootage(String key, int open) {}

  /** What was found last in the sequences of a production. */
  @GetMapping("/api/footage")
  List<CheckedFootage> all(@RequestParam long production) {
    return checks.open(production).entrySet().stream()
        .map(e -> new CheckedFootage(e.getKey(), e.getValue()))
        .toList();
  }

  /**
   * What is said of a finding.
   *
   * @param frame its first
   * @param word null to take back what was said
   * @param reason needed for what is fine
   * @param who says it
   */
  record NewVerdict(
      Fault.Kind kind,
      int frame,
      @Schema(types = {"string", "null"}) Word word,
      String reason,
      String who) {}

  @PutMapping("/api/footage/{key}/verdicts")
  FootageCheck say(@PathVariable String key, @RequestBody NewVerdict v) throws IOException {
    FaultVerdict said =
        v.word() == null
            ? null
            : new FaultVerdict(
                v.word(), v.reason() == null ? "" : v.reason(), v.who() == null ? "" : v.who());
    return checks.say(FootageKey.of(key), v.kind(), v.frame(), said);
  }
}
