package posada.server.runs;

import io.swagger.v3.oas.annotations.media.Schema;
import posada.formats.files.Extra;

/**
 * What is made of the frames of a strand.
 *
 * @param seconds that it took; null if it is not made yet
 * @param file absolute path
 * @param failure why it is not there; null if that is not so
 */
public record Finish(
    Extra extra,
    FrameState state,
    int attempts,
    @Schema(types = {"number", "null"}) Double seconds,
    String file,
    @Schema(types = {"string", "null"}) String failure) {}
