package posada.server.board;

import java.util.List;
import java.util.Set;
import posada.core.plan.Estimate;
import posada.core.plan.Preflight;
import posada.server.board.StrandPlan.Ready;

/** Whoever knows something of strands that their checks ask for. */
public interface StrandFacts {
  /** Returns how the proof of each strand stands; null from whoever does not know. */
  default List<Preflight.Proof> proofs(List<Ready> all) {
    return null;
  }

  /** Returns the keys of those of which a run has written a version; see {@link Ready#key}. */
  default Set<String> rendered(List<Ready> all) {
    return Set.of();
  }

  /** Returns what strands take; null from whoever does not know, or not of all of them. */
  default Estimate.Result takes(List<Ready> all) {
    return null;
  }
}
