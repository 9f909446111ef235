package posada.server.definitions;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import org.springframework.beans.factory.ObjectProvider;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import posada.core.assembly.Stack;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.formats.files.Delivery;
import posada.server.app.EventHub;
import posada.server.changes.ChangeLog;

/** Layers, recipes, deliveries, sets of passes, stacks and rigs over the API. */
@RestController
class DefinitionController {
  private final Layers layers;
  private final Recipes recipes;
  private final Deliveries deliveries;
  private final PassSets passSets;
  private final Stacks stacks;
  private final Rigs rigs;

  DefinitionController(
      Layers layers,
      Recipes recipes,
      Deliveries deliveries,
      PassSets passSets,
      Stacks stacks,
      Rigs rigs) {
    this.stacks = stacks;
    this.rigs = rigs;
    this.layers = layers;
    this.recipes = recipes;
    this.deliveries = deliveries;
    this.passSets = passSets;
  }

  @Configuration
  static class Wiring {
    @Bean
    Definitions.Parts definitionParts(
        DefinitionRepository repository,
        ChangeLog log,
        EventHub events,
        ObjectProvider<DefinitionUser> users) {
      return new Definitions.Parts(repository, log, events, users);
    }
  }

  /**
   * What a definition is made from.
   *
   * @param copyOf number of the one that it begins as; null for the first there is
   */
  record NewDefinition(
      long productionId, String name, @Schema(types = {"integer", "null"}) Long copyOf) {}

  private static <D> Definition<D> add(Definitions<D> all, NewDefinition n) {
    Definition<D> like =
        n.copyOf() == null ? all.first(n.productionId()) : all.of(n.productionId(), n.copyOf());
    return all.add(n.productionId(), n.name(), like.document());
  }

  private static <D> Definition<D> change(Definitions<D> all, long id, Definition<D> d) {
    if (d.id() != id) {
      throw new IllegalArgumentException("the number does not match the address");
    }
    return all.change(d);
  }

  @GetMapping("/api/recipes")
  List<Definition<Recipe>> recipes(@RequestParam long production) {
    return recipes.all(production);
  }

  @PostMapping("/api/recipes")
  Definition<Recipe> addRecipe(@RequestBody NewDefinition n) {
    return add(recipes, n);
  }

  @PutMapping("/api/recipes/{id}")
  Definition<Recipe> changeRecipe(@PathVariable long id, @RequestBody Definition<Recipe> d) {
    return change(recipes, id, d);
  }

  @DeleteMapping("/api/recipes/{id}")
  void removeRecipe(@PathVariable long id) {
    recipes.remove(id);
  }

  @GetMapping("/api/deliveries")
  List<Definition<Delivery>> deliveries(@RequestParam long production) {
    return deliveries.all(production);
  }

  @PostMapping("/api/deliveries")
  Definition<Delivery> addDelivery(@RequestBody NewDefinition n) {
    return add(deliveries, n);
  }

  @PutMapping("/api/deliveries/{id}")
  Definition<Delivery> changeDelivery(@PathVariable long id, @RequestBody Definition<Delivery> d) {
    return change(deliveries, id, d);
  }

  @DeleteMapping("/api/deliveries/{id}")
  void removeDelivery(@PathVariable long id) {
    deliveries.remove(id);
  }

  @GetMapping("/api/pass-sets")
  List<Definition<PassSettings>> passSets(@RequestParam long production) {
    return passSets.all(production);
  }

  /** What a set of passes is made from. */
  record NewPassSet(long productionId, String name, PassSettings document) {}

  @PostMapping("/api/pass-sets")
  Definition<PassSettings> addPassSet(@RequestBody NewPassSet n) {
    return passSets.add(n.productionId(), n.name(), n.document());
  }

  @DeleteMapping("/api/pass-sets/{id}")
  void removePassSet(@PathVariable long id) {
    passSets.remove(id);
  }

  @GetMapping("/api/stacks")
  List<Definition<Stack>> stacks(@RequestParam long production) {
    return stacks.all(production);
  }

  /** What a stack is made from. */
  record NewStack(long productionId, String name, Stack document) {}

  @PostMapping("/api/stacks")
  Definition<Stack> addStack(@RequestBody NewStack n) {
    return stacks.add(n.productionId(), n.name(), n.document());
  }

  @PutMapping("/api/stacks/{id}")
  Definition<Stack> changeStack(@PathVariable long id, @RequestBody Definition<Stack> d) {
    return change(stacks, id, d);
  }

  @DeleteMapping("/api/stacks/{id}")
  void removeStack(@PathVariable long id) {
    stacks.remove(id);
  }

  @GetMapping("/api/rigs")
  List<Definition<SceneRig>> rigs(@RequestParam long production) {
    return rigs.all(production);
  }

  /** Makes the rig of a scene. */
  @PostMapping("/api/rigs")
  Definition<SceneRig> addRig(@RequestParam long production, @RequestBody SceneRig rig) {
    return rigs.add(production, rig);
  }

  @PutMapping("/api/rigs/{id}")
  Definition<SceneRig> changeRig(@PathVariable long id, @RequestBody Definition<SceneRig> d) {
    return change(rigs, id, d);
  }

  @GetMapping("/api/layers")
  List<Definition<LayerDocument>> layers(@RequestParam long production) {
    return layers.all(production);
  }

  @PostMapping("/api/layers")
  Definition<LayerDocument> addLayer(@RequestBody NewDefinition n) {
    return add(layers, n);
  }

  /** Brings layers into an order. */
  @PutMapping("/api/layers/order")
  List<Definition<LayerDocument>> orderLayers(
      @RequestParam long production, @RequestBody List<Long> ids) {
    return layers.order(production, ids);
  }

  @PutMapping("/api/layers/{id}")
  Definition<LayerDocument> changeLayer(
      @PathVariable long id, @RequestBody Definition<LayerDocument> d) {
    return change(layers, id, d);
  }

  @DeleteMapping("/api/layers/{id}")
  void removeLayer(@PathVariable long id) {
    layers.remove(id);
  }
}
