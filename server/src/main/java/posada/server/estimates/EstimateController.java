package posada.server.estimates;

import java.util.List;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.settings.Limits;

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

  /**
   * What the frames of a shot's layer come to: seconds, samples, and the noise that is left.
   *
   * @param limit seconds for each frame, 0 for none; left out, the recipe's own holds
   */
  @GetMapping("/api/shots/{id}/reach")
  EstimateService.StrandReach reach(
      @PathVariable long id,
      @RequestParam(required = false) Long layer,
      @RequestParam(required = false) Double limit) {
    if (limit != null) {
      Limits.within("seconds", limit, 0, 1e7);
    }
    return estimates.reach(id, layer, limit);
  }

  /** What strands that are on take by their samples, as far as that is known. */
  @GetMapping("/api/estimates/samples")
  List<EstimateService.SecondsBySamples> bySamples(@RequestParam long production) {
    return estimates.bySamples(production);
  }
}
