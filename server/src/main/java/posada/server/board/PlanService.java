package posada.server.board;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.formats.batch.PlanDocument;
import posada.formats.gltf.ImportException;
import posada.server.app.NotFoundException;
import posada.server.definitions.Definition;
import posada.server.definitions.Definitions;
import posada.server.definitions.Deliveries;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.definitions.Rigs;
import posada.server.definitions.SceneRig;
import posada.server.productions.Production;
import posada.server.productions.ProductionService;
import posada.server.scenes.Revision;
import posada.server.scenes.SceneService;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.Strand;
import posada.server.shots.StrandService;

/** Writing a production down as a plan, and taking one over. */
@Service
class PlanService {
  private final ProductionService productions;
  private final SceneService scenes;
  private final Recipes recipes;
  private final Deliveries deliveries;
  private final Layers layers;
  private final Rigs rigs;
  private final ShotService shots;
  private final StrandService strands;

  PlanService(
      ProductionService productions,
      SceneService scenes,
      Recipes recipes,
      Deliveries deliveries,
      Layers layers,
      Rigs rigs,
      ShotService shots,
      StrandService strands) {
    this.productions = productions;
    this.scenes = scenes;
    this.recipes = recipes;
    this.deliveries = deliveries;
    this.layers = layers;
    this.rigs = rigs;
    this.shots = shots;
    this.strands = strands;
  }

  private Production production(long id) {
    return productions.all().stream()
        .filter(p -> p.id() == id)
        .findFirst()
        .orElseThrow(() -> new NotFoundException("There is no production " + id + "."));
  }

  /** The newest revision of each scene, by the scene's name. */
  private Map<String, Revision> newest(long production) {
    Map<String, Revision> all = new LinkedHashMap<>();
    for (Revision r : scenes.revisions(production)) {
      all.merge(r.scene(), r, (a, b) -> a.number() > b.number() ? a : b);
    }
    return all;
  }

  private static <D> String name(Definitions<D> all, Long id) {
    return id == null ? null : all.find(id).name();
  }

  /** Returns a production as a plan; scenes are named by the files that were imported. */
  PlanDocument plan(long id) {
    Production p = production(id);
    List<PlanDocument.Strand> said = new ArrayList<>();
    for (Strand s : strands.all(id)) {
      said.add(
          new PlanDocument.Strand(
              shots.find(s.shotId()).name(),
              layers.find(s.layerId()).name(),
              s.on(),
              name(recipes, s.recipeId()),
              name(deliveries, s.deliveryId()),
              s.passes()));
    }
    return new PlanDocument(
        PlanDocument.SCHEMA,
        p.name(),
        p.frameRate(),
        newest(id).values().stream()
            .map(r -> new PlanDocument.Scene(r.scene(), r.fileName(), scenes.rig(r)))
            .toList(),
        recipes.all(id).stream().map(d -> new PlanDocument.Recipe(d.name(), d.document())).toList(),
        deliveries.all(id).stream()
            .map(d -> new PlanDocument.NamedDelivery(d.name(), d.document()))
            .toList(),
        layers.all(id).stream().map(this::layer).toList(),
        shots.all(id).stream().map(this::shot).toList(),
        said);
  }

  private PlanDocument.PlanLayer layer(Definition<LayerDocument> l) {
    LayerDocument d = l.document();
    return new PlanDocument.PlanLayer(
        l.name(),
        name(recipes, d.recipeId()),
        name(deliveries, d.deliveryId()),
        d.background(),
        d.passes(),
        d.layer(),
        d.environment());
  }

  private PlanDocument.Shot shot(Shot s) {
    return new PlanDocument.Shot(
        s.name(),
        scenes.revision(s.revisionId()).scene(),
        s.camera(),
        s.frames(),
        s.width(),
        s.height(),
        s.scale(),
        name(recipes, s.recipeId()),
        name(deliveries, s.deliveryId()),
        s.settings());
  }

  /**
   * Takes a plan over: what it names is changed or made, the rest stays. All of it is one step, or
   * nothing if something of it cannot be.
   *
   * @return the production's plan afterwards
   */
  @Transactional
  public PlanDocument take(long id, PlanDocument plan) throws ImportException {
    production(id);
    Map<String, Revision> there = newest(id);
    for (int i = 0; i < plan.scenes().size(); i++) {
      PlanDocument.Scene s = plan.scenes().get(i);
      if (!there.containsKey(s.name())) {
        throw new IllegalArgumentException(
            "scenes["
                + i
                + "]: there is no scene \""
                + s.name()
                + "\" here; import "
                + s.file()
                + " first");
      }
    }
    for (PlanDocument.Scene s : plan.scenes()) {
      rigs.take(id, new SceneRig(s.name(), s.rig()));
    }
    for (PlanDocument.Recipe r : plan.recipes()) {
      put(recipes, id, r.name(), r.document());
    }
    for (PlanDocument.NamedDelivery d : plan.deliveries()) {
      put(deliveries, id, d.name(), d.document());
    }
    Map<String, Long> recipe = ids(recipes, id), delivery = ids(deliveries, id);
    for (PlanDocument.PlanLayer l : plan.layers()) {
      put(
          layers,
          id,
          l.name(),
          new LayerDocument(
              l.objects(),
              l.passes(),
              l.background(),
              l.environment(),
              recipe.get(l.recipe()),
              delivery.get(l.delivery())));
    }
    for (PlanDocument.Shot s : plan.shots()) {
      put(id, s, there.get(s.scene()), recipe.get(s.recipe()), delivery.get(s.delivery()));
    }
    Map<String, Long> layer = ids(layers, id);
    Map<String, Long> shot = new HashMap<>();
    shots.all(id).forEach(s -> shot.put(s.name(), s.id()));
    List<Strand> said = new ArrayList<>();
    for (PlanDocument.Strand s : plan.strands()) {
      said.add(
          new Strand(
              0,
              shot.get(s.shot()),
              layer.get(s.layer()),
              s.on(),
              recipe.get(s.recipe()),
              delivery.get(s.delivery()),
              s.passes()));
    }
    strands.change(id, said);
    return plan(id);
  }

  private static <D> Map<String, Long> ids(Definitions<D> all, long production) {
    return all.all(production).stream().collect(Collectors.toMap(Definition::name, Definition::id));
  }

  private static <D> void put(Definitions<D> all, long production, String name, D document) {
    Definition<D> there = all.named(production, name).orElse(null);
    if (there == null) {
      all.add(production, name, document);
    } else if (!there.document().equals(document)) {
      all.change(
          new Definition<>(there.id(), there.version(), production, name, there.place(), document));
    }
  }

  private void put(long production, PlanDocument.Shot s, Revision r, long recipe, long delivery)
      throws ImportException {
    Shot there =
        shots.all(production).stream()
            .filter(o -> o.name().equals(s.name()))
            .findFirst()
            .orElse(null);
    if (there == null) {
      there = shots.add(r.id(), s.camera());
    }
    Shot wanted =
        new Shot(
            there.id(),
            there.version(),
            r.id(),
            s.name(),
            s.camera(),
            s.frames(),
            s.width(),
            s.height(),
            s.scale(),
            there.place(),
            recipe,
            delivery,
            s.settings());
    if (!wanted.equals(there)) {
      shots.change(wanted);
    }
  }
}
