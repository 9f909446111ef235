package posada.server.proofs;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.server.board.StrandPlan;
import posada.server.proofs.StrandProof.Verdict;
import posada.server.runs.RunStrand;

@RestController
class ProofController {
  private final ProofService proofs;

  ProofController(ProofService proofs) {
    this.proofs = proofs;
  }

  /** The proofs of the strands that are on. */
  @GetMapping("/api/proofs")
  List<StrandProof> all(@RequestParam long production) {
    return proofs.all(production);
  }

  /**
   * Which strands are to be proofed.
   *
   * @param strands null for all that are on
   */
  record NewProof(long productionId, List<StrandPlan.Wanted> strands) {}

  /** Renders the first, the middle, the last and the dearest frame of strands. */
  @PostMapping("/api/proofs")
  List<RunStrand> start(@RequestBody NewProof n) {
    return proofs.start(n.productionId(), n.strands());
  }

  /**
   * What somebody thinks of frames.
   *
   * @param frame null for all frames of the proof
   * @param verdict null to take it back
   */
  record Judging(
      long shotId,
      long layerId,
      @Schema(types = {"integer", "null"}) Integer frame,
      @Schema(types = {"string", "null"}) Verdict verdict,
      @Schema(types = {"string", "null"}) String note) {}

  @PostMapping("/api/proofs/verdicts")
  StrandProof judge(@RequestBody Judging j) {
    return proofs.judge(j.shotId(), j.layerId(), j.frame(), j.verdict(), j.note());
  }
}
