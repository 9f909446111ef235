package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Scene;
import posada.core.scene.Track;
import posada.core.settings.Filter;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;

/** Blur in pixels against the formulas of lens and shutter. */
class LensTest {
  private static final int SIZE = 120;

  private static RenderSettings settings(int samples) {
    return RenderSettings.of(samples, 0).with(new Filter(Filter.Shape.BOX, 0.5));
  }

  private static Lens lens(double focal, double stop, double focus, int blades) {
    return new Lens(
        Track.of(focal),
        36,
        24,
        true,
        Track.of(stop),
        Track.of(focus),
        null,
        blades,
        0,
        Track.of(0));
  }

  private static FrameImage render(Scene s, RenderSettings settings) {
    return new RenderScene(s, Workers.CALLER)
        .frame(
            "eye",
            new Moment(1, 0, 24),
            SIZE,
            SIZE,
            settings.with(Set.of(Pass.BEAUTY, Pass.DEPTH)),
            Workers.CALLER,
            Stop.NEVER,
            null)
        .render(64, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  /** Columns of the middle row that are not black, weighed by how bright they are at most. */
  private static int lit(FrameImage i, boolean row) {
    float[] g = i.find("G");
    int count = 0;
    for (int k = 0; k < SIZE; k++) {
      count += g[row ? SIZE / 2 * SIZE + k : k * SIZE + SIZE / 2] > 0 ? 1 : 0;
    }
    return count;
  }

  /** Half of the dot's width over its distance: about a pixel. */
  private static final double DOT = 0.003;

  private static TestScenes dot(double distance) {
    double h = DOT * distance;
    return new TestScenes()
        .box(new Vec3(0, 0, -distance), new Vec3(h, h, h), TestScenes.lamp(100))
        .camera(Vec3.ZERO, new Vec3(0, 0, -1), 40);
  }

  /** Diameter on the film: f^2 / (N (s - f)) * |d - s| / d, with the film behind a thin lens. */
  @ParameterizedTest
  @CsvSource({"50, 0.7, 3, 6", "85, 1, 4, 2", "35, 1, 1, 8"})
  void aPointOutOfFocusIsADiscOfTheFormulasSize(
      double focal, double stop, double focus, double distance) {
    FrameImage i = render(dot(distance).scene(), settings(400).with(lens(focal, stop, focus, 0)));
    double f = focal * 1e-3;
    // The view's rays leave a pinhole image at distance f; the disc scales like the image does.
    double aperture = f / stop;
    double onFilm = aperture * Math.abs(distance - focus) / distance * f / focus;
    double pixels = onFilm / 24e-3 * SIZE;
    double own = 2 * DOT * f / 24e-3 * SIZE;
    assertEquals(pixels + own, lit(i, true), 2.01);
    assertEquals(lit(i, true), lit(i, false), 2.01);
  }

  @Test
  void whatIsInFocusIsSharpAndAPinholeIsSharpEverywhere() {
    Lens l = lens(50, 1.4, 4, 0);
    assertTrue(lit(render(dot(4).scene(), settings(64).with(l)), true) <= 3);
    Lens off =
        new Lens(
            l.focalLength(),
            36,
            24,
            false,
            l.fStop(),
            l.focusDistance(),
            null,
            l.blades(),
            0,
            Track.of(0));
    assertTrue(lit(render(dot(9).scene(), settings(64).with(off)), true) <= 3);
  }

  @Test
  void theLensFollowsAnObject() {
    Lens l =
        new Lens(
            Track.of(50), 36, 24, true, Track.of(1.4), Track.of(1), "object-0", 0, 0, Track.of(0));
    assertTrue(lit(render(dot(7).scene(), settings(64).with(l)), true) <= 3);
    Lens nobody =
        new Lens(
            Track.of(50), 36, 24, true, Track.of(1.4), Track.of(1), "nobody", 0, 0, Track.of(0));
    var e =
        assertThrows(
            IllegalArgumentException.class, () -> render(dot(7).scene(), settings(1).with(nobody)));
    assertTrue(e.getMessage().contains("nobody"));
  }

  @Test
  void withoutADistanceTheMiddleOfThePictureIsSharp() {
    Lens middle =
        new Lens(Track.of(50), 36, 24, true, Track.of(1.4), null, null, 0, 0, Track.of(0));
    assertTrue(lit(render(dot(7).scene(), settings(64).with(middle)), true) <= 3);
    // What the camera looks through is not what is meant.
    TestScenes pane = dot(7).square(new Vec3(0, -2, 0), 1, false, TestScenes.lamp(1));
    Layer.Rule unseen =
        new Layer.Rule(
            List.of(pane.nodes.get(pane.nodes.size() - 1).name()),
            Layer.Role.UNSEEN,
            null,
            null,
            null);
    Layer l = Layer.MAIN;
    Layer without =
        new Layer(
            "l",
            l.otherwise(),
            List.of(unseen),
            null,
            l.lights(),
            l.environment(),
            true,
            false,
            null);
    assertTrue(lit(render(pane.scene(), settings(64).with(middle).with(without)), true) <= 3);
  }

  @Test
  void fourBladesMakeASquareOfTheSameWidth() {
    FrameImage round = render(dot(8).scene(), settings(400).with(lens(50, 0.4, 2, 0)));
    FrameImage square = render(dot(8).scene(), settings(400).with(lens(50, 0.4, 2, 4)));
    assertEquals(lit(round, true), lit(square, true), 2.01);
    // 2 over pi without the dot's own width, which rounds both.
    double ratio = area(square) / area(round);
    assertTrue(ratio > 0.63 && ratio < 0.8, "ratio " + ratio);
  }

  private static double area(FrameImage i) {
    int n = 0;
    for (float g : i.find("G")) {
      n += g > 0 ? 1 : 0;
    }
    return n;
  }

  @Test
  void theFocalLengthGivesTheAngleOfView() {
    TestScenes s =
        new TestScenes()
            .square(new Vec3(0, -5, 0), 1, false, TestScenes.lamp(1))
            .camera(Vec3.ZERO, new Vec3(0, -1, 0), 90);
    Lens l =
        new Lens(Track.of(24), 36, 24, false, Track.of(8), Track.of(1), null, 0, 0, Track.of(0));
    // A film of 24 mm behind 24 mm sees 5 m of height at 5 m: the square takes two fifths.
    assertEquals(SIZE * 2 / 5.0, lit(render(s.scene(), settings(4).with(l)), true), 1);
  }

  private static Scene moving(TestScenes s, int node, Path path, float[] values) {
    Scene still = s.scene();
    Channel c = new Channel(node, path, Interpolation.LINEAR, new float[] {0, 1}, values);
    return new Scene(
        still.name(),
        still.nodes(),
        still.meshes(),
        still.materials(),
        still.textures(),
        still.cameras(),
        still.lights(),
        List.of(new Animation("move", List.of(c))),
        still.skins(),
        still.environment());
  }

  /** Pixels that the dot is wide itself under 40 degrees. */
  private static final double OWN = 2 * DOT / (2 * Math.tan(Math.toRadians(20))) * SIZE;

  private static Shutter shutter(double angle, double phase) {
    return new Shutter(true, angle, phase, true, true, true, 2);
  }

  @ParameterizedTest
  @ValueSource(doubles = {90, 180, 360})
  void aMovingDotDrawsALineOfTheFormulasLength(double angle) {
    // 12 m a second at 24 frames a second: half a metre a frame, seen from 5 m.
    float[] v = {0, 0, -5, 12, 0, -5};
    Scene s = moving(dot(5), 0, Path.TRANSLATION, v);
    FrameImage i = render(s, settings(256).with(shutter(angle, 0)));
    double metres = 0.5 * angle / 360;
    double height = 2 * 5 * Math.tan(Math.toRadians(20));
    assertEquals(metres / height * SIZE + OWN, lit(i, true), 1.51);
  }

  @Test
  void aMovingCameraDrawsTheSameLine() {
    float[] v = {0, 0, 0, 12, 0, 0};
    Scene s = moving(dot(5), 1, Path.TRANSLATION, v);
    FrameImage i = render(s, settings(256).with(shutter(180, 0)));
    double height = 2 * 5 * Math.tan(Math.toRadians(20));
    assertEquals(0.25 / height * SIZE + OWN, lit(i, true), 1.51);
    Shutter held = new Shutter(true, 180, 0, true, true, false, 2);
    assertTrue(lit(render(s, settings(64).with(held)), true) <= 3);
  }

  @Test
  void blurIsSwitchedOffWithoutLosingItsValues() {
    float[] v = {0, 0, -5, 12, 0, -5};
    Scene s = moving(dot(5), 0, Path.TRANSLATION, v);
    Shutter off = new Shutter(false, 180, 0, true, true, true, 2);
    assertTrue(lit(render(s, settings(64).with(off)), true) <= 3);
    Shutter noTransforms = new Shutter(true, 180, 0, false, true, true, 2);
    assertTrue(lit(render(s, settings(64).with(noTransforms)), true) <= 3);
  }
}
