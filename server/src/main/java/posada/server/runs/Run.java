package posada.server.runs;

import java.time.Instant;

/**
 * What was started together.
 *
 * @param number counted for each production
 * @param comb true if frames from all over the ranges come first
 * @param priority runs with a higher one go first
 */
public record Run(
    long id, long productionId, int number, boolean comb, int priority, Instant startedAt) {}
