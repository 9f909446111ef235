package posada.server.shots;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.function.Function;
import java.util.stream.Collectors;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.formats.settings.Documents;
import posada.server.app.EventHub;
import posada.server.app.Stale;
import posada.server.changes.ChangeLog;
import posada.server.changes.Changeable;
import posada.server.definitions.Definition;
import posada.server.definitions.DefinitionUser;
import posada.server.definitions.Deliveries;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.productions.Production;
import posada.server.productions.ProductionPart;

/** Switching strands on and off, and what they say of their own. */
@Service
public class StrandService implements Changeable, DefinitionUser, ProductionPart {
  private static final String KIND = "strand";

  private final StrandRepository strands;
  private final ShotService shots;
  private final Layers layers;
  private final Recipes recipes;
  private final Deliveries deliveries;
  private final ChangeLog log;
  private final EventHub events;

  StrandService(
      StrandRepository strands,
      ShotService shots,
      Layers layers,
      Recipes recipes,
      Deliveries deliveries,
      ChangeLog log,
      EventHub events) {
    this.strands = strands;
    this.shots = shots;
    this.layers = layers;
    this.recipes = recipes;
    this.deliveries = deliveries;
    this.log = log;
    this.events = events;
  }

  /** Returns the strands of a production about which something was said. */
  public List<Strand> all(long production) {
    return strands.all(production);
  }

  /** Changes strands; all of them are one step. */
  @Transactional
  public List<Strand> change(long production, List<Strand> some) {
    List<Strand> now = new ArrayList<>();
    Map<Long, Shot> all = byId(shots.all(production), Shot::id);
    Map<Long, Definition<LayerDocument>> columns = byId(layers.all(production), Definition::id);
    for (Strand s : some) {
      Shot shot = all.containsKey(s.shotId()) ? all.get(s.shotId()) : shots.find(s.shotId());
      Definition<?> layer =
          columns.containsKey(s.layerId())
              ? columns.get(s.layerId())
              : layers.of(production, s.layerId());
      if (!all.containsKey(shot.id())) {
        throw new IllegalArgumentException(
            "Shot \"" + shot.name() + "\" is not of this production.");
      }
      shots.checkNamed(production, s.recipeId(), s.deliveryId());
      Strand before = strands.find(shot.id(), layer.id()).orElse(off(shot.id(), layer.id()));
      Strand put = strands.put(s);
      log.record(
          production,
          KIND,
          put.id(),
          Documents.write(before.with(put.id())),
          Documents.write(put),
          difference(before, put) + " " + layer.name() + " of shot " + shot.name());
      now.add(put);
    }
    events.publish(new Stale(Stale.Kind.STRANDS));
    return now;
  }

  private static <T> Map<Long, T> byId(List<T> all, Function<T, Long> id) {
    return all.stream().collect(Collectors.toMap(id, Function.identity()));
  }

  private static Strand off(long shot, long layer) {
    return new Strand(0, shot, layer, false, null, null, null);
  }

  private static String difference(Strand before, Strand now) {
    if (before.on() != now.on()) {
      return now.on() ? "switching on" : "switching off";
    }
    if (!Objects.equals(before.recipeId(), now.recipeId())) {
      return "recipe of layer";
    }
    return Objects.equals(before.deliveryId(), now.deliveryId())
        ? "passes of layer"
        : "delivery of layer";
  }

  @Override
  public String kind() {
    return KIND;
  }

  @Override
  public String state(long id) {
    return strands.find(id).map(Documents::write).orElse(null);
  }

  @Override
  public void bring(long id, String state) {
    Strand s = Documents.read(state, Strand.class);
    long production = shots.productionOf(shots.find(s.shotId())).id();
    shots.checkNamed(production, s.recipeId(), s.deliveryId());
    strands.put(s);
    events.publish(new Stale(Stale.Kind.STRANDS));
  }

  @Override
  public List<String> users(String kind, Definition<?> d) {
    List<String> by = new ArrayList<>();
    for (Strand s : all(d.productionId())) {
      Long id = kind.equals(Recipes.KIND) ? s.recipeId() : s.deliveryId();
      if (!kind.equals(Layers.KIND) && id != null && id == d.id()) {
        by.add("layer " + layers.find(s.layerId()).name() + " of " + shots.find(s.shotId()).name());
      }
    }
    return by;
  }

  @Override
  public int order() {
    return 3; // Behind shots and layers.
  }

  @Override
  public void copy(Production from, Production to) {
    for (Strand s : all(from.id())) {
      String shot = shots.find(s.shotId()).name();
      long same =
          shots.all(to.id()).stream()
              .filter(t -> t.name().equals(shot))
              .findFirst()
              .orElseThrow()
              .id();
      strands.put(
          new Strand(
              0,
              same,
              layers.sameIn(s.layerId(), to.id()),
              s.on(),
              recipes.sameIn(s.recipeId(), to.id()),
              deliveries.sameIn(s.deliveryId(), to.id()),
              s.passes()));
    }
  }
}
