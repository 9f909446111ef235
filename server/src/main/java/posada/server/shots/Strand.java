package posada.server.shots;

import io.swagger.v3.oas.annotations.media.Schema;
import posada.core.settings.PassSettings;

/**
 * One layer of one shot: one sequence of frames.
 *
 * @param id 0 before anything was said about it
 * @param on true if it is rendered
 * @param recipeId of its own; null for the layer's or else the shot's
 * @param deliveryId likewise
 * @param passes of its own; null for the layer's
 */
public record Strand(
    long id,
    long shotId,
    long layerId,
    boolean on,
    @Schema(types = {"integer", "null"}) Long recipeId,
    @Schema(types = {"integer", "null"}) Long deliveryId,
    PassSettings passes) {
  Strand with(long other) {
    return new Strand(other, shotId, layerId, on, recipeId, deliveryId, passes);
  }
}
