package posada.server.runs;

import io.swagger.v3.oas.annotations.media.Schema;

/**
 * The baking of a run's light in the ledger: a task of its own, which the frames wait for.
 *
 * @param seconds it took; null if it was not baked here
 * @param points of light in it; null before it is there
 * @param failure why it failed; null if it did not
 */
public record Bake(
    FrameState state,
    int attempts,
    @Schema(types = {"number", "null"}) Double seconds,
    @Schema(types = {"integer", "null"}) Integer points,
    @Schema(types = {"string", "null"}) String failure) {}
