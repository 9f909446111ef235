package posada.core.trace.bake;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Random;
import org.junit.jupiter.api.Test;
import posada.core.irradiance.LightPoints;
import posada.core.irradiance.RareLight;
import posada.core.light.Luminance;

class PathSumsTest {
  private static final float[] UP = {0, 0, 0, 0, 0, 1};

  /**
   * Sums of paths with even density through light that is brighter above: cosine times (1, 2, 3).
   */
  private static PathSums under(int paths, long seed) {
    Random r = new Random(seed);
    PathSums sums = new PathSums(LightPoints.DARK);
    for (int i = 0; i < paths; i++) {
      double turn = 2 * Math.PI * r.nextDouble(), v = r.nextDouble();
      float cos = (float) Math.sqrt(1 - v), sin = (float) Math.sqrt(v);
      float[] way = {sin * (float) Math.cos(turn), sin * (float) Math.sin(turn), cos};
      float k = (float) Math.PI * cos;
      sums.add(way, new float[] {k, 2 * k, 3 * k}, 0.5f, UP);
      sums.count();
    }
    return sums;
  }

  @Test
  void irradianceIsTheIntegral() {
    PathSums sums = under(400_000, 1);
    for (int i = 0; i < 1000; i++) {
      sums.countChoice();
    }
    sums.addChosen(new float[] {0, 0, 1}, new float[] {8, 0, 0}, 250);
    sums.addStraight(new float[] {1, 0, 0}, new float[] {0, 4, 0}, 200_000);
    float[] point = new float[LightPoints.STRIDE];
    sums.store(point);
    // The integral of cosine squared over the hemisphere.
    for (int c = 0; c < 3; c++) {
      assertEquals((c + 1) * 2 * Math.PI / 3, point[LightPoints.FLUX + 3 * c + 2], 0.01 * (c + 1));
      assertEquals(0, point[LightPoints.FLUX + 3 * c], 0.02 * (c + 1));
    }
    float[] direct = new float[9];
    System.arraycopy(point, LightPoints.DIRECT, direct, 0, 9);
    assertArrayEquals(new float[] {0, 0, 2, 2, 0, 0, 0, 0, 0}, direct, 1e-5f);
    assertEquals(0.5, sums.near(), 1e-6);
  }

  @Test
  void errorIsWhatRepetitionsShow() {
    int times = 400, paths = 256;
    double mean = 0, squares = 0, told = 0;
    for (int i = 0; i < times; i++) {
      float[] point = new float[LightPoints.STRIDE];
      PathSums sums = under(paths, i);
      sums.countChoice();
      sums.store(point);
      double y =
          Luminance.of(
              point[LightPoints.FLUX + 2],
              point[LightPoints.FLUX + 5],
              point[LightPoints.FLUX + 8]);
      mean += y / times;
      squares += y * y / times;
      told += sums.error() / times;
    }
    double seen = Math.sqrt(squares - mean * mean) / (mean + LightPoints.DARK);
    assertEquals(seen, told, 0.12 * seen);
    assertEquals(told / 2, under(paths, 7).error(4 * paths), 0.1 * told);
  }

  @Test
  void pathsThatFindNothingCount() {
    PathSums sums = under(1000, 3);
    PathSums twice = under(1000, 3);
    for (int i = 0; i < 1000; i++) {
      // Of nothing at all.
      twice.count();
    }
    assertEquals(2000, twice.paths());
    assertEquals(sums.near() / 2, twice.near(), 1e-9);
  }

  /** What single paths have found beyond the limit is kept apart: nothing is lost. */
  @Test
  void whatIsRareIsSetApart() {
    PathSums whole = new PathSums(LightPoints.DARK), limited = new PathSums(LightPoints.DARK);
    limited.limit(5);
    Random r = new Random(4);
    for (int i = 0; i < 1000; i++) {
      float found = r.nextInt(100) == 0 ? 200 : 1;
      for (PathSums sums : new PathSums[] {whole, limited}) {
        sums.add(new float[] {0.6f, 0, 0.8f}, new float[] {found, found, 2 * found}, 0, UP);
        sums.count();
        sums.countChoice();
      }
    }
    float[] all = new float[LightPoints.STRIDE], own = new float[LightPoints.STRIDE];
    whole.store(all);
    limited.store(own);
    RareLight.Found found = limited.rare();
    float[] rare = found.flux();
    for (int k = 0; k < 9; k++) {
      float sum = all[LightPoints.FLUX + k];
      assertEquals(sum, own[LightPoints.FLUX + k] + rare[k], 1e-5 * Math.abs(sum) + 1e-9);
    }
    assertArrayEquals(new float[9], whole.rare().flux(), 0);
    assertEquals(1000, found.paths());
    // What ten or so of a thousand find beyond 5, each 200 times (1, 1, 2) on this surface.
    double over = Luminance.of(rare[2], rare[5], rare[8]);
    assertEquals(over * (200 * Luminance.of(1, 1, 2) - 5) / 1000, found.variance(), 1e-3 * over);
    // One path in about a hundred finds 5 instead of its 214.
    double y =
        Luminance.of(
            own[LightPoints.FLUX + 2], own[LightPoints.FLUX + 5], own[LightPoints.FLUX + 8]);
    assertEquals(0.99 * Luminance.of(1, 1, 2) + 0.01 * 5, y, 0.02);
    assertTrue(limited.error() < whole.error() / 3);
  }
}
