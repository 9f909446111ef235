package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import posada.core.geometry.Vec3;
import posada.core.parallel.Workers;
import posada.core.scene.Material;
import posada.core.scene.Sky;
import posada.core.settings.RenderSettings;

/** A white surface in even light of radiance 1 cannot be told from what surrounds it. */
class FurnaceTest {
  private static final RenderSettings SETTINGS = TestScenes.settings(256, 8, 0, 7);

  private static double seen(Material m, double degreesFromNormal) {
    double a = Math.toRadians(degreesFromNormal);
    Vec3 eye = new Vec3(Math.sin(a) * 3, Math.cos(a) * 3, 0);
    TestScenes s =
        new TestScenes()
            .square(Vec3.ZERO, 50, false, m)
            .camera(eye, Vec3.ZERO, 2)
            .sky(Sky.constant(1));
    return TestScenes.mean(s.render(12, SETTINGS, Workers.CALLER), "G");
  }

  @ParameterizedTest
  @CsvSource({"0", "45", "75"})
  void whiteDiffuseSendsEverythingBack(double degrees) {
    assertEquals(1, seen(Material.plain("d", 1, 1, 1, 0, 1), degrees), 0.005);
  }

  @ParameterizedTest
  @CsvSource({
    "0.05, 0",
    "0.05, 60",
    "0.2, 0",
    "0.2, 60",
    "0.5, 0",
    "0.5, 60",
    "0.5, 80",
    "1, 0",
    "1, 60",
    "1, 80"
  })
  void whiteMetalSendsEverythingBack(float roughness, double degrees) {
    assertEquals(1, seen(Material.plain("m", 1, 1, 1, 1, roughness), degrees), 0.005);
  }

  @Test
  void greyDiffuseStaysBelowItsAlbedoAndCoat() {
    double back = seen(Material.plain("d", 0.5f, 0.5f, 0.5f, 0, 1), 0);
    assertEquals(0.51, back, 0.02);
  }
}
