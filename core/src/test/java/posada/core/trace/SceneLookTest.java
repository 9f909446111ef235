package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.geometry.Vec3;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Light;
import posada.core.scene.Scene;
import posada.core.settings.Irradiance;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;

class SceneLookTest {
  private static final Light LAMP =
      new Light(
          "lamp", Light.Kind.POINT, new float[] {1, 1, 1}, 5, Double.POSITIVE_INFINITY, 0, 1, 0);
  private static final Vec3 EYE = new Vec3(0, 5, 0);

  /** A square below a camera, with a lamp beside it. */
  private static TestScenes lit() {
    return new TestScenes()
        .square(Vec3.ZERO, 1, false, TestScenes.chalk())
        .light(LAMP, new Vec3(0, 3, 0), new Vec3(0, -1, 0));
  }

  private static SceneLook look(Scene s, RenderSettings settings) {
    List<Moment> moments = new ArrayList<>();
    for (int f = 1; f <= 24; f++) {
      moments.add(new Moment(f, f / 24.0, 24));
    }
    RenderScene ready = new RenderScene(s, Workers.CALLER);
    return SceneLook.of(ready, "eye", moments, settings, Workers.CALLER, Stop.NEVER);
  }

  private static SceneLook look(TestScenes s) {
    return look(s.scene(), RenderSettings.DEFAULT);
  }

  @Test
  void whatIsLitAndSeenIsNothingOdd() {
    SceneLook l = look(lit().camera(EYE, Vec3.ZERO, 40));
    assertEquals(SceneLook.MOST, l.looked().size());
    assertEquals(1, l.looked().get(0));
    assertEquals(24, l.looked().get(SceneLook.MOST - 1));
    assertEquals(List.of(), l.empty());
    assertEquals(Map.of(), l.inside());
    assertFalse(l.dark());
    // All of the square is five metres along where the camera looks, seen from the side too.
    assertEquals(5, l.nearest().get(1).metres(), 1e-5);
    assertEquals("object-0", l.nearest().get(24).object());
    SceneLook beside =
        look(lit().camera(new Vec3(0, 5, 0.5), Vec3.ZERO.plus(new Vec3(0, 0, 0.5)), 40));
    assertEquals(5, beside.nearest().get(1).metres(), 1e-5);
  }

  @Test
  void nothingSeenIsNotTakenForDark() {
    SceneLook l = look(lit().camera(EYE, new Vec3(0, 9, 0), 40));
    assertEquals(l.looked(), l.empty());
    assertFalse(l.dark());
  }

  @Test
  void withoutLightItIsDark() {
    TestScenes s = new TestScenes().square(Vec3.ZERO, 1, false, TestScenes.chalk());
    assertTrue(look(s.camera(EYE, Vec3.ZERO, 40)).dark());
    TestScenes glowing = new TestScenes().square(Vec3.ZERO, 1, false, TestScenes.lamp(1));
    assertFalse(look(glowing.camera(EYE, Vec3.ZERO, 40)).dark());
  }

  @Test
  void theObjectAroundTheCameraIsNamed() {
    TestScenes s =
        lit().box(EYE, new Vec3(0.3, 0.3, 0.3), TestScenes.chalk()).camera(EYE, Vec3.ZERO, 40);
    assertEquals("object-2", look(s).inside().get(1));
  }

  private static RenderSettings role(String object, Layer.Role role) {
    Layer m = Layer.MAIN;
    Layer.Rule rule = new Layer.Rule(List.of(object), role, null, null, null);
    return RenderSettings.DEFAULT.with(
        new Layer(
            m.name(),
            m.otherwise(),
            List.of(rule),
            null,
            m.lights(),
            m.environment(),
            true,
            false,
            null));
  }

  @Test
  void holesAreNoObjectsAndWhatIsUnseenHidesNone() {
    Scene alone = lit().camera(EYE, Vec3.ZERO, 40).scene();
    for (Layer.Role r : List.of(Layer.Role.HOLDOUT, Layer.Role.SHADOW_CATCHER)) {
      SceneLook hole = look(alone, role("object-0", r));
      assertEquals(hole.looked(), hole.empty(), r.toString());
      assertFalse(hole.dark());
    }
    Scene behind =
        lit()
            .square(new Vec3(0, 4, 0), 3, false, TestScenes.chalk())
            .camera(EYE, Vec3.ZERO, 40)
            .scene();
    assertEquals(List.of(), look(behind, role("object-2", Layer.Role.UNSEEN)).empty());
  }

  private static Scene moving(float... times) {
    Scene s = lit().camera(EYE, Vec3.ZERO, 40).scene();
    float[] places = new float[3 * times.length];
    places[places.length - 1] = 0.1f;
    Animation.Channel ride =
        new Animation.Channel(
            0, Animation.Path.TRANSLATION, Animation.Interpolation.LINEAR, times, places);
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
        s.environment());
  }

  @ParameterizedTest
  @CsvSource({"24, 24, true", "25, 24, false", "25, 25, true", "48, 24, true", "24, 48, true"})
  void keysAreHeldAgainstTheRate(int keys, double rate, boolean fits) {
    Scene s = moving(0, 1f / keys, 7f / keys);
    assertEquals(fits, look(s, RenderSettings.DEFAULT).keysFit(rate));
  }

  @Test
  void whatBakedLightWouldMissIsNamed() {
    Irradiance i = Irradiance.DEFAULT;
    RenderSettings baked =
        RenderSettings.DEFAULT.with(
            new Irradiance(true, i.every(), i.accuracy(), i.tolerance(), i.paths(), i.direct()));
    List<String> changes = look(moving(0, 1), baked).changes();
    assertTrue(changes.get(0).contains("object-0"), changes.toString());
    assertEquals(List.of(), look(moving(0, 1), RenderSettings.DEFAULT).changes());
  }
}
