package posada.server.layers;

import io.swagger.v3.oas.annotations.media.Schema;
import java.io.IOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import posada.core.plan.LayerPlan;
import posada.core.settings.Irradiance;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.core.trace.ObjectMap;
import posada.formats.gltf.ImportException;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;

/** Makes layers that suit a scene. */
@RestController
class SuggestionController {
  /** Longest side of the picture in which it is looked what is near, pixels. */
  private static final int LONGEST = 320;

  private final Layers layers;
  private final Recipes recipes;
  private final ShotService shots;
  private final SceneService scenes;
  private final SceneLibrary library;
  private final SeenObjects seen;

  SuggestionController(
      Layers layers,
      Recipes recipes,
      ShotService shots,
      SceneService scenes,
      SceneLibrary library,
      SeenObjects seen) {
    this.layers = layers;
    this.recipes = recipes;
    this.shots = shots;
    this.scenes = scenes;
    this.library = library;
    this.seen = seen;
  }

  /**
   * How layers are to be made from a scene.
   *
   * @param shotId through whose camera it is looked; null if that does not matter
   * @param frame at which
   * @param objects names of those that are wanted by themselves; null for none
   */
  record NewLayers(
      long revisionId,
      LayerPlan.Way way,
      @Schema(types = {"integer", "null"}) Long shotId,
      @Schema(types = {"integer", "null"}) Integer frame,
      @Schema(types = {"array", "null"}) List<String> objects) {}

  /** Makes layers from what a scene shows; all of them are one step. */
  @PostMapping("/api/layers/planned")
  List<Definition<LayerDocument>> plan(@RequestBody NewLayers n)
      throws ImportException, IOException {
    Revision r = scenes.revision(n.revisionId());
    long production = r.productionId();
    Shot shot = n.shotId() == null ? null : shots.find(n.shotId());
    Map<String, Layer> all = LayerPlan.of(scenes.rigged(r).scene(), n.way(), looked(n, shot));
    PassSettings passes = layers.first(production).document().passes();
    boolean clay = n.way() == LayerPlan.Way.CLAY;
    // Movement is approved quickly, by the beauty alone.
    PassSettings own = clay ? passes.with(Set.of(Pass.BEAUTY)) : passes;
    Long quick =
        clay ? recipes.named(production, "preview").map(Definition::id).orElse(null) : null;
    Long baked =
        n.way() == LayerPlan.Way.BAKED_BACKGROUND ? Long.valueOf(baked(production, shot)) : null;
    Set<String> behind = LayerPlan.withBackground(all);
    List<Definition<LayerDocument>> made = new ArrayList<>();
    all.forEach(
        (name, layer) -> {
          boolean background = behind.contains(name);
          Long recipe = background && baked != null ? baked : quick;
          LayerDocument d = new LayerDocument(layer, own, background, null, recipe, null);
          made.add(layers.add(production, name, d));
        });
    return made;
  }

  private LayerPlan.Looked looked(NewLayers n, Shot shot) throws ImportException {
    List<String> objects = n.objects() == null ? List.of() : n.objects();
    if (n.way() != LayerPlan.Way.NEAR_AND_FAR || shot == null || n.frame() == null) {
      return new LayerPlan.Looked(objects, null, null);
    }
    ObjectMap map = seen.at(shot, n.frame(), LONGEST);
    return new LayerPlan.Looked(objects, map.nodes(), map.distances());
  }

  /** The number of a recipe with baked light, made after the shot's if there is none. */
  private long baked(long production, Shot shot) {
    Definition<Recipe> like =
        shot == null ? recipes.first(production) : recipes.of(production, shot.recipeId());
    String name = like.name() + "-baked";
    return recipes
        .named(production, name)
        .orElseGet(
            () -> {
              Irradiance on = like.document().irradiance().used(true);
              return recipes.add(production, name, like.document().with(on));
            })
        .id();
  }
}
