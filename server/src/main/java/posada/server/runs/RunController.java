package posada.server.runs;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.plan.Finding;

@RestController
class RunController {
  private final RunService runs;

  RunController(RunService runs) {
    this.runs = runs;
  }

  @GetMapping("/api/runs")
  List<Run> all(@RequestParam long production) {
    return runs.all(production);
  }

  @GetMapping("/api/runs/{id}")
  Run run(@PathVariable long id) {
    return runs.find(id);
  }

  @GetMapping("/api/runs/{id}/ledger")
  List<LedgerLine> ledger(@PathVariable long id) {
    return runs.ledger(id);
  }

  /**
   * Which strands are to be rendered.
   *
   * @param strands null for all that are on
   */
  record NewRuns(long productionId, List<StrandPlan.Wanted> strands) {}

  @PostMapping("/api/runs")
  List<Run> start(@RequestBody NewRuns n) {
    return runs.startAll(n.productionId(), n.strands());
  }

  /** What is wrong with all strands that are on, errors first. */
  @GetMapping("/api/runs/checks")
  List<Finding> checks(@RequestParam long production) {
    return runs.check(production);
  }

  @PostMapping("/api/runs/{id}/cancel")
  Run cancel(@PathVariable long id) {
    return runs.cancel(id);
  }

  @PostMapping("/api/runs/{id}/resume")
  Run resume(@PathVariable long id) {
    return runs.resume(id);
  }
}
