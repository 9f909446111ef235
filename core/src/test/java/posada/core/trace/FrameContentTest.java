package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;

import java.util.EnumMap;
import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Consumer;
import java.util.function.UnaryOperator;
import org.junit.jupiter.api.DynamicTest;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestFactory;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.RgbImage;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Camera;
import posada.core.scene.Environment;
import posada.core.scene.Light;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.scene.Track;
import posada.core.scene.Trs;
import posada.core.settings.Bounces;
import posada.core.settings.Crop;
import posada.core.settings.Denoising;
import posada.core.settings.Filter;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.Multipliers;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.settings.Shutter;
import posada.core.trace.FrameContent.Part;

/** Each kind of input alone: which parts of the fingerprint it changes, and what changes none. */
class FrameContentTest {
  private static final Moment NOW = new Moment(24, 1, 24);
  private static final Light LAMP =
      new Light(
          "lamp", Light.Kind.POINT, new float[] {1, 1, 1}, 5, Double.POSITIVE_INFINITY, 0, 1, 0);

  /** What a test changes. */
  private static final class Input {
    final TestScenes scene =
        new TestScenes()
            .square(Vec3.ZERO, 1, false, TestScenes.chalk())
            .box(new Vec3(0, 1, 0), new Vec3(0.2, 0.2, 0.2), TestScenes.diffuse(0.4))
            .light(LAMP, new Vec3(0, 3, 0), new Vec3(0, -1, 0))
            .camera(new Vec3(0, 5, 0), Vec3.ZERO, 40);

    /** Where the box is when a second has passed, keyed. */
    float there = 1;

    /** Where it is at the end, when two have. */
    float then = 1;

    Environment environment = Environment.of(Sky.PLAIN);
    RenderSettings settings = RenderSettings.DEFAULT;
    int width = 64;
    Crop region;
    String camera = "eye";
    Moment moment = NOW;

    private Scene built() {
      Channel ride =
          new Channel(
              1,
              Path.TRANSLATION,
              Interpolation.LINEAR,
              new float[] {0, 1, 2},
              new float[] {0, 1, 0, there, 1, 0, then, 1, 0});
      Scene s = scene.scene();
      return new Scene(
          s.name(),
          s.nodes(),
          s.meshes(),
          s.materials(),
          s.textures(),
          s.cameras(),
          s.lights(),
          List.of(new Animation("ride", List.of(ride))),
          s.skins(),
          environment);
    }

    private Map<Part, String> content() {
      return new RenderScene(built(), Workers.CALLER)
          .content(camera, width, 64, settings)
          .at(moment, region)
          .parts();
    }

    private void settings(UnaryOperator<RenderSettings> change) {
      settings = change.apply(settings);
    }

    private void node(int i, Trs at, String name) {
      Node n = scene.nodes.get(i);
      scene.nodes.set(i, new Node(name, -1, at, null, n.mesh(), n.camera(), n.light()));
    }
  }

  private static Set<Part> changed(Consumer<Input> change) {
    return changed(i -> {}, change);
  }

  private static Set<Part> changed(Consumer<Input> both, Consumer<Input> change) {
    Input before = new Input(), after = new Input();
    both.accept(before);
    both.accept(after);
    change.accept(after);
    Map<Part, String> a = before.content(), b = after.content();
    Set<Part> parts = EnumSet.noneOf(Part.class);
    b.forEach(
        (p, text) -> {
          if (!text.equals(a.get(p))) {
            parts.add(p);
          }
        });
    assertEquals(
        parts.isEmpty(), FrameContent.whole(a).equals(FrameContent.whole(b)), parts.toString());
    return parts;
  }

  private static Trs at(double x, double y, double z) {
    return new Trs(new Vec3(x, y, z), Quat.IDENTITY, Vec3.ONE);
  }

  private static Layer layer(Layer.Role otherwise, Layer.Rule... rules) {
    Layer m = Layer.MAIN;
    return new Layer(
        "main", otherwise, List.of(rules), null, m.lights(), m.environment(), true, false, null);
  }

  private static Layer.Rule rule(String match, Layer.Role role) {
    return new Layer.Rule(List.of(match), role, null, null, null);
  }

  @TestFactory
  List<DynamicTest> eachKindOfInputChangesItsPart() {
    Map<String, Consumer<Input>> camera = new LinkedHashMap<>();
    camera.put("its place", i -> i.node(3, at(0, 6, 0), "eye"));
    camera.put("its angle", i -> i.scene.cameras.set(0, new Camera("eye", 0.5, 0)));
    camera.put("exposure", i -> i.settings(s -> s.with(s.lens().exposed(Track.of(1)))));
    camera.put("lens", i -> i.settings(s -> s.with(focused(3))));
    camera.put(
        "shutter", i -> i.settings(s -> s.with(new Shutter(true, 90, 0, true, true, true, 1))));
    Map<String, Consumer<Input>> objects = new LinkedHashMap<>();
    objects.put("a place", i -> i.node(0, at(0, -1, 0), "object-0"));
    objects.put("a key", i -> i.there = 1.5f);
    objects.put(
        "a role",
        i -> i.settings(s -> s.with(layer(Layer.Role.SEEN, rule("object-0", Layer.Role.HOLDOUT)))));
    objects.put(
        "a shape",
        i ->
            i.scene.meshes.set(
                0, new TestScenes().square(Vec3.ZERO, 2, false, null).meshes.get(0)));
    Map<String, Consumer<Input>> materials = new LinkedHashMap<>();
    materials.put("a colour", i -> i.scene.materials.set(1, TestScenes.diffuse(0.5)));
    materials.put("clay", i -> i.settings(s -> s.with(s.layer().of(Layer.Plain.CLAY))));
    Map<String, Consumer<Input>> lights = new LinkedHashMap<>();
    lights.put("brightness", i -> i.scene.lights.set(0, LAMP.times(new float[] {2, 2, 2})));
    lights.put("its place", i -> i.node(2, at(1, 3, 0), "lamp"));
    Map<String, Consumer<Input>> around = new LinkedHashMap<>();
    around.put("sky", i -> i.environment = Environment.of(Sky.NONE));
    around.put("picture", i -> i.environment = picture(1, 0));
    around.put("factor", i -> i.settings(s -> s.with(dimmed())));
    Map<String, Consumer<Input>> size = new LinkedHashMap<>();
    size.put("width", i -> i.width = 65);
    size.put("region", i -> i.region = new Crop(0, 0, 8, 8, true));
    Map<String, Consumer<Input>> recipe = new LinkedHashMap<>();
    recipe.put("samples", i -> i.settings(s -> s.with(65, 0)));
    recipe.put("seed", i -> i.settings(s -> s.with(64, 1)));
    recipe.put(
        "noise", i -> i.settings(s -> s.with(new Sampling(16, 64, true, 0.02, 0, 0, false))));
    recipe.put("bounces", i -> i.settings(s -> s.with(new Bounces(3, 4, 12, 64, 10, 0.2))));
    recipe.put("clamp", i -> i.settings(s -> s.with(s.bounces().clampedAt(9))));
    recipe.put("multipliers", i -> i.settings(s -> s.with(new Multipliers(2, 1, 1, 1))));
    recipe.put("filter", i -> i.settings(s -> s.with(new Filter(Filter.Shape.BOX, 0.5))));
    recipe.put("denoise", i -> i.settings(s -> s.with(new Denoising(false, 0.5))));
    Map<String, Consumer<Input>> passes = new LinkedHashMap<>();
    passes.put("one more", i -> i.settings(s -> s.with(Set.of(Pass.BEAUTY, Pass.DEPTH))));
    passes.put("background", i -> i.settings(s -> s.with(false)));
    Map<Part, Map<String, Consumer<Input>>> kinds = new EnumMap<>(Part.class);
    kinds.put(Part.CAMERA, camera);
    kinds.put(Part.OBJECTS, objects);
    kinds.put(Part.MATERIALS, materials);
    kinds.put(Part.LIGHTS, lights);
    kinds.put(Part.ENVIRONMENT, around);
    kinds.put(Part.SIZE, size);
    kinds.put(Part.RECIPE, recipe);
    kinds.put(Part.PASSES, passes);
    return kinds.entrySet().stream()
        .flatMap(
            kind ->
                kind.getValue().entrySet().stream()
                    .map(
                        c ->
                            DynamicTest.dynamicTest(
                                kind.getKey() + ": " + c.getKey(),
                                () -> {
                                  Set<Part> parts = changed(c.getValue());
                                  // An open shutter sees objects at more times than one.
                                  parts.removeIf(
                                      p -> c.getKey().equals("shutter") && p == Part.OBJECTS);
                                  assertEquals(Set.of(kind.getKey()), parts);
                                })))
        .toList();
  }

  private static Lens focused(double metres) {
    Lens l = Lens.DEFAULT;
    return new Lens(null, 36, 24, true, l.fStop(), Track.of(metres), null, 0, 0, l.exposure());
  }

  private static Layer dimmed() {
    Layer m = Layer.MAIN;
    List<Float> half = List.of(.5f, .5f, .5f);
    return new Layer("main", Layer.Role.SEEN, List.of(), null, List.of(), half, true, false, null);
  }

  private static Environment picture(float first, double turnedAtTheEnd) {
    RgbImage image = new RgbImage(2, 1, new float[] {first, 1, 1, 1, 1, 1});
    Track turning = new Track(new double[] {1, 2}, new double[] {0, turnedAtTheEnd});
    return new Environment(
        Sky.NONE, new Environment.Picture("p", image, turning, Track.of(1)), null, new float[3]);
  }

  @TestFactory
  List<DynamicTest> whatMakesNoOtherPictureChangesNothing() {
    Consumer<Input> without =
        i -> i.settings(s -> s.with(layer(Layer.Role.SEEN, rule("object-1", Layer.Role.LEFT_OUT))));
    Map<String, Consumer<Input>> none = new LinkedHashMap<>();
    none.put("a name", i -> i.node(0, i.scene.nodes.get(0).trs(), "ground"));
    none.put(
        "a material's name",
        i -> i.scene.materials.set(1, i.scene.materials.get(1).changed().build()));
    none.put("a key of another time", i -> i.then = 7);
    none.put(
        "a lens's key of another time",
        i ->
            i.settings(
                s ->
                    s.with(s.lens().exposed(new Track(new double[] {1, 2}, new double[] {0, 3})))));
    none.put("another frame number", i -> i.moment = new Moment(25, 1, 24));
    List<DynamicTest> tests = new java.util.ArrayList<>();
    none.forEach(
        (what, change) ->
            tests.add(
                DynamicTest.dynamicTest(what, () -> assertEquals(Set.of(), changed(change)))));
    tests.add(
        DynamicTest.dynamicTest(
            "what is left out",
            () -> {
              assertEquals(Set.of(), changed(without, i -> i.there = 2));
              assertEquals(
                  Set.of(),
                  changed(without, i -> i.scene.materials.set(1, TestScenes.diffuse(0.9))));
            }));
    tests.add(
        DynamicTest.dynamicTest(
            "a colour under clay",
            () -> {
              Consumer<Input> clay = i -> i.settings(s -> s.with(s.layer().of(Layer.Plain.CLAY)));
              assertEquals(
                  Set.of(), changed(clay, i -> i.scene.materials.set(1, TestScenes.diffuse(0.9))));
              Consumer<Input> glow =
                  i ->
                      i.scene.materials.set(
                          1, TestScenes.diffuse(0.9).changed().emission(1, 1, 1).build());
              assertEquals(Set.of(Part.MATERIALS), changed(clay, glow));
            }));
    tests.add(
        DynamicTest.dynamicTest(
            "a turn of the picture at another time",
            () ->
                assertEquals(
                    Set.of(),
                    changed(
                        i -> i.environment = picture(1, 0), i -> i.environment = picture(1, 90)))));
    return tests;
  }

  @Test
  void namesCountWhereMattesAreMadeOfThem() {
    Consumer<Input> mattes =
        i -> i.settings(s -> s.with(Set.of(Pass.MATTE_OBJECTS, Pass.MATTE_MATERIALS)));
    assertEquals(
        Set.of(Part.PASSES), changed(mattes, i -> i.node(0, i.scene.nodes.get(0).trs(), "ground")));
  }

  @Test
  void whatMovesBetweenFramesCountsForMotion() {
    Consumer<Input> motion = i -> i.settings(s -> s.with(Set.of(Pass.MOTION_NEXT)));
    assertEquals(Set.of(), changed(i -> i.then = 7));
    assertEquals(Set.of(Part.OBJECTS), changed(motion, i -> i.then = 7));
  }

  @Test
  void bakedLightCounts() {
    RenderScene s = new RenderScene(new Input().built(), Workers.CALLER);
    RenderSettings r = RenderSettings.DEFAULT;
    var baked =
        s.bake(
            "eye",
            List.of(NOW),
            8,
            8,
            r,
            Workers.CALLER,
            posada.core.parallel.Stop.NEVER,
            x -> {},
            System::nanoTime);
    Map<Part, String> with =
        s.withBakedLight(baked).content("eye", 64, 64, r).at(NOW, null).parts();
    Map<Part, String> plain = s.content("eye", 64, 64, r).at(NOW, null).parts();
    assertNotEquals(with.get(Part.BAKED_LIGHT), plain.get(Part.BAKED_LIGHT));
  }

  @Test
  void lightGroupsCountByWhatIsInThem() {
    Consumer<Input> groups =
        i ->
            i.settings(
                s ->
                    s.with(
                        new PassSettings(
                            Set.of(Pass.LIGHT_GROUPS), Map.of("l", List.of("lamp")), 1, 1)));
    Set<Part> parts =
        changed(
            groups,
            i ->
                i.settings(
                    s ->
                        s.with(
                            new PassSettings(
                                Set.of(Pass.LIGHT_GROUPS),
                                Map.of("l", List.of("environment")),
                                1,
                                1))));
    assertEquals(Set.of(Part.LIGHTS, Part.PASSES), parts);
  }
}
