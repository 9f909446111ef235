package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.material.Fresnel;
import posada.core.parallel.Workers;
import posada.core.scene.Material;
import posada.core.scene.Material.Transmission;
import posada.core.scene.Sky;
import posada.core.scene.Trs;
import posada.core.settings.Bounces;
import posada.core.settings.RenderSettings;

/** Glass against the formulas for slabs, panes and absorption. */
class GlassTest {
  private static final float[] WHITE = {1, 1, 1};

  /** Light from below only: what is seen from above went through. */
  private static Sky below() {
    return new Sky(
        new float[3], new float[3], new float[] {1, 1, 1}, new Vec3(0, 1, 0), new float[3], 1, 0);
  }

  private static Material glass(float ior, float thickness, float distance) {
    return Material.named("glass")
        .roughness(0)
        .specular(new Material.Specular(ior, 1, null, WHITE, null))
        .transmission(new Transmission(1, null, thickness, new float[] {0.5f, 0.25f, 1}, distance))
        .build();
  }

  private static double seen(TestScenes s, double degrees, String channel) {
    double a = Math.toRadians(degrees);
    s.camera(new Vec3(9 * Math.sin(a), 9 * Math.cos(a), 0), Vec3.ZERO, 0.5);
    RenderSettings settings = TestScenes.settings(512, 40, 0, 3);
    Bounces b = settings.bounces();
    settings = settings.with(new Bounces(40, 40, 40, 64, 0, b.roughnessFloor()));
    return TestScenes.mean(s.render(4, settings, Workers.CALLER), channel);
  }

  private static double reflectance(double degrees, double n) {
    double i = Math.toRadians(degrees), t = Math.asin(Math.sin(i) / n);
    double s = (Math.cos(i) - n * Math.cos(t)) / (Math.cos(i) + n * Math.cos(t));
    double p = (n * Math.cos(i) - Math.cos(t)) / (n * Math.cos(i) + Math.cos(t));
    return 0.5 * (s * s + p * p);
  }

  @ParameterizedTest
  @CsvSource({"0, 1.5", "35, 1.5", "60, 1.5", "80, 1.5", "45, 1.33", "45, 2.4"})
  void reflectionIsFresnels(double degrees, float n) {
    float cos = (float) Math.cos(Math.toRadians(degrees));
    assertEquals(reflectance(degrees, n), Fresnel.dielectric(cos, n), 1e-5);
  }

  @Test
  void nothingLeavesBeyondTheCriticalAngle() {
    assertEquals(1, Fresnel.dielectric((float) Math.cos(Math.toRadians(42)), 1 / 1.5f));
    assertEquals(true, Fresnel.dielectric((float) Math.cos(Math.toRadians(41)), 1 / 1.5f) < 1);
  }

  @ParameterizedTest
  @ValueSource(doubles = {0, 30, 60})
  void aSlabLetsThroughWhatBouncesInsideLeave(double degrees) {
    TestScenes s =
        new TestScenes()
            .sky(below())
            .box(Vec3.ZERO, new Vec3(40, 0.05, 40), glass(1.5f, 0.1f, Float.POSITIVE_INFINITY));
    double r = reflectance(degrees, 1.5);
    assertEquals((1 - r) / (1 + r), seen(s, degrees, "G"), 0.006);
  }

  @Test
  void aVolumeAbsorbsAlongThePath() {
    double thickness = 0.4, distance = 0.5, degrees = 40;
    TestScenes s =
        new TestScenes()
            .sky(below())
            .box(Vec3.ZERO, new Vec3(40, thickness / 2, 40), glass(1.5f, 0.4f, (float) distance));
    double path = thickness / Math.cos(Math.asin(Math.sin(Math.toRadians(degrees)) / 1.5));
    double r = reflectance(degrees, 1.5);
    String[] channels = {"R", "G", "B"};
    double[] tint = {0.5, 0.25, 1};
    for (int k = 0; k < 3; k++) {
      double a = Math.pow(tint[k], path / distance);
      double want = (1 - r) * (1 - r) * a / (1 - r * r * a * a);
      assertEquals(want, seen(s, degrees, channels[k]), 0.006, channels[k]);
    }
  }

  @ParameterizedTest
  @ValueSource(doubles = {0, 50})
  void aPaneLetsThroughWhatItDoesNotReflect(double degrees) {
    TestScenes s =
        new TestScenes()
            .sky(below())
            .square(Vec3.ZERO, 40, false, glass(1.5f, 0, Float.POSITIVE_INFINITY));
    assertEquals(1 - reflectance(degrees, 1.5), seen(s, degrees, "G"), 0.006);
  }

  /** A pane in front of a lamp dims it by the same, however the lamp is found. */
  @Test
  void lightsShineThroughPanes() {
    double[] level = new double[2];
    for (int k = 0; k < 2; k++) {
      TestScenes s =
          new TestScenes()
              .square(Vec3.ZERO, 40, false, TestScenes.chalk())
              .square(new Vec3(0, 3, 0), 0.2, true, TestScenes.lamp(50));
      if (k == 1) {
        s.square(new Vec3(0, 1, 0), 0.5, false, glass(1.5f, 0, Float.POSITIVE_INFINITY));
      }
      s.camera(new Vec3(0.3, 0.15, 0), Vec3.ZERO, 0.05);
      level[k] =
          TestScenes.mean(s.render(8, TestScenes.settings(256, 1, 0, 2), Workers.CALLER), "G");
    }
    assertEquals(1 - reflectance(0, 1.5), level[1] / level[0], 0.01);
  }

  /**
   * A square window in a wide black ceiling, under an even sky or a board as bright: the floor gets
   * that radiance times the configuration factor of a parallel rectangle (R. Siegel and J. Howell,
   * "Thermal Radiation Heat Transfer", C-1, four corners). With a pane that reflects nothing
   * directions are chosen through it, and few samples are enough.
   */
  @ParameterizedTest
  @CsvSource({"false, false", "true, false", "true, true"})
  void aWindowLightsARoomAsItsFactorSays(boolean pane, boolean board) {
    float a = 0.25f, far = 90;
    float[] ring = {
      -a, 0, -a, a, 0, -a, a, 0, a, -a, 0, a, -far, 0, -far, far, 0, -far, far, 0, far, -far, 0, far
    };
    int[] faces = {0, 4, 5, 0, 5, 1, 1, 5, 6, 1, 6, 2, 2, 6, 7, 2, 7, 3, 3, 7, 4, 3, 4, 0};
    float[] none = new float[3];
    float[] sky = board ? none : WHITE;
    TestScenes s =
        new TestScenes()
            .sky(new Sky(sky, sky, sky, new Vec3(0, 1, 0), none, 1, 0))
            .square(Vec3.ZERO, 80, false, TestScenes.chalk())
            .mesh(
                ring,
                faces,
                TestScenes.diffuse(0),
                new Trs(new Vec3(0, 1, 0), Quat.IDENTITY, Vec3.ONE));
    if (pane) {
      s.square(new Vec3(0, 1, 0), a, false, glass(1, 0, Float.POSITIVE_INFINITY));
    }
    if (board) {
      s.square(new Vec3(0, 2, 0), 80, true, Material.named("board").unlit(true).build());
    }
    s.camera(new Vec3(0.4, 0.6, 0), Vec3.ZERO, 0.05);
    double x = a / Math.sqrt(1 + a * a);
    double want = 4 * x * Math.atan(x) / Math.PI;
    int samples = board ? 1024 : pane ? 64 : 4096;
    assertEquals(
        want,
        TestScenes.mean(s.render(8, TestScenes.settings(samples, 1, 0, 2), Workers.CALLER), "G"),
        0.01 * want);
  }
}
