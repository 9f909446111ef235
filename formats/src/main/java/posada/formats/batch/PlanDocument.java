package posada.formats.batch;

import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Objects;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.core.settings.Layer;
import posada.core.settings.Limits;
import posada.core.settings.PassSettings;
import posada.formats.files.Delivery;
import posada.formats.job.StrandDocument;
import posada.formats.settings.EnvironmentDocument;
import posada.formats.settings.RenderDocument;
import posada.formats.settings.RigDocument;
import posada.formats.settings.ShotDocument;

/**
 * A production's scenes, recipes, deliveries, layers, shots and strands; documented in {@code
 * docs/plan.md}. Everything names what it uses.
 *
 * @param schema number of this form; {@link #SCHEMA}
 * @param frameRate frames per second
 */
public record PlanDocument(
    int schema,
    String production,
    double frameRate,
    List<Scene> scenes,
    List<Recipe> recipes,
    List<NamedDelivery> deliveries,
    List<PlanLayer> layers,
    List<Shot> shots,
    List<Strand> strands) {
  /** The number of today's form. */
  public static final int SCHEMA = 1;

  private static final int SCALE = 100;

  /**
   * A scene file, by its path beside the plan.
   *
   * @param rig what is added to the scene; null for nothing
   */
  public record Scene(String name, String file, RigDocument rig) {
    public Scene {
      named("scene", name);
      Objects.requireNonNull(file, "a scene needs a file");
    }
  }

  public record Recipe(String name, posada.core.settings.Recipe document) {
    public Recipe {
      named("recipe", name);
      document = document == null ? posada.core.settings.Recipe.DEFAULT : document;
    }
  }

  public record NamedDelivery(String name, Delivery document) {
    public NamedDelivery {
      named("delivery", name);
      document = document == null ? Delivery.DEFAULT : document;
    }
  }

  /**
   * A layer; what it is called within its objects does not count.
   *
   * @param recipe that it has of its own; null for the shots'
   * @param delivery likewise
   * @param background false if the environment is not seen behind the objects; null for true
   * @param environment in place of the scene's; null for the scene's
   */
  public record PlanLayer(
      String name,
      String recipe,
      String delivery,
      Boolean background,
      PassSettings passes,
      Layer objects,
      EnvironmentDocument environment) {
    public PlanLayer {
      named("layer", name);
      background = background == null || background;
      passes = passes == null ? PassSettings.BEAUTY : passes;
      objects = (objects == null ? Layer.MAIN : objects).named(name);
    }
  }

  /**
   * A shot.
   *
   * @param scale percent of the size; null for 100
   */
  public record Shot(
      String name,
      String scene,
      String camera,
      String frames,
      int width,
      int height,
      Integer scale,
      String recipe,
      String delivery,
      ShotDocument settings) {
    public Shot {
      named("shot", name);
      if (camera == null || frames == null) {
        throw new IllegalArgumentException("shot " + name + " needs a camera and frames");
      }
      FrameRange.parse(frames);
      Limits.within("width of shot " + name, width, 1, Limits.MAX_SIDE);
      Limits.within("height of shot " + name, height, 1, Limits.MAX_SIDE);
      scale = scale == null ? SCALE : scale;
      Limits.within("scale of shot " + name, scale, 1, SCALE);
      settings = settings == null ? ShotDocument.DEFAULT : settings;
    }

    private int scaled(int side) {
      return Math.max(1, Math.round(side * scale / (float) SCALE));
    }
  }

  /**
   * A layer of a shot.
   *
   * @param on false if it is not rendered; null for true
   * @param recipe that it has of its own; null for the layer's or the shot's
   * @param delivery likewise
   * @param passes likewise
   */
  public record Strand(
      String shot, String layer, Boolean on, String recipe, String delivery, PassSettings passes) {
    public Strand {
      on = on == null || on;
    }
  }

  public PlanDocument {
    if (schema != SCHEMA) {
      throw new IllegalArgumentException(
          "schema must be " + SCHEMA + " (got " + schema + "): the plan is of another version");
    }
    named("production", production);
    new FrameRate(frameRate);
    scenes = listed(scenes);
    recipes = listed(recipes);
    deliveries = listed(deliveries);
    layers = listed(layers);
    shots = listed(shots);
    strands = listed(strands);
    once("scenes", scenes, Scene::name);
    once("recipes", recipes, Recipe::name);
    once("deliveries", deliveries, NamedDelivery::name);
    once("layers", layers, PlanLayer::name);
    once("shots", shots, Shot::name);
    once("strands", strands, s -> s.shot() + "/" + s.layer());
    for (int i = 0; i < layers.size(); i++) {
      PlanLayer l = layers.get(i);
      known("layers[" + i + "].recipe", l.recipe, names(recipes, Recipe::name), true);
      known("layers[" + i + "].delivery", l.delivery, names(deliveries, NamedDelivery::name), true);
    }
    for (int i = 0; i < shots.size(); i++) {
      Shot s = shots.get(i);
      String at = "shots[" + i + "].";
      known(at + "scene", s.scene, names(scenes, Scene::name), false);
      known(at + "recipe", s.recipe, names(recipes, Recipe::name), false);
      known(at + "delivery", s.delivery, names(deliveries, NamedDelivery::name), false);
    }
    for (int i = 0; i < strands.size(); i++) {
      Strand s = strands.get(i);
      String at = "strands[" + i + "].";
      known(at + "shot", s.shot, names(shots, Shot::name), false);
      known(at + "layer", s.layer, names(layers, PlanLayer::name), false);
      known(at + "recipe", s.recipe, names(recipes, Recipe::name), true);
      known(at + "delivery", s.delivery, names(deliveries, NamedDelivery::name), true);
    }
  }

  private static void named(String what, String name) {
    if (name == null || name.isBlank()) {
      throw new IllegalArgumentException("a " + what + " needs a name");
    }
  }

  private static <T> List<T> listed(List<T> list) {
    return list == null ? List.of() : List.copyOf(list);
  }

  private static <T> Set<String> names(List<T> all, Function<T, String> name) {
    return all.stream().map(name).collect(Collectors.toCollection(LinkedHashSet::new));
  }

  private static <T> void once(String what, List<T> all, Function<T, String> name) {
    Set<String> seen = new LinkedHashSet<>();
    for (T t : all) {
      if (!seen.add(name.apply(t))) {
        throw new IllegalArgumentException(
            what + ": \"" + name.apply(t) + "\" is there twice; give each a name of its own");
      }
    }
  }

  private static void known(String at, String name, Set<String> there, boolean orNull) {
    if (name == null && orNull || name != null && there.contains(name)) {
      return;
    }
    throw new IllegalArgumentException(
        at
            + ": there is no \""
            + name
            + "\"; "
            + (there.isEmpty() ? "there is none" : "there are " + String.join(", ", there)));
  }

  private static <T> T of(List<T> all, Function<T, String> name, String wanted) {
    return all.stream().filter(t -> name.apply(t).equals(wanted)).findFirst().orElseThrow();
  }

  /** Returns the strands that are on, as they would be rendered. */
  public List<PlanStrand> on(String date) {
    List<PlanStrand> all = new ArrayList<>();
    for (Strand s : strands) {
      if (s.on) {
        all.add(strand(s, date));
      }
    }
    return all;
  }

  private static String first(String own, String layers, String shots) {
    return own != null ? own : layers != null ? layers : shots;
  }

  private PlanStrand strand(Strand s, String date) {
    Shot shot = of(shots, Shot::name, s.shot);
    PlanLayer layer = of(layers, PlanLayer::name, s.layer);
    Scene scene = of(scenes, Scene::name, shot.scene);
    String recipe = first(s.recipe, layer.recipe, shot.recipe);
    String delivery = first(s.delivery, layer.delivery, shot.delivery);
    RenderDocument settings =
        new RenderDocument(
            RenderDocument.SCHEMA,
            of(recipes, Recipe::name, recipe).document,
            shot.settings.lens(),
            shot.settings.shutter(),
            shot.settings.crop(),
            shot.settings.clips(),
            layer.background,
            s.passes == null ? layer.passes : s.passes,
            layer.objects,
            layer.environment,
            of(deliveries, NamedDelivery::name, delivery).document,
            scene.rig);
    StrandDocument d =
        new StrandDocument(
            StrandDocument.SCHEMA,
            production,
            scene.name,
            1,
            "",
            scene.file,
            shot.name,
            shot.camera,
            shot.frames,
            frameRate,
            shot.scaled(shot.width),
            shot.scaled(shot.height),
            settings,
            1,
            date);
    return new PlanStrand(d, scene.file);
  }
}
