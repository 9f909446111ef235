package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.parallel.Workers;
import posada.core.scene.Light;
import posada.core.scene.Material;
import posada.core.scene.Sky;
import posada.core.settings.RenderSettings;

/**
 * Light on a floor against closed forms. The floor's reflectance towards the camera is not assumed:
 * it is measured once under a distant light of known irradiance straight above, and all positions
 * compared lie straight above too or keep the light's angle small.
 */
class IrradianceTest {
  private static final RenderSettings SETTINGS = TestScenes.settings(256, 1, 0, 3);
  private static final Vec3 DOWN = new Vec3(0, -1, 0);

  private static TestScenes floor() {
    return new TestScenes()
        .square(Vec3.ZERO, 40, false, TestScenes.diffuse(0.8))
        .camera(new Vec3(1.2, 3.6, 0), Vec3.ZERO, 0.2);
  }

  private static double seen(TestScenes s) {
    return TestScenes.mean(s.render(8, SETTINGS, Workers.CALLER), "G");
  }

  private static Light light(Light.Kind kind, double intensity, double size) {
    return new Light(
        "l",
        kind,
        new float[] {1, 1, 1},
        intensity,
        Double.POSITIVE_INFINITY,
        Math.toRadians(10),
        Math.toRadians(30),
        size);
  }

  /** Radiance sent to the camera for each unit of irradiance from straight above. */
  private static double reflectance() {
    return seen(floor().light(light(Light.Kind.DIRECTIONAL, 1, 0), Vec3.ZERO, DOWN));
  }

  @ParameterizedTest
  @ValueSource(doubles = {0, 0.05})
  void pointLightFallsWithTheSquareOfTheDistance(double size) {
    double rho = reflectance();
    for (double height : new double[] {1, 2, 3.5}) {
      Vec3 at = new Vec3(0, height, 0);
      double got = seen(floor().light(light(Light.Kind.POINT, 5, size), at, DOWN));
      assertEquals(5 / (height * height), got / rho, 0.004 * 5 / (height * height));
    }
  }

  @Test
  void spotFadesBetweenItsAnglesAsTheStandardSays() {
    double rho = reflectance();
    double tilt = Math.toRadians(20);
    Vec3 axis = new Vec3(Math.sin(tilt), -Math.cos(tilt), 0);
    double got = seen(floor().light(light(Light.Kind.SPOT, 6, 0), new Vec3(0, 2, 0), axis));
    double inner = Math.cos(Math.toRadians(10));
    double outer = Math.cos(Math.toRadians(30));
    double fade = Math.pow((Math.cos(tilt) - outer) / (inner - outer), 2);
    assertEquals(6.0 / 4 * fade, got / rho, 0.005);
  }

  @Test
  void nothingGetsOutsideASpot() {
    Vec3 axis = new Vec3(Math.sin(0.7), -Math.cos(0.7), 0);
    assertEquals(0, seen(floor().light(light(Light.Kind.SPOT, 6, 0), new Vec3(0, 2, 0), axis)));
  }

  /** Form factor of a square to a point under its centre, after J. Howell's catalogue, B-3. */
  private static double formFactor(double half, double height) {
    double a = half / height;
    double s = Math.sqrt(1 + a * a);
    return 4 / (2 * Math.PI) * (2 * a / s * Math.atan(a / s));
  }

  @ParameterizedTest
  @ValueSource(doubles = {0.05, 0.15, 0.3})
  void squareLampGivesTheFormFactorsIrradiance(double half) {
    double height = 2;
    double radiance = 3;
    Material lamp = Material.plain("lamp", 0, 0, 0, 0, 1).emitting(3, 3, 3);
    double got = seen(floor().square(new Vec3(0, height, 0), half, true, lamp));
    double want = Math.PI * radiance * formFactor(half, height);
    assertEquals(want, got / reflectance(), 0.012 * want);
  }

  @Test
  void aLampLightsNothingBehindIt() {
    Material lamp = Material.plain("lamp", 0, 0, 0, 0, 1).emitting(3, 3, 3);
    assertEquals(0, seen(floor().square(new Vec3(0, 2, 0), 0.3, false, lamp)));
  }

  @Test
  void haveTheSameLightWithAnyNumberOfThreads() {
    TestScenes s =
        floor()
            .square(
                new Vec3(0, 2, 0), 0.3, true, Material.plain("l", 0, 0, 0, 0, 1).emitting(3, 2, 1))
            .sky(Sky.PLAIN);
    RenderSettings few = TestScenes.settings(16, 4, 10, 5);
    FrameImage one = s.render(70, few, Workers.CALLER);
    var pool = java.util.concurrent.Executors.newFixedThreadPool(3);
    try {
      FrameImage three = s.render(70, few, new Workers(pool, 3));
      for (FrameImage.Channel c : one.channels()) {
        assertTrue(java.util.Arrays.equals(c.data(), three.find(c.name())), c.name());
      }
    } finally {
      pool.shutdown();
    }
  }

  @Test
  void depthIsTheDistanceAlongTheAxisAndAlphaTheCoverage() {
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 1, false, TestScenes.diffuse(0.5))
            .camera(new Vec3(0, 4, 0), Vec3.ZERO, 60)
            .sky(Sky.constant(1));
    FrameImage image = s.render(64, TestScenes.settings(4, 1, 0, 0), Workers.CALLER);
    float[] depth = image.find("depth.Z");
    float[] alpha = image.find("A");
    assertEquals(4, depth[32 * 64 + 32], 1e-4);
    assertEquals(4, depth[20 * 64 + 20], 1e-4);
    assertEquals(Float.POSITIVE_INFINITY, depth[0]);
    assertEquals(1, alpha[32 * 64 + 32]);
    assertEquals(0, alpha[0]);
    assertEquals(1, image.find("normal.Y")[32 * 64 + 32], 1e-5);
  }
}
