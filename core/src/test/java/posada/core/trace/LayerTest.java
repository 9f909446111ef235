package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Sky;
import posada.core.settings.Crop;
import posada.core.settings.Filter;
import posada.core.settings.Layer;
import posada.core.settings.Layer.Role;
import posada.core.settings.Layer.Rule;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;

/** What a layer makes of the objects of a scene, against what must come out. */
class LayerTest {
  private static final int SIZE = 16;
  private static final int MIDDLE = SIZE / 2 * SIZE + SIZE / 2;

  private static Layer layer(Role otherwise, Rule... rules) {
    return layer(otherwise, null, List.of(), List.of(1f, 1f, 1f), false, rules);
  }

  private static Layer layer(
      Role otherwise,
      Layer.Plain material,
      List<Layer.Gain> lights,
      List<Float> sky,
      boolean under,
      Rule... rules) {
    return new Layer("test", otherwise, List.of(rules), material, lights, sky, true, under, null);
  }

  private static Rule role(String match, Role role) {
    return new Rule(List.of(match), role, null, null, null);
  }

  private static FrameImage render(TestScenes s, Layer l) {
    return render(s, l, Map.of());
  }

  private static FrameImage render(TestScenes s, Layer l, Map<String, List<String>> groups) {
    RenderSettings settings =
        RenderSettings.of(256, 1)
            .with(new Filter(Filter.Shape.BOX, 0.5))
            .with(new PassSettings(Set.of(Pass.BEAUTY, Pass.SHADOW), groups, 1, 1))
            .with(l);
    return new RenderScene(s.scene(), Workers.CALLER)
        .frame("eye", 0, SIZE, SIZE, settings)
        .render(256, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static Light lamp(String name, double intensity) {
    float[] white = {1, 1, 1};
    double all = Double.POSITIVE_INFINITY;
    return new Light(name, Light.Kind.POINT, white, intensity, all, 0, Math.PI / 4, 0);
  }

  /**
   * A floor, object-0, under a plate, object-1, that hides the right of it; looked at from above.
   */
  private static TestScenes floorAndPlate() {
    return new TestScenes()
        .square(Vec3.ZERO, 50, false, TestScenes.chalk())
        .box(new Vec3(5, 4, 0), new Vec3(5, 0.01, 5), TestScenes.diffuse(0.5))
        .light(lamp("lamp", 100), new Vec3(0, 8, 0), new Vec3(0, -1, 0))
        .camera(new Vec3(0, 12, 0), Vec3.ZERO, 20);
  }

  private static final int LEFT = SIZE / 2 * SIZE + 3;
  private static final int RIGHT = SIZE / 2 * SIZE + SIZE - 4;

  @Test
  void anUnseenObjectStillShadows() {
    FrameImage i = render(floorAndPlate(), layer(Role.SEEN, role("object-1", Role.UNSEEN)));
    assertTrue(i.find("G")[LEFT] > 0.1);
    assertEquals(0, i.find("G")[RIGHT], 0.03, "in its shadow");
    assertEquals(1, i.find("A")[RIGHT]);
  }

  /** One layer may serve shots of several scenes. */
  @Test
  void whatAnotherSceneHasCountsForNothing() {
    Rule elsewhere = new Rule(List.of("car-*"), Role.LEFT_OUT, false, null, List.of("lamps"));
    Map<String, List<String>> groups = Map.of("lamps", List.of("lamp-*"));
    assertArrayEquals(
        render(floorAndPlate(), layer(Role.SEEN), groups).find("R"),
        render(floorAndPlate(), layer(Role.SEEN, elsewhere), groups).find("R"));
  }

  @Test
  void whatIsLeftOutIsGoneEvenFromJoinedMeshes() {
    FrameImage i = render(floorAndPlate(), layer(Role.SEEN, role("object-1", Role.LEFT_OUT)));
    TestScenes without =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .light(lamp("lamp", 100), new Vec3(0, 8, 0), new Vec3(0, -1, 0))
            .camera(new Vec3(0, 12, 0), Vec3.ZERO, 20);
    assertEquals(render(without, Layer.MAIN).find("G")[RIGHT], i.find("G")[RIGHT], 1e-4);
    assertEquals(
        0, render(floorAndPlate(), layer(Role.SEEN, role("lamp", Role.LEFT_OUT))).find("G")[LEFT]);
  }

  @Test
  void aHoldoutCutsAHoleAndStillShadows() {
    FrameImage i = render(floorAndPlate(), layer(Role.SEEN, role("object-1", Role.HOLDOUT)));
    assertEquals(1, i.find("A")[LEFT]);
    assertEquals(0, i.find("A")[RIGHT]);
    assertEquals(0, i.find("G")[RIGHT]);
  }

  @Test
  void underAHoldoutEdgesKeepTheirStrength() {
    // The plate begins half a pixel right of the middle.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.5))
            .square(new Vec3(50 + 0.05, 1, 0), 50, false, TestScenes.diffuse(0.5))
            .sky(Sky.constant(1))
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 30);
    Rule cut = role("object-1", Role.HOLDOUT);
    float[] hole = render(s, layer(Role.SEEN, cut)).find("A");
    float[] under =
        render(s, layer(Role.SEEN, null, List.of(), List.of(1f, 1f, 1f), true, cut)).find("A");
    int edges = 0;
    for (int p = 0; p < hole.length; p++) {
      assertEquals(hole[p] > 0 ? 1 : 0, under[p], 1e-6);
      edges += hole[p] > 0.05 && hole[p] < 0.95 ? 1 : 0;
    }
    assertEquals(SIZE, edges, "one pixel of each row is cut");
  }

  @Test
  void aShadowCatcherHoldsItsShadowAlone() {
    FrameImage i =
        render(
            floorAndPlate(),
            layer(Role.SEEN, role("object-0", Role.SHADOW_CATCHER), role("object-1", Role.UNSEEN)));
    assertEquals(0, i.find("A")[LEFT], 1e-6, "lit");
    assertEquals(1, i.find("A")[RIGHT], 1e-6, "in shadow");
    assertEquals(0, i.find("G")[LEFT]);
    assertEquals(0, i.find("G")[RIGHT]);
  }

  /** A lamp gives as much as the sky: where the plate hides the lamp alone, half is blocked. */
  @Test
  void aCaughtShadowIsAShareOfAllLightAlsoOfTheSky() {
    double lamp = 60, height = 8;
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .box(new Vec3(5, 7.9, 0), new Vec3(0.5, 0.01, 0.5), TestScenes.diffuse(0.5))
            .light(lamp("lamp", lamp), new Vec3(5, height, 0), new Vec3(0, -1, 0))
            .sky(Sky.constant((float) (lamp / (height * height) / Math.PI)))
            .camera(new Vec3(5, 7, 0), new Vec3(5, 0, 0), 10);
    Rule plate = role("object-1", Role.UNSEEN);
    Rule alone = new Rule(List.of("object-0"), Role.SHADOW_CATCHER, false, null, null);
    for (Rule floor : List.of(role("object-0", Role.SHADOW_CATCHER), alone)) {
      FrameImage i = render(s, layer(Role.SEEN, floor, plate));
      assertEquals(0.5, i.find("A")[MIDDLE], 0.05);
    }
  }

  @Test
  void adaptiveSamplingSeesTheNoiseOfCaughtShadows() {
    // Under an open sky with a plate in the way, shadows on the floor are soft and noisy.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .box(new Vec3(5, 4, 0), new Vec3(5, 0.01, 5), TestScenes.diffuse(0.5))
            .sky(Sky.constant(1))
            .camera(new Vec3(0, 12, 0), Vec3.ZERO, 20);
    Layer l =
        layer(Role.SEEN, role("object-0", Role.SHADOW_CATCHER), role("object-1", Role.UNSEEN));
    RenderSettings settings =
        RenderSettings.DEFAULT.with(new Sampling(8, 256, true, 0.02, 0, 0, false)).with(l);
    FrameRenderer r =
        new RenderScene(s.scene(), Workers.CALLER).frame("eye", 0, SIZE, SIZE, settings);
    r.render(8, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
    assertTrue(r.report().samplesSpent() > 40L * SIZE * SIZE, r.report().toString());
  }

  @Test
  void anObjectThatCastsNoShadowLetsAllLightPass() {
    Rule lets = new Rule(List.of("object-1"), Role.UNSEEN, false, null, null);
    FrameImage with = render(floorAndPlate(), layer(Role.SEEN, lets));
    FrameImage without = render(floorAndPlate(), layer(Role.SEEN, role("object-1", Role.LEFT_OUT)));
    // Light from the plate's underside comes on top of what it lets pass.
    assertTrue(with.find("G")[RIGHT] >= without.find("G")[RIGHT] - 1e-3);
    assertEquals(1, with.find("shadow.Y")[RIGHT], 1e-6);
  }

  @Test
  void environmentPassesWhatCastsNoShadowInFull() {
    Material black =
        Material.named("black")
            .base(0, 0, 0, 1)
            .specular(new Material.Specular(1.5f, 0, null, new float[] {1, 1, 1}, null))
            .build();
    // A black sheet over the floor: with weights of two ways to find the sky, half would be lost.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .square(new Vec3(0, 1, 0), 50, true, black)
            .sky(Sky.constant(1))
            .camera(new Vec3(0, 0.5, 0), Vec3.ZERO, 20);
    Rule lets = new Rule(List.of("object-1"), null, false, null, null);
    assertEquals(1, TestScenes.mean(render(s, layer(Role.SEEN, lets)), "G"), 0.01);
  }

  @Test
  void mirrorsDoNotShowWhatIsNotReflected() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 1, false, Material.plain("mirror", 1, 1, 1, 1, 0))
            .square(new Vec3(0, 9, 0), 50, true, TestScenes.lamp(3))
            .sky(Sky.constant(1))
            .camera(new Vec3(0, 5, 1), Vec3.ZERO, 4);
    assertEquals(3, render(s, Layer.MAIN).find("G")[MIDDLE], 0.02);
    Rule hidden = new Rule(List.of("object-1"), null, null, false, null);
    assertEquals(1, render(s, layer(Role.SEEN, hidden)).find("G")[MIDDLE], 0.1);
  }

  @Test
  void anObjectIsLitByTheGroupsThatItReceives() {
    TestScenes s =
        new TestScenes()
            .square(new Vec3(-50, 0, 0), 50, false, TestScenes.chalk())
            .square(new Vec3(50, 0, 0), 50, false, TestScenes.chalk())
            .light(lamp("key", 100), new Vec3(0, 5, 0), new Vec3(0, -1, 0))
            .light(lamp("fill", 50), new Vec3(0, 5, 0), new Vec3(0, -1, 0))
            .camera(new Vec3(0, 6, 0), Vec3.ZERO, 20);
    Map<String, List<String>> groups = Map.of("key", List.of("key"));
    Rule keyed = new Rule(List.of("object-1"), null, null, null, List.of("key"));
    float[] all = render(s, Layer.MAIN, groups).find("G");
    float[] some = render(s, layer(Role.SEEN, keyed), groups).find("G");
    assertEquals(all[LEFT], some[LEFT], 1e-3);
    assertEquals(all[RIGHT] * 100 / 150, some[RIGHT], 0.02);
    Rule wrong = new Rule(List.of("object-1"), null, null, null, List.of("kez"));
    var e =
        assertThrows(
            IllegalArgumentException.class, () -> render(s, layer(Role.SEEN, wrong), groups));
    assertEquals("layer test names the light group \"kez\"; there are key, rest", e.getMessage());
  }

  @Test
  void clayAndFactorsReplaceMaterialsAndLights() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.diffuse(0.9))
            .sky(Sky.constant(1))
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 30);
    Layer.Plain clay = new Layer.Plain(Layer.Plain.Kind.CLAY, 0.25, List.of());
    List<Float> one = List.of(1f, 1f, 1f);
    Layer grey = layer(Role.SEEN, clay, List.of(), one, false);
    assertEquals(0.25, TestScenes.mean(render(s, grey), "G"), 0.005);
    Layer.Plain kept = new Layer.Plain(Layer.Plain.Kind.CLAY, 0.25, List.of("object-*"));
    Layer own = layer(Role.SEEN, kept, List.of(), one, false);
    assertEquals(
        TestScenes.mean(render(s, Layer.MAIN), "G"), TestScenes.mean(render(s, own), "G"), 1e-6);
    List<Float> tinted = List.of(0f, 0.5f, 1f);
    FrameImage dim = render(s, layer(Role.SEEN, clay, List.of(), tinted, false));
    assertEquals(0.125, TestScenes.mean(dim, "G"), 0.005);
    assertEquals(0, TestScenes.mean(dim, "R"));
    List<Layer.Gain> half = List.of(new Layer.Gain(List.of("lamp"), List.of(0.5f, 0.5f, 0.5f)));
    float[] full = render(floorAndPlate(), Layer.MAIN).find("G");
    float[] less = render(floorAndPlate(), layer(Role.SEEN, null, half, one, false)).find("G");
    assertEquals(0.5 * full[LEFT], less[LEFT], 1e-4);
  }

  @Test
  void factorsDimWhatGivesOffLight() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .square(new Vec3(0, 3, 0), 1, true, TestScenes.lamp(5))
            .camera(new Vec3(0, 2, 0), Vec3.ZERO, 30);
    List<Float> one = List.of(1f, 1f, 1f);
    double full = TestScenes.mean(render(s, Layer.MAIN), "G");
    for (float f : new float[] {0, 0.5f}) {
      List<Layer.Gain> gain = List.of(new Layer.Gain(List.of("object-1"), List.of(1f, f, 1f)));
      Layer l = layer(Role.SEEN, null, gain, one, false);
      assertEquals(f * full, TestScenes.mean(render(s, l), "G"), 0.01 * full);
      assertEquals(full, TestScenes.mean(render(s, l), "R"), 0.01 * full);
    }
    List<Layer.Gain> dark = List.of(new Layer.Gain(List.of("object-1"), List.of(0f, 0f, 0f)));
    assertEquals(0, TestScenes.mean(render(s, layer(Role.SEEN, null, dark, one, false)), "G"));
  }

  @Test
  void settingsThatAreTheSameReadTheSame() {
    // Fingerprints are made of this text: a thing's address in it would change from run to run.
    Layer.Plain clay = new Layer.Plain(Layer.Plain.Kind.CLAY, 0.25, List.of("a"));
    List<Layer.Gain> gain = List.of(new Layer.Gain(List.of("b"), List.of(1f, 1f, 1f)));
    Layer l = layer(Role.SEEN, clay, gain, List.of(1f, 1f, 1f), true, role("c", Role.UNSEEN));
    String text = RenderSettings.DEFAULT.with(l).toString();
    assertFalse(text.contains("@"), text);
  }

  @Test
  void theRegionThatFollowsIsTheProjectedBounds() {
    // A box of half size 1 at distance 10 below the camera; its near face at 9 is seen largest.
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, TestScenes.chalk())
            .box(new Vec3(2, 1, 0), new Vec3(1, 1, 1), TestScenes.chalk())
            .camera(new Vec3(0, 11, 0), Vec3.ZERO, 40);
    Layer.Region region = new Layer.Region(null, List.of("object-1"), 0, 1, false);
    Layer l =
        new Layer(
            "test",
            Role.SEEN,
            List.of(),
            null,
            List.of(),
            List.of(1f, 1f, 1f),
            true,
            false,
            region);
    RenderSettings settings =
        RenderSettings.of(4, 0).with(new Filter(Filter.Shape.BOX, 0.5)).with(l);
    RenderScene ready = new RenderScene(s.scene(), Workers.CALLER);
    int size = 200;
    Crop c =
        ready
            .regions("eye", List.of(Moment.at(0)), size, size, settings, Workers.CALLER, Stop.NEVER)
            .get(0);
    double k = size / 2.0 / Math.tan(Math.toRadians(20));
    assertEquals(Math.floor(100 + k / 11 - 0.5), c.x(), "left at the floor");
    assertEquals(Math.ceil(100 + 3 * k / 9 + 0.5), c.x() + c.width(), "right at the top");
    assertEquals(Math.floor(100 - k / 9 - 0.5), c.y());
    FrameImage cut =
        ready
            .frame("eye", 0, size, size, settings.with(c))
            .render(4, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
    assertEquals(new FrameImage.Window(c.x(), c.y(), size, size), cut.window());
    FrameImage whole =
        ready
            .frame("eye", 0, size, size, settings)
            .render(4, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
    for (int p = 0; p < cut.width() * cut.height(); p++) {
      int at = (c.y() + p / cut.width()) * size + c.x() + p % cut.width();
      assertEquals(whole.find("R")[at], cut.find("R")[p]);
    }
  }

  @Test
  void clayIsPutOnButForWhatTheLayerHasItself() {
    RenderSettings plain = RenderSettings.DEFAULT.clay();
    assertEquals(Layer.Plain.CLAY, plain.layer().material());
    assertEquals(1, plain.bounces().diffuse());
    assertEquals(RenderSettings.DEFAULT.bounces().specular(), plain.bounces().specular());
    Layer.Plain metal = new Layer.Plain(Layer.Plain.Kind.METAL, 0.3, List.of("car"));
    RenderSettings own = RenderSettings.DEFAULT.with(Layer.MAIN.of(metal)).withBounces(0, 0);
    assertEquals(metal, own.clay().layer().material());
    assertEquals(0, own.clay().bounces().diffuse());
    assertTrue(own.clay().denoising().picture());
  }
}
