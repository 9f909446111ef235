package posada.server.definitions;

import io.swagger.v3.oas.annotations.media.Schema;
import posada.core.settings.Layer;
import posada.core.settings.PassSettings;
import posada.formats.settings.EnvironmentDocument;

/**
 * What a layer says.
 *
 * @param layer which objects take part and how
 * @param passes into which its pictures are taken apart
 * @param background true if the environment is seen behind the objects
 * @param environment in place of the scene's; null for the scene's
 * @param recipeId of the recipe that it has of its own; null for the shots'
 * @param deliveryId likewise
 */
public record LayerDocument(
    Layer layer,
    PassSettings passes,
    boolean background,
    EnvironmentDocument environment,
    @Schema(types = {"integer", "null"}) Long recipeId,
    @Schema(types = {"integer", "null"}) Long deliveryId) {
  public LayerDocument {
    if (layer == null || passes == null) {
      throw new IllegalArgumentException("a layer needs objects and passes");
    }
  }

  /** Returns the same under another name. */
  public LayerDocument named(String name) {
    return new LayerDocument(
        layer.named(name), passes, background, environment, recipeId, deliveryId);
  }

  /** Returns the same of other objects. */
  public LayerDocument with(Layer other) {
    return new LayerDocument(other, passes, background, environment, recipeId, deliveryId);
  }
}
