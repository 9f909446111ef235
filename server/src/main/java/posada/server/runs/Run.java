package posada.server.runs;

import java.time.Instant;
import java.util.List;
import posada.core.plan.Finding;

/**
 * What was started together.
 *
 * @param number counted for each production
 * @param kind what it was started for
 * @param comb true if frames from all over the ranges come first
 * @param priority runs with a higher one go first
 * @param warnings that somebody had read when it was started
 */
public record Run(
    long id,
    long productionId,
    int number,
    Kind kind,
    boolean comb,
    int priority,
    List<Finding> warnings,
    Instant startedAt) {
  /** What runs are started for. */
  public enum Kind {
    BATCH,
    /** A few frames by which the settings are judged. */
    PROOF,
    /** Frames that were sent back. */
    AGAIN
  }
}
