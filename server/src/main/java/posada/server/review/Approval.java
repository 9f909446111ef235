package posada.server.review;

import java.time.Instant;

/**
 * What somebody decided about a version of a strand.
 *
 * @param approved false if it was turned down
 * @param note why; may be empty
 */
record Approval(
    long id, long strandId, boolean approved, String who, String note, Instant saidAt) {}
