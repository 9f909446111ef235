package posada.server.quality;

import java.util.ArrayList;
import java.util.List;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.LayerPlan;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Recipe;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.Strand;
import posada.server.shots.StrandService;
import posada.server.shots.StrandSettings;

/** Changes recipes and layers so that light is baked. */
@Service
class BakedLightService {
  private final Layers layers;
  private final ShotService shots;
  private final StrandService strands;
  private final StrandSettings settings;
  private final Recipes recipes;

  BakedLightService(
      Layers layers,
      ShotService shots,
      StrandService strands,
      StrandSettings settings,
      Recipes recipes) {
    this.layers = layers;
    this.shots = shots;
    this.strands = strands;
    this.settings = settings;
    this.recipes = recipes;
  }

  /**
   * Has the light of a strand baked: by its recipe, or by a copy of that if others use it, too.
   * Returns the recipe that it has then; all is one step.
   */
  @Transactional
  Definition<Recipe> bake(Shot shot, Long layerId, int every) {
    long production = shots.productionOf(shot).id();
    Definition<LayerDocument> layer = shots.layer(shot, layerId);
    Definition<Recipe> own = settings.recipe(shot, layer);
    Recipe baked = baked(own.document(), every);
    boolean shared =
        shots.on(production).stream()
            .filter(s -> s.shot().id() != shot.id() || s.layerId() != layer.id())
            .anyMatch(s -> settings.recipe(s.shot(), layers.find(s.layerId())).id() == own.id());
    if (!shared) {
      return recipes.change(own.with(baked));
    }
    Definition<Recipe> made = like(production, own.name() + "-baked", baked);
    Strand now =
        strands.all(production).stream()
            .filter(s -> s.shotId() == shot.id() && s.layerId() == layer.id())
            .findFirst()
            .orElse(new Strand(0, shot.id(), layer.id(), false, null, null, null));
    strands.change(
        production,
        List.of(
            new Strand(
                now.id(),
                now.shotId(),
                now.layerId(),
                now.on(),
                made.id(),
                now.deliveryId(),
                now.passes())));
    return made;
  }

  private static Recipe baked(Recipe r, int every) {
    return r.with(r.irradiance().used(true).each(every));
  }

  /** The number of a recipe that is the same but for baked light. */
  private long unbaked(long production, Definition<Recipe> r) {
    Recipe d = r.document();
    return like(production, r.name() + "-unbaked", d.with(d.irradiance().used(false))).id();
  }

  /** A recipe that says this, by a name if that is free or is of the same. */
  private Definition<Recipe> like(long production, String name, Recipe said) {
    return recipes
        .named(production, name)
        .filter(r -> r.document().equals(said))
        .orElseGet(() -> recipes.add(production, name, said));
  }

  /**
   * Takes what moves out of a layer: changes it and makes one for their shadows and one for them;
   * returns all.
   */
  @Transactional
  List<Definition<LayerDocument>> apart(Shot shot, long layer, List<String> movers, Scene scene) {
    if (movers.isEmpty()) {
      throw new IllegalArgumentException(
          "No object moves in this layer; there is nothing to put apart.");
    }
    long production = shots.productionOf(shot).id();
    Definition<LayerDocument> from = layers.of(production, layer);
    LayerDocument d = from.document();
    List<Layer> apart = LayerPlan.without(d.layer(), movers, scene);
    List<Definition<LayerDocument>> all = new ArrayList<>();
    all.add(layers.change(from.with(d.with(apart.get(0)))));
    List<Strand> on =
        strands.all(production).stream().filter(s -> s.on() && s.layerId() == layer).toList();
    List<Strand> also = new ArrayList<>();
    // What moves cannot be lit by what is baked.
    Definition<Recipe> recipe = settings.recipe(shot, from);
    Long unbaked =
        recipe.document().irradiance().use() ? Long.valueOf(unbaked(production, recipe)) : null;
    for (Layer l : apart.subList(1, apart.size())) {
      // What is cut out lies over the rest, which has the background.
      Definition<LayerDocument> made =
          layers.add(
              production,
              l.name(),
              new LayerDocument(l, d.passes(), false, d.environment(), unbaked, d.deliveryId()));
      all.add(made);
      on.forEach(
          s ->
              also.add(
                  new Strand(0, s.shotId(), made.id(), true, null, s.deliveryId(), s.passes())));
    }
    strands.change(production, also);
    return all;
  }
}
