package posada.server.runs;

import io.swagger.v3.oas.annotations.media.Schema;

/**
 * One frame of a strand of a run.
 *
 * @param source the frame that is rendered for it
 * @param seconds render time; null if it was not rendered
 * @param failure why it failed last; null if it did not
 */
public record FrameLine(
    int frame,
    int source,
    FrameState state,
    int attempts,
    @Schema(types = {"number", "null"}) Double seconds,
    @Schema(types = {"string", "null"}) String fingerprint,
    @Schema(types = {"string", "null"}) String failure) {}
