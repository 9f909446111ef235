package posada.server.estimates;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

@RestController
class EstimateController {
  private final EstimateService estimates;

  EstimateController(EstimateService estimates) {
    this.estimates = estimates;
  }

  /**
   * What the strands that are on take; frames are tried out while nothing is rendered, and pushed.
   */
  @GetMapping("/api/estimates")
  List<StrandEstimate> all(@RequestParam long production) {
    return estimates.all(production);
  }

  /** What strands that are on take by their samples, as far as that is known. */
  @GetMapping("/api/estimates/samples")
  List<EstimateService.SecondsBySamples> bySamples(@RequestParam long production) {
    return estimates.bySamples(production);
  }
}
