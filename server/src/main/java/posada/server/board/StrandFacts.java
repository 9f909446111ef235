package posada.server.board;

import java.util.List;
import posada.core.plan.Estimate;
import posada.core.plan.Preflight;
import posada.server.board.StrandPlan.Ready;

/** Whoever knows something of strands that their checks ask for. */
public interface StrandFacts {
  /** Returns how the proof of a strand stands; null from whoever does not know. */
  default Preflight.Proof proof(Ready s) {
    return null;
  }

  /** Returns true if a run has written a version of a strand. */
  default boolean isRendered(Ready s) {
    return false;
  }

  /** Returns what strands take; null from whoever does not know, or not of all of them. */
  default Estimate.Result takes(List<Ready> all) {
    return null;
  }
}
