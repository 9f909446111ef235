package posada.server.definitions;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.settings.Layer;
import posada.formats.settings.Documents;
import posada.server.app.Stale;

/** Making and changing layers. */
@Service
public class Layers extends Definitions<LayerDocument> implements DefinitionUser {
  public static final String KIND = "layer";

  private final Recipes recipes;
  private final Deliveries deliveries;

  Layers(Parts parts, Recipes recipes, Deliveries deliveries) {
    super(KIND, LayerDocument.class, Stale.Kind.LAYERS, Standards.layers(), parts);
    this.recipes = recipes;
    this.deliveries = deliveries;
  }

  /**
   * Lets layers name objects otherwise.
   *
   * @param names old names to new ones
   * @param both true if the old names go on being meant, too
   */
  @Transactional
  public void rename(long production, Map<String, String> names, boolean both) {
    for (Definition<LayerDocument> d : all(production)) {
      LayerDocument now = d.document().with(d.document().layer().renamed(names, both));
      if (!same(now, d.document())) {
        change(d.with(now));
      }
    }
  }

  @Override
  String difference(LayerDocument a, LayerDocument b) {
    if (!same(a.passes(), b.passes())) {
      return "passes";
    }
    if (!Objects.equals(a.recipeId(), b.recipeId())) {
      return "recipe";
    }
    if (!Objects.equals(a.deliveryId(), b.deliveryId())) {
      return "delivery";
    }
    return a.background() == b.background() ? difference(a.layer(), b.layer()) : "background";
  }

  private static String difference(Layer a, Layer b) {
    Map<String, Function<Layer, Object>> parts = new LinkedHashMap<>();
    parts.put("region", Layer::region);
    parts.put("material", Layer::material);
    parts.put("lights", Layer::lights);
    parts.put("factor on the environment", Layer::environment);
    parts.put("textures", Layer::textures);
    parts.put("merging", Layer::under);
    return parts.entrySet().stream()
        .filter(p -> !Objects.equals(p.getValue().apply(a), p.getValue().apply(b)))
        .map(Map.Entry::getKey)
        .findFirst()
        .orElse("objects");
  }

  private static boolean same(Object a, Object b) {
    return Documents.write(a).equals(Documents.write(b));
  }

  @Override
  Definition<LayerDocument> named(Definition<LayerDocument> d) {
    return new Definition<>(
        d.id(), d.version(), d.productionId(), d.name(), d.place(), d.document().named(d.name()));
  }

  @Override
  void check(long production, LayerDocument d) {
    if (d.recipeId() != null) {
      recipes.of(production, d.recipeId());
    }
    if (d.deliveryId() != null) {
      deliveries.of(production, d.deliveryId());
    }
  }

  @Override
  public int order() {
    return 1; // Behind recipes and deliveries.
  }

  @Override
  LayerDocument moved(LayerDocument d, long from, long to) {
    return new LayerDocument(
        d.layer(),
        d.passes(),
        d.background(),
        d.environment(),
        recipes.sameIn(d.recipeId(), to),
        deliveries.sameIn(d.deliveryId(), to));
  }

  @Override
  public List<String> users(String kind, Definition<?> d) {
    List<String> by = new ArrayList<>();
    for (Definition<LayerDocument> l : all(d.productionId())) {
      Long id = kind.equals(Recipes.KIND) ? l.document().recipeId() : l.document().deliveryId();
      if (!kind.equals(KIND) && id != null && id == d.id()) {
        by.add("layer " + l.name());
      }
    }
    return by;
  }
}
