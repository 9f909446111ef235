package posada.server.runs;

import io.swagger.v3.oas.annotations.media.Schema;

/**
 * One frame in the ledger.
 *
 * @param seconds render time; null if it was not rendered
 * @param failure why it failed; null if it did not
 */
public record LedgerLine(
    int frame,
    FrameState state,
    int attempts,
    @Schema(types = {"number", "null"}) Double seconds,
    String fingerprint,
    @Schema(types = {"string", "null"}) String failure) {}
