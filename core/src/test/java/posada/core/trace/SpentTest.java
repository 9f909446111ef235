package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Map;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Light;
import posada.core.scene.Scene;
import posada.core.settings.Bounces;
import posada.core.settings.Multipliers;
import posada.core.settings.RayKind;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameRenderer.Spent;

/** A matt square that fills the picture under a lamp: every ray can be counted by hand. */
class SpentTest {
  private static final int SIDE = 16, SAMPLES = 8;
  private static final long PATHS = (long) SIDE * SIDE * SAMPLES;

  private static Scene scene() {
    return new TestScenes()
        .square(Vec3.ZERO, 50, false, TestScenes.chalk())
        .camera(new Vec3(0, 5, 0), Vec3.ZERO, 40)
        .light(
            new Light(
                "lamp",
                Light.Kind.POINT,
                new float[] {1, 1, 1},
                100,
                Double.POSITIVE_INFINITY,
                0,
                1,
                0),
            new Vec3(0, 10, 0),
            new Vec3(0, -1, 0))
        .scene();
  }

  private static FrameRenderer rendered(RenderSettings s, boolean measured) {
    FrameRenderer r = new RenderScene(scene(), Workers.CALLER).frame("eye", 0, SIDE, SIDE, s);
    if (measured) {
      r.measure();
    }
    r.advance(SAMPLES, Workers.CALLER, Stop.NEVER);
    return r;
  }

  @Test
  void eachKindIsCounted() {
    Map<RayKind, Spent> all = rendered(RenderSettings.of(SAMPLES, 0), true).spent();
    assertEquals(PATHS, all.get(RayKind.CAMERA).rays());
    assertEquals(PATHS, all.get(RayKind.DIFFUSE).rays(), "from the square into the dark");
    assertEquals(PATHS, all.get(RayKind.LIGHTS).rays(), "the lamp is chosen once for each");
    assertEquals(0, all.get(RayKind.SPECULAR).rays());
    assertEquals(0, all.get(RayKind.TRANSMISSION).rays());
    assertTrue(all.get(RayKind.CAMERA).nanoseconds() > 0);
    assertEquals(0, all.get(RayKind.TRANSMISSION).nanoseconds());
  }

  @Test
  void multipliersAndBouncesShow() {
    RenderSettings s = RenderSettings.of(SAMPLES, 0);
    Map<RayKind, Spent> more = rendered(s.with(new Multipliers(1, 1, 1, 3)), true).spent();
    assertEquals(3 * PATHS, more.get(RayKind.LIGHTS).rays());
    Bounces none = s.bounces().none();
    Map<RayKind, Spent> dark = rendered(s.with(none), true).spent();
    assertEquals(PATHS, dark.get(RayKind.CAMERA).rays());
    assertEquals(0, dark.get(RayKind.DIFFUSE).rays() + dark.get(RayKind.LIGHTS).rays());
  }

  @Test
  void thePictureIsTheSame() {
    RenderSettings s = RenderSettings.of(SAMPLES, 0);
    assertArrayEquals(rendered(s, false).soFar().find("R"), rendered(s, true).soFar().find("R"));
  }
}
