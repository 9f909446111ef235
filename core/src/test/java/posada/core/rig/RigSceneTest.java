package posada.core.rig;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.Set;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;
import posada.core.scene.Light;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer;
import posada.core.trace.RenderScene;
import posada.core.trace.TestScenes;

/** What a rig makes of a scene. */
class RigSceneTest {
  private static final Quat DOWN = Quat.looking(new Vec3(0, -1, 0), new Vec3(0, 0, -1));

  /** A floor of chalk, 40 m wide. */
  private static TestScenes floor() {
    return new TestScenes().square(Vec3.ZERO, 20, false, TestScenes.chalk());
  }

  /** A scene in which {@code object-0} goes 8 m along +X in two seconds. */
  private static Scene moving() {
    Scene s = floor().scene();
    Channel c =
        new Channel(
            0,
            Path.TRANSLATION,
            Interpolation.LINEAR,
            new float[] {0, 2},
            new float[] {0, 0, 0, 8, 0, 0});
    return new Scene(
        s.name(),
        s.nodes(),
        s.meshes(),
        s.materials(),
        s.textures(),
        s.cameras(),
        s.lights(),
        List.of(new Animation("go", List.of(c))),
        Sky.constant(1));
  }

  private static RigKey key(double t, Vec3 p, Quat q) {
    return RigKey.of(t, p, q, null, Ease.EASED);
  }

  private static RigCamera above(double height) {
    return new RigCamera("above", false, 40, List.of(key(0, new Vec3(0, height, 0), DOWN)));
  }

  private static RigLight light(RigLight.Kind kind, double strength, double size, boolean seen) {
    return new RigLight(
        "lamp",
        kind,
        strength,
        List.of(1.0, 1.0, 1.0),
        null,
        size,
        size,
        60,
        0.2,
        seen,
        "",
        "",
        List.of(key(0, new Vec3(0, 2, 0), DOWN)),
        true);
  }

  private static Rig rig(List<RigCamera> cameras, RigLight... lights) {
    return new Rig(cameras, List.of(lights), List.of(), List.of());
  }

  private static FrameImage render(Scene s, String camera, int samples) {
    return new RenderScene(s, Workers.CALLER)
        .frame(camera, 0, 9, 9, RenderSettings.of(samples, 1).withBounces(1, 0))
        .render(samples, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE);
  }

  private static Affine at(Scene s, String camera, double t) {
    return Pose.at(s, t).world(s.cameraNode(camera));
  }

  @Test
  void itIsRenderedLikeWhatCameInTheFile() {
    Light same =
        new Light("lamp", Light.Kind.POINT, new float[] {1, 1, 1}, 50, 1 / 0.0, 0, 0.5, 0.1);
    Scene file =
        floor()
            .light(same, new Vec3(0, 2, 0), new Vec3(0, -1, 0))
            .camera(new Vec3(0, 8, 0), Vec3.ZERO, 40)
            .scene();
    RigCamera eye = new RigCamera("eye", false, 40, List.of(key(0, new Vec3(0, 8, 0), DOWN)));
    Scene rigged =
        RigScene.apply(
                floor().scene(),
                rig(List.of(eye), light(RigLight.Kind.POINT, 50, 0.1, false)),
                null)
            .scene();
    assertArrayEquals(
        render(file, "eye", 8).find("R"), render(rigged, "eye", 8).find("R"), "bit for bit");
  }

  @Test
  void sharingWhatIsBuiltChangesNoBit() {
    Scene base = moving();
    Rig r = rig(List.of(above(9)), light(RigLight.Kind.SPOT, 80, 0.2, true));
    Scene rigged = RigScene.apply(base, r, null).scene();
    RenderScene shared = new RenderScene(base, Workers.CALLER).changed(rigged, Workers.CALLER);
    float[] a =
        shared
            .frame("above", 0, 9, 9, RenderSettings.of(4, 1))
            .render(4, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE)
            .find("R");
    float[] b =
        new RenderScene(rigged, Workers.CALLER)
            .frame("above", 0, 9, 9, RenderSettings.of(4, 1))
            .render(4, Workers.CALLER, Stop.NEVER, FrameRenderer.Progress.NONE)
            .find("R");
    assertArrayEquals(a, b);
  }

  /** A disc of radius r, h above a point that faces it, gives the irradiance pi L r2/(r2 + h2). */
  @Test
  void aDiscThatTheCameraDoesNotSeeLightsTheFloorBelow() {
    RigCamera eye = new RigCamera("eye", true, 0.02, List.of(key(0, new Vec3(0, 8, 0), DOWN)));
    double expected = 5 * 1.0 / (1 + 4);
    for (boolean seen : new boolean[] {false, true}) {
      Scene s =
          RigScene.apply(
                  floor().scene(), rig(List.of(eye), light(RigLight.Kind.DISC, 5, 1, seen)), null)
              .scene();
      double mean = TestScenes.mean(render(s, "eye", 256), "R");
      // From above its back is black.
      assertEquals(seen ? 0 : expected, mean, 0.03 * expected, "seen: " + seen);
    }
  }

  @Test
  void aCameraFixedToAnObjectGoesWithIt() {
    RigCamera c =
        new RigCamera(
            "ride",
            false,
            40,
            "object-0",
            List.of(key(0, new Vec3(0, 3, 1), DOWN)),
            "",
            null,
            List.of(0.0, 0.0, 0.0),
            null,
            null);
    Scene s = RigScene.apply(moving(), rig(List.of(c)), null).scene();
    assertEquals(new Vec3(4, 3, 1), at(s, "ride", 1).translation());
  }

  @Test
  void aCameraThatLooksAtAnObjectHasItInTheMiddle() {
    RigCamera c =
        new RigCamera(
            "watch",
            false,
            40,
            "",
            List.of(key(0, new Vec3(0, 3, 10), Quat.IDENTITY)),
            "object-0",
            5.0,
            List.of(0.0, 0.0, 0.0),
            null,
            null);
    Scene s = RigScene.apply(moving(), rig(List.of(c)), null).scene();
    for (double t : new double[] {0, 0.4, 1.3, 2, 7}) {
      Affine a = at(s, "watch", t);
      assertEquals(5, a.translation().y(), 1e-6, "the height is held");
      Vec3 ahead = a.vector(new Vec3(0, 0, -1));
      Vec3 there = new Vec3(4 * Math.min(2, t), 0, 0).minus(a.translation()).normalized();
      assertEquals(1, ahead.dot(there), 1e-6, "at " + t);
    }
  }

  @Test
  void movesPlayWhateverIsChosenAndFramesLieOnTheCurve() {
    List<RigKey> keys = List.of(key(0.5, Vec3.ZERO, DOWN), key(2.5, new Vec3(8, 0, 0), DOWN));
    Scene s =
        RigScene.apply(moving(), rig(List.of(new RigCamera("dolly", false, 40, keys))), Set.of())
            .scene();
    for (int f = 12; f <= 60; f++) {
      double t = f / 24.0;
      double part = (t - 0.5) / 2;
      double x = Pose.at(s, t, Set.of()).world(s.cameraNode("dolly")).translation().x();
      assertEquals(8 * part * part * (3 - 2 * part), x, 2e-6, "frame " + f);
    }
  }

  @Test
  void aKeyedViewIsTheCamerasAngle() {
    List<RigKey> keys =
        List.of(
            new RigKey(0, List.of(0.0, 5.0, 0.0), quat(DOWN), 20.0, Ease.LINEAR),
            new RigKey(1, List.of(0.0, 5.0, 0.0), quat(DOWN), 60.0, Ease.LINEAR));
    Scene s =
        RigScene.apply(moving(), rig(List.of(new RigCamera("zoom", false, 40, keys))), null)
            .scene();
    double angle = Values.at(s, 0.5, null).cameras().get(0).verticalAngle();
    assertEquals(40, Math.toDegrees(angle), 1e-4);
  }

  private static List<Double> quat(Quat q) {
    return List.of(q.x(), q.y(), q.z(), q.w());
  }

  @Test
  void objectsComeAndGoAndMaterialsChange() {
    Rig r =
        new Rig(
            List.of(above(5)),
            List.of(),
            List.of(
                new ObjectChange(
                    "object-0",
                    List.of(new ObjectChange.Shown(0, true), new ObjectChange.Shown(1, false)),
                    true)),
            List.of(new MaterialChange("chalk", 0.5, List.of(1.0, 0.5, 1.0), 0.25, true)));
    Scene s = RigScene.apply(moving(), r, null).scene();
    assertTrue(Pose.at(s, 0.9).shown(0));
    assertFalse(Pose.at(s, 1).shown(0));
    float[] base = moving().materials().get(0).baseColor();
    assertEquals(0.25f * base[1], s.materials().get(0).baseColor()[1], 1e-6);
    assertEquals(0.25f * moving().materials().get(0).roughness(), s.materials().get(0).roughness());
  }

  @Test
  void whatDoesNotFitIsLeftOutAndToldWithAWayOut() {
    RigCamera gone =
        new RigCamera(
            "ride",
            false,
            40,
            "car",
            List.of(key(0, Vec3.ZERO, DOWN)),
            "",
            null,
            List.of(0.0, 0.0, 0.0),
            null,
            null);
    Rig r =
        new Rig(
            List.of(gone, above(4)),
            List.of(),
            List.of(),
            List.of(new MaterialChange("brass", 1, List.of(1.0, 1.0, 1.0), 1, true)));
    RigScene.Rigged made = RigScene.apply(moving(), r, null);
    assertEquals(-1, made.scene().cameraNode("ride"));
    assertTrue(made.scene().cameraNode("above") >= 0, "the rest is there");
    assertEquals(
        List.of(
            "The camera \"ride\" is fixed to \"car\", which is not in this scene; choose another"
                + " object, or none.",
            "There is no material \"brass\" in this scene; remove its change."),
        made.unfit().stream().map(RigScene.Unfit::why).toList());
  }
}
