package posada.server.board;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RestController;
import posada.core.plan.LayerPlan;
import posada.core.settings.Layer;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.formats.gltf.ImportException;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneLibrary;
import posada.server.scenes.SceneService;

@RestController
class LayerPlanController {
  private final Layers layers;
  private final Recipes recipes;
  private final SceneService scenes;
  private final SceneLibrary library;

  LayerPlanController(Layers layers, Recipes recipes, SceneService scenes, SceneLibrary library) {
    this.layers = layers;
    this.recipes = recipes;
    this.scenes = scenes;
    this.library = library;
  }

  /** How layers are to be made from a scene. */
  record NewLayers(long revisionId, LayerPlan.Way way) {}

  /** Makes layers from what a scene shows; all of them are one step. */
  @PostMapping("/api/layers/planned")
  List<Definition<LayerDocument>> plan(@RequestBody NewLayers n)
      throws ImportException, java.io.IOException {
    Revision r = scenes.revision(n.revisionId());
    long production = r.productionId();
    Map<String, Layer> all = LayerPlan.of(library.get(r.sha256(), r.fileName()).scene(), n.way());
    PassSettings passes = layers.first(production).document().passes();
    boolean clay = n.way() == LayerPlan.Way.CLAY;
    // Movement is approved quickly, by the beauty alone.
    PassSettings own = clay ? passes.with(Set.of(Pass.BEAUTY)) : passes;
    Long recipe =
        clay ? recipes.named(production, "preview").map(Definition::id).orElse(null) : null;
    List<Definition<LayerDocument>> made = new ArrayList<>();
    all.forEach(
        (name, layer) -> {
          // What is cut out lies over the others, which have the background.
          boolean background = layer.otherwise() == Layer.Role.SEEN;
          LayerDocument d = new LayerDocument(layer, own, background, null, recipe, null);
          made.add(layers.add(production, name, d));
        });
    return made;
  }
}
