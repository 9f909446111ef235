package posada.server.review;

import io.swagger.v3.oas.annotations.media.Schema;
import java.time.Instant;

/**
 * A sequence from elsewhere that is looked at.
 *
 * @param folder absolute path of the folder that it was found in
 * @param pattern what its files are called below it, with # for each digit of the frame
 * @param film that the frames were taken from; null if they are files of their own
 * @param frameRate frames of a second
 */
record OutsideSequence(
    long id,
    long productionId,
    String name,
    String folder,
    String pattern,
    @Schema(types = {"string", "null"}) String film,
    double frameRate,
    Instant addedAt) {}
