package posada.server.runs;

import java.io.IOException;
import java.util.List;
import org.springframework.http.ContentDisposition;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.plan.Finding;
import posada.formats.job.StrandDocument;
import posada.server.board.BatchChecks;
import posada.server.board.StrandPlan;
import posada.server.productions.ProductionService;

@RestController
class RunController {
  private final RunService runs;
  private final RunReports reports;
  private final BatchChecks checks;
  private final ProductionService productions;

  RunController(
      RunService runs, RunReports reports, BatchChecks checks, ProductionService productions) {
    this.runs = runs;
    this.reports = reports;
    this.checks = checks;
    this.productions = productions;
  }

  /** The strands of all runs, the newest first. */
  @GetMapping("/api/runs/strands")
  List<RunStrand> all(@RequestParam long production) {
    return runs.all(production);
  }

  @GetMapping("/api/runs/{id}/report")
  RunReport report(@PathVariable long id) {
    return reports.report(id);
  }

  /** What has become of each frame of a run, as a table. */
  @GetMapping(path = "/api/runs/{id}/report.csv", produces = "text/csv")
  ResponseEntity<String> table(@PathVariable long id) throws IOException {
    StringBuilder out = new StringBuilder();
    reports.report(id, out);
    return ResponseEntity.ok()
        .header(
            HttpHeaders.CONTENT_DISPOSITION,
            ContentDisposition.attachment().filename("run-" + id + ".csv").build().toString())
        .body(out.toString());
  }

  @GetMapping("/api/runs/strands/{id}")
  RunStrand strand(@PathVariable long id) {
    return runs.find(id);
  }

  /** What was frozen when the strand was started. */
  @GetMapping("/api/runs/strands/{id}/settings")
  StrandDocument settings(@PathVariable long id) {
    return runs.find(id).settings();
  }

  @GetMapping("/api/runs/strands/{id}/frames")
  StrandFrames frames(@PathVariable long id) {
    return runs.frames(id);
  }

  /**
   * Which strands are to be rendered.
   *
   * @param strands null for all that are on
   * @param comb true to begin with frames from all over the ranges
   * @param warnings of the checks that were read and accepted; null if nobody was asked
   */
  record NewRun(
      long productionId, List<StrandPlan.Wanted> strands, Boolean comb, List<Finding> warnings) {}

  @PostMapping("/api/runs")
  List<RunStrand> start(@RequestBody NewRun n) {
    return runs.startAll(
        n.productionId(), n.strands(), Boolean.TRUE.equals(n.comb()), n.warnings());
  }

  /** What is wrong with all strands that are on, errors first. */
  @GetMapping("/api/runs/checks")
  BatchChecks.Found checks(@RequestParam long production) {
    return checks.all(productions.find(production));
  }

  @PostMapping("/api/runs/{id}/pause")
  List<RunStrand> pause(@PathVariable long id) {
    return runs.all(id, RunService.Command.PAUSE);
  }

  @PostMapping("/api/runs/{id}/resume")
  List<RunStrand> resume(@PathVariable long id) {
    return runs.all(id, RunService.Command.RESUME);
  }

  @PostMapping("/api/runs/{id}/cancel")
  List<RunStrand> cancel(@PathVariable long id) {
    return runs.all(id, RunService.Command.CANCEL);
  }

  /** Lets a run go before all others. */
  @PostMapping("/api/runs/{id}/first")
  List<RunStrand> first(@PathVariable long id) {
    return runs.firstOfAll(id);
  }

  @PostMapping("/api/runs/strands/{id}/pause")
  RunStrand pauseStrand(@PathVariable long id) {
    return runs.pause(id);
  }

  @PostMapping("/api/runs/strands/{id}/cancel")
  RunStrand cancelStrand(@PathVariable long id) {
    return runs.cancel(id);
  }

  @PostMapping("/api/runs/strands/{id}/resume")
  RunStrand resumeStrand(@PathVariable long id) {
    return runs.resume(id);
  }

  /** Lets a strand go before the others of its run. */
  @PostMapping("/api/runs/strands/{id}/first")
  RunStrand firstStrand(@PathVariable long id) {
    return runs.first(id);
  }
}
