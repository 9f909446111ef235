package posada.server.ledger;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import posada.formats.ledger.LedgerRow;

@RestController
class LedgerController {
  private final LedgerService ledger;
  private final LedgerCheckService checks;

  LedgerController(LedgerService ledger, LedgerCheckService checks) {
    this.ledger = ledger;
    this.checks = checks;
  }

  /** Of which production fresh frames are to be compared. */
  record Sample(long productionId) {}

  /** Renders a sample of fresh frames again and compares them; how that goes is pushed. */
  @PostMapping("/api/ledger/check")
  LedgerCheck check(@RequestBody Sample p) {
    return checks.start(p.productionId());
  }

  @DeleteMapping("/api/ledger/check")
  @ResponseStatus(HttpStatus.NO_CONTENT)
  void stop() {
    checks.stop();
  }

  /** How the strands that are on stand; what is not known yet is pushed when it is. */
  @GetMapping("/api/ledger")
  List<StrandLedger> all(@RequestParam long production) {
    return ledger.all(production);
  }

  /**
   * What somebody says about frames.
   *
   * @param frames as a range
   * @param mark null to take it back
   */
  record Marking(
      long shotId,
      long layerId,
      String frames,
      @Schema(types = {"string", "null"}) LedgerRow.Mark mark,
      @Schema(types = {"string", "null"}) String note) {}

  @PostMapping("/api/ledger/marks")
  StrandLedger mark(@RequestBody Marking m) {
    return ledger.mark(m.shotId(), m.layerId(), m.frames(), m.mark(), m.note());
  }
}
