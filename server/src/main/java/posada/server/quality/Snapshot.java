package posada.server.quality;

import io.swagger.v3.oas.annotations.media.Schema;
import java.time.Instant;
import posada.core.settings.Recipe;

/**
 * A picture that was kept, and what it was made with.
 *
 * @param frame of the shot
 * @param name as somebody calls it
 * @param width pixels of the picture; height likewise
 * @param samples of each pixel, most
 * @param noise share of the light, 0 .. 1; null if it was not known
 * @param seconds that the picture took
 * @param recipe it was made with
 */
record Snapshot(
    long id,
    long productionId,
    long shotId,
    long layerId,
    int frame,
    String name,
    Instant madeAt,
    int width,
    int height,
    int samples,
    @Schema(types = {"number", "null"}) Double noise,
    double seconds,
    Recipe recipe) {}
