package posada.server.shots;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.LongFunction;
import java.util.stream.Collectors;
import org.springframework.stereotype.Component;
import posada.core.settings.Recipe;
import posada.formats.files.Delivery;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.RigDocument;
import posada.server.definitions.Definition;
import posada.server.definitions.Deliveries;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.scenes.SceneService;

/** Puts together what is said about a strand's pictures: by itself, its layer and its shot. */
@Component
public class StrandSettings {
  private final StrandRepository strands;
  private final Layers layers;
  private final Recipes recipes;
  private final Deliveries deliveries;
  private final SceneService scenes;

  StrandSettings(
      StrandRepository strands,
      Layers layers,
      Recipes recipes,
      Deliveries deliveries,
      SceneService scenes) {
    this.scenes = scenes;
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

  /** Returns the recipe of a strand. */
  public Definition<Recipe> recipe(Shot s, Definition<LayerDocument> l) {
    Long own = strands.find(s.id(), l.id()).map(Strand::recipeId).orElse(null);
    return recipes.find(first(own, l.document().recipeId(), s.recipeId()));
  }

  /** Returns all that is said about the pictures of each of a shot's strands that are on. */
  public List<RenderDocument> all(Shot s, long production) {
    return layers.all(production).stream().filter(l -> on(s, l)).map(l -> of(s, l)).toList();
  }

  /** A strand that is on, with all that is said about its pictures. */
  public record On(Shot shot, long layerId, RenderDocument document) {}

  /** Returns the strands of a production that are on, by shots and layers, in few queries. */
  public List<On> on(long production, List<Shot> shots) {
    List<Definition<LayerDocument>> columns = layers.all(production);
    Map<Long, Recipe> allRecipes = byId(recipes.all(production));
    Map<Long, Delivery> allDeliveries = byId(deliveries.all(production));
    Map<List<Long>, Strand> said = new HashMap<>();
    strands.all(production).forEach(s -> said.put(List.of(s.shotId(), s.layerId()), s));
    List<On> all = new ArrayList<>();
    Map<Long, RigDocument> allRigs = new HashMap<>();
    for (Shot s : shots) {
      // A map holds nothing for scenes without one, so it is asked for what it holds.
      if (!allRigs.containsKey(s.revisionId())) {
        allRigs.put(s.revisionId(), rig(s));
      }
      RigDocument rig = allRigs.get(s.revisionId());
      for (Definition<LayerDocument> l : columns) {
        Strand own = said.get(List.of(s.id(), l.id()));
        if (own != null && own.on()) {
          all.add(new On(s, l.id(), document(s, l, own, rig, allRecipes::get, allDeliveries::get)));
        }
      }
    }
    return all;
  }

  private static <D> Map<Long, D> byId(List<Definition<D>> all) {
    return all.stream().collect(Collectors.toMap(Definition::id, Definition::document));
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
    return document(
        s, l, own, rig(s), id -> recipes.find(id).document(), id -> deliveries.find(id).document());
  }

  private RigDocument rig(Shot s) {
    return scenes.rig(scenes.revision(s.revisionId()));
  }

  private static RenderDocument document(
      Shot s,
      Definition<LayerDocument> l,
      Strand own,
      RigDocument rig,
      LongFunction<Recipe> recipe,
      LongFunction<Delivery> delivery) {
    LayerDocument d = l.document();
    return new RenderDocument(
        RenderDocument.SCHEMA,
        recipe.apply(first(own.recipeId(), d.recipeId(), s.recipeId())),
        s.settings().lens(),
        s.settings().shutter(),
        s.settings().crop(),
        s.settings().clips(),
        d.background(),
        own.passes() == null ? d.passes() : own.passes(),
        d.layer(),
        d.environment(),
        delivery.apply(first(own.deliveryId(), d.deliveryId(), s.deliveryId())),
        rig);
  }

  private static long first(Long own, Long layers, long shots) {
    return own != null ? own : layers != null ? layers : shots;
  }
}
