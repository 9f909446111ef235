package posada.core.irradiance;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.function.IntToDoubleFunction;
import org.junit.jupiter.api.Test;
import posada.core.geometry.ShadingFrame;
import posada.core.parallel.Workers;

class RareLightTest {
  private static final int SIDE = 21;
  private static final int PATHS = 4000;

  /**
   * Points half a metre apart on a floor, with an irradiance of 1 without what is rare.
   *
   * @param wall true if a wall stands between the columns left and right of x = 0
   */
  private static LightPoints floor(boolean wall) {
    ShadingFrame up = new ShadingFrame();
    up.set(0, 1, 0);
    LightPoints p = new LightPoints();
    for (int i = 0; i < SIDE * SIDE; i++) {
      float[] d = new float[LightPoints.STRIDE];
      d[0] = x(i);
      d[2] = (i / SIDE - SIDE / 2) * 0.5f;
      d[4] = 1;
      for (int c = 0; c < 3; c++) {
        d[LightPoints.FLUX + 3 * c + 1] = 1;
      }
      d[LightPoints.RADIUS] = 0.5f;
      Arrays.fill(d, LightPoints.CLEARANCE, LightPoints.STRIDE, 9);
      for (int k = 0; wall && k < LightPoints.SECTORS; k++) {
        LightLookup.direction(k, up);
        if (up.rx * d[0] < 0) {
          d[LightPoints.CLEARANCE + k] = -d[0] / up.rx;
        }
      }
      p.add(d);
    }
    return p;
  }

  private static float x(int i) {
    return (i % SIDE - SIDE / 2 + 0.25f) * 0.5f;
  }

  /** Returns what points have that found so much by paths of a certain irradiance each. */
  private static double[] shared(LightPoints p, IntToDoubleFunction found, double each) {
    List<RareLight.Found> all = new ArrayList<>();
    for (int i = 0; i < p.count(); i++) {
      float y = (float) found.applyAsDouble(i);
      float[] flux = {0, y, 0, 0, y, 0, 0, y, 0};
      all.add(new RareLight.Found(flux, y * each / PATHS, PATHS));
    }
    new RareLight(p, all, LightPoints.DARK).share(false, Workers.CALLER);
    double[] out = new double[p.count()];
    for (int i = 0; i < out.length; i++) {
      out[i] = p.irradiance(i, false) - 1;
    }
    return out;
  }

  /** One path of one point: as much as its neighbours are likely to have missed. */
  @Test
  void whatOnePathHasFoundIsSpread() {
    int middle = SIDE * SIDE / 2;
    double[] light = shared(floor(false), i -> i == middle ? 1 : 0, PATHS);
    assertEquals(1, Arrays.stream(light).sum(), 0.08, "hardly any is lost");
    assertTrue(light[middle] < 0.03, "it had " + light[middle]);
    assertEquals(light[middle], light[middle + 1], 0.1 * light[middle]);
  }

  @Test
  void whatManyPathsHaveFoundStaysWhereItIs() {
    // A bright stripe, of which each point there has met five hundred paths.
    double[] light = shared(floor(false), i -> i % SIDE == 7 ? 0.5 : 0, 4);
    assertEquals(0.5, light[SIDE * 9 + 7], 1e-6);
    assertEquals(0, light[SIDE * 9 + 8], 1e-6);
  }

  @Test
  void wallsAreInTheWay() {
    int left = SIDE * SIDE / 2 - 1;
    assertTrue(x(left) < 0 && x(left + 1) > 0);
    double[] light = shared(floor(true), i -> i == left ? 1 : 0, PATHS);
    double beyond = 0;
    for (int i = 0; i < light.length; i++) {
      beyond += x(i) > 0 ? Math.abs(light[i]) : 0;
    }
    assertEquals(0, beyond, 1e-6);
    assertTrue(Arrays.stream(light).sum() > 0.5, "it goes along the wall");
  }

  @Test
  void wherePointsAreNoneNothingIsShared() {
    LightPoints none = new LightPoints();
    assertEquals(0, shared(none, i -> 1, PATHS).length);
  }

  /** A point with four times the paths knows four times as much. */
  @Test
  void morePathsCountForMore() {
    LightPoints p = floor(false);
    List<RareLight.Found> all = new ArrayList<>();
    for (int i = 0; i < p.count(); i++) {
      // Every second column has four times the paths, and met as many bright ones per path.
      float y = i % 2 == 0 ? 0.2f : 0.1f;
      float[] flux = {0, y, 0, 0, y, 0, 0, y, 0};
      all.add(new RareLight.Found(flux, 10, i % 2 == 0 ? 4 * PATHS : PATHS));
    }
    new RareLight(p, all, LightPoints.DARK).share(false, Workers.CALLER);
    assertEquals((4 * 0.2 + 0.1) / 5, p.irradiance(SIDE * SIDE / 2, false) - 1, 0.005);
  }
}
