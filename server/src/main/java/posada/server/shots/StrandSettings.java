package posada.server.shots;

import java.util.List;
import org.springframework.stereotype.Component;
import posada.formats.settings.RenderDocument;
import posada.server.definitions.Definition;
import posada.server.definitions.Deliveries;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;

/** Puts together what is said about a strand's pictures: by itself, its layer and its shot. */
@Component
public class StrandSettings {
  private final StrandRepository strands;
  private final Layers layers;
  private final Recipes recipes;
  private final Deliveries deliveries;

  StrandSettings(StrandRepository strands, Layers layers, Recipes recipes, Deliveries deliveries) {
    this.strands = strands;
    this.layers = layers;
    this.recipes = recipes;
    this.deliveries = deliveries;
  }

  /**
   * Returns all that is said about a strand's pictures.
   *
   * @param layerId null for the first of the shot's layers that is on, or else the first there is
   */
  public RenderDocument of(Shot s, long production, Long layerId) {
    return of(s, layer(s, production, layerId));
  }

  /** Returns all that is said about the pictures of each of a shot's strands that are on. */
  public List<RenderDocument> all(Shot s, long production) {
    return layers.all(production).stream().filter(l -> on(s, l)).map(l -> of(s, l)).toList();
  }

  private boolean on(Shot s, Definition<LayerDocument> l) {
    return strands.find(s.id(), l.id()).map(Strand::on).orElse(false);
  }

  Definition<LayerDocument> layer(Shot s, long production, Long id) {
    if (id != null) {
      return layers.of(production, id);
    }
    return layers.all(production).stream()
        .filter(l -> on(s, l))
        .findFirst()
        .orElseGet(() -> layers.first(production));
  }

  private RenderDocument of(Shot s, Definition<LayerDocument> l) {
    Strand own =
        strands.find(s.id(), l.id()).orElse(new Strand(0, s.id(), l.id(), false, null, null, null));
    LayerDocument d = l.document();
    return new RenderDocument(
        RenderDocument.SCHEMA,
        recipes.find(first(own.recipeId(), d.recipeId(), s.recipeId())).document(),
        s.settings().lens(),
        s.settings().shutter(),
        s.settings().crop(),
        s.settings().clips(),
        d.background(),
        own.passes() == null ? d.passes() : own.passes(),
        d.layer(),
        d.environment(),
        deliveries.find(first(own.deliveryId(), d.deliveryId(), s.deliveryId())).document());
  }

  private static long first(Long own, Long layers, long shots) {
    return own != null ? own : layers != null ? layers : shots;
  }
}
