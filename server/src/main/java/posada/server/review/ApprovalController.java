package posada.server.review;

import java.io.IOException;
import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
class ApprovalController {
  private final ApprovalService approvals;

  ApprovalController(ApprovalService approvals) {
    this.approvals = approvals;
  }

  /** All decisions, the newest first. */
  @GetMapping("/api/approvals")
  List<Approval> all(@RequestParam long production) {
    return approvals.all(production);
  }

  /**
   * A decision about versions of strands.
   *
   * @param note needed if they are turned down
   */
  record NewApproval(List<Long> strands, boolean approved, String who, String note) {}

  @PostMapping("/api/approvals")
  List<Approval> decide(@RequestBody NewApproval n) {
    if (n.strands() == null || n.strands().isEmpty()) {
      throw new IllegalArgumentException("Say which strands it is about.");
    }
    return approvals.decide(n.strands(), n.approved(), n.who(), n.note());
  }

  /** What a version has that the one that was approved last has not. */
  @GetMapping("/api/approvals/{strand}/changes")
  ApprovalService.ChangedFrames changes(@PathVariable long strand) throws IOException {
    return approvals.changes(strand);
  }
}
