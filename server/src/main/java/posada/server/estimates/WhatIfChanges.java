package posada.server.estimates;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.UnaryOperator;
import org.springframework.stereotype.Service;
import org.springframework.transaction.annotation.Transactional;
import posada.core.settings.Layer;
import posada.core.settings.PassSettings;
import posada.core.settings.Recipe;
import posada.formats.batch.WhatIf;
import posada.formats.gltf.ImportException;
import posada.formats.settings.Documents;
import posada.server.app.ConflictException;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.definitions.Definition;
import posada.server.definitions.LayerDocument;
import posada.server.definitions.Layers;
import posada.server.definitions.Recipes;
import posada.server.shots.Shot;
import posada.server.shots.ShotService;
import posada.server.shots.Strand;
import posada.server.shots.StrandService;

/** Changes shots, layers and recipes of the strands that are on, all in one step. */
@Service
class WhatIfChanges {
  /** The smallest scale of a shot, per cent. */
  private static final int LEAST_SCALE = 25;

  /** Letters of a recipe's name that stay when its samples are put behind. */
  private static final int LONGEST_BASE = 30;

  private final StrandPlan plan;
  private final WhatIfService whatIf;
  private final ShotService shots;
  private final StrandService strands;
  private final Layers layers;
  private final Recipes recipes;

  WhatIfChanges(
      StrandPlan plan,
      WhatIfService whatIf,
      ShotService shots,
      StrandService strands,
      Layers layers,
      Recipes recipes) {
    this.plan = plan;
    this.whatIf = whatIf;
    this.shots = shots;
    this.strands = strands;
    this.layers = layers;
    this.recipes = recipes;
  }

  @Transactional
  void take(long production, WhatIf w) throws ImportException {
    List<Ready> on = plan.on(production);
    switch (w) {
      case HALF_SIZE -> shots(on, WhatIfChanges::half);
      case EVERY_SECOND_FRAME ->
          shots(on, s -> s.with(WhatIf.everySecond(s.frames()), s.width(), s.height(), s.scale()));
      case FEWER_SAMPLES -> recipes(on, WhatIf::fewerSamples);
      case BAKED_LIGHT -> recipes(on, WhatIf::bakedLight);
      case CLAY -> layers(on, d -> with(d, WhatIf.clay(d.layer()), d.passes()));
      case FEWER_PASSES -> {
        layers(on, d -> with(d, d.layer(), WhatIf.fewerPasses(d.passes())));
        ownPasses(production, on);
      }
    }
  }

  private static Shot half(Shot s) {
    return s.scale() > LEAST_SCALE
        ? s.with(s.frames(), s.width(), s.height(), s.scale() / 2)
        : s.with(s.frames(), WhatIf.half(s.width()), WhatIf.half(s.height()), s.scale());
  }

  private static LayerDocument with(LayerDocument d, Layer layer, PassSettings passes) {
    return new LayerDocument(
        layer, passes, d.background(), d.environment(), d.recipeId(), d.deliveryId());
  }

  private void shots(List<Ready> on, UnaryOperator<Shot> change) throws ImportException {
    Set<Long> done = new HashSet<>();
    for (Ready s : on) {
      if (done.add(s.shot().id())) {
        shots.change(change.apply(shots.find(s.shot().id())));
      }
    }
  }

  private void layers(List<Ready> on, UnaryOperator<LayerDocument> change) {
    Set<Long> done = new HashSet<>();
    for (Ready s : on) {
      if (done.add(s.layerId())) {
        Definition<LayerDocument> l = layers.find(s.layerId());
        layers.change(l.with(change.apply(l.document())));
      }
    }
  }

  private void ownPasses(long production, List<Ready> on) {
    List<Strand> some = new ArrayList<>();
    for (Strand s : strands.all(production)) {
      boolean isOn =
          on.stream().anyMatch(r -> r.shot().id() == s.shotId() && r.layerId() == s.layerId());
      if (isOn && s.passes() != null) {
        some.add(
            new Strand(
                s.id(),
                s.shotId(),
                s.layerId(),
                true,
                s.recipeId(),
                s.deliveryId(),
                WhatIf.fewerPasses(s.passes())));
      }
    }
    if (!some.isEmpty()) {
      strands.change(production, some);
    }
  }

  private void recipes(List<Ready> on, UnaryOperator<Recipe> change) {
    Set<Long> done = new HashSet<>();
    for (Ready s : on) {
      long id = recipeOf(s);
      if (done.add(id)) {
        Definition<Recipe> r = recipes.find(id);
        recipes.change(r.with(change.apply(r.document())));
      }
    }
  }

  /** The recipe that counts: the strand's own, the layer's or the shot's. */
  private long recipeOf(Ready s) {
    Long own =
        strands.all(s.production().id()).stream()
            .filter(x -> x.shotId() == s.shot().id() && x.layerId() == s.layerId())
            .map(Strand::recipeId)
            .filter(Objects::nonNull)
            .findFirst()
            .orElse(null);
    if (own != null) {
      return own;
    }
    Long layers = this.layers.find(s.layerId()).document().recipeId();
    return layers == null ? s.shot().recipeId() : layers;
  }

  @Transactional
  void fit(long production, double seconds) {
    WhatIfService.Fitting f = whatIf.fit(production, seconds);
    if (f.refusal() != null) {
      throw new ConflictException(f.refusal());
    }
    List<Strand> some = new ArrayList<>();
    for (WhatIfService.Fitted row : f.strands()) {
      if (row.samplesThen() == row.samplesNow()) {
        continue;
      }
      Ready s = plan.ready(row.shotId(), row.layerId());
      Definition<Recipe> r = recipes.find(recipeOf(s));
      Recipe fitted =
          r.document()
              .with(
                  r.document().sampling().with(row.samplesThen(), r.document().sampling().seed()));
      Strand own =
          strands.all(production).stream()
              .filter(x -> x.shotId() == row.shotId() && x.layerId() == row.layerId())
              .findFirst()
              .orElseThrow();
      some.add(
          new Strand(
              own.id(),
              own.shotId(),
              own.layerId(),
              own.on(),
              like(production, fittedName(r.name(), row.samplesThen()), fitted),
              own.deliveryId(),
              own.passes()));
    }
    if (some.isEmpty()) {
      throw new ConflictException("The samples fit that time already; nothing is changed.");
    }
    strands.change(production, some);
  }

  /** The name of a recipe with its samples, in place of those that were fitted before. */
  private static String fittedName(String name, int samples) {
    String base = name.replaceAll("-[0-9]+$", "");
    return base.substring(0, Math.min(LONGEST_BASE, base.length())) + "-" + samples;
  }

  /** Returns a recipe that says this, made if there is none. */
  private long like(long production, String name, Recipe wanted) {
    String text = Documents.write(wanted);
    return recipes.all(production).stream()
        .filter(r -> Documents.write(r.document()).equals(text))
        .findFirst()
        .orElseGet(() -> recipes.add(production, name, wanted))
        .id();
  }
}
