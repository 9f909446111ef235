package posada.core.trace.bake;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;

class LitDirectionsTest {
  private static final int N = 400_000;

  /** Some cells of very different brightness, and one beside another. */
  private static LitDirections some() {
    double[] squares = new double[LitDirections.CELLS];
    squares[5] = 3;
    squares[700] = 1;
    squares[701] = 100;
    squares[1500] = 0.01;
    return new LitDirections(squares, 0.01);
  }

  private static float[] even(Random r) {
    float[] d = new float[3];
    double y = 2 * r.nextDouble() - 1,
        turn = 2 * Math.PI * r.nextDouble(),
        k = Math.sqrt(1 - y * y);
    d[0] = (float) (k * Math.cos(turn));
    d[1] = (float) y;
    d[2] = (float) (k * Math.sin(turn));
    return d;
  }

  @Test
  void densitiesAddUpToOne() {
    LitDirections lit = some();
    Random r = new Random(1);
    double sum = 0, solid = 0;
    for (int i = 0; i < N; i++) {
      float[] d = even(r);
      sum += lit.density(d[0], d[1], d[2]) * 4 * Math.PI / N;
      // The square's area, summed up over the sphere.
      solid += 4 * Math.PI / N / LitDirections.stretch(d[0], d[1], d[2]);
    }
    // Four cells take few of the samples.
    assertEquals(1, sum, 0.1);
    assertEquals(4, solid, 0.01);
  }

  @Test
  void directionsAreChosenAsOftenAsTheirDensityTells() {
    LitDirections lit = some();
    Random r = new Random(2);
    float[] d = new float[3];
    double solid = 0;
    double[] inside = new double[LitDirections.CELLS];
    for (int i = 0; i < N; i++) {
      lit.choose(r.nextFloat(), r.nextFloat(), d);
      assertEquals(1, d[0] * d[0] + d[1] * d[1] + d[2] * d[2], 1e-5);
      inside[LitDirections.cell(d[0], d[1], d[2])]++;
      solid += 1.0 / lit.density(d[0], d[1], d[2]) / N;
    }
    // By the roots of 3, 1, 100 and 0.01.
    double all = Math.sqrt(3) + 1 + 10 + 0.1;
    assertEquals(Math.sqrt(3) / all, inside[5] / N, 2e-3);
    assertEquals(1 / all, inside[700] / N, 2e-3);
    assertEquals(10 / all, inside[701] / N, 2e-3);
    // One over the density integrates to the solid angle of the cells.
    double want = 0;
    Random even = new Random(3);
    for (int i = 0; i < N; i++) {
      float[] e = even(even);
      int c = LitDirections.cell(e[0], e[1], e[2]);
      want += c == 5 || c == 700 || c == 701 || c == 1500 ? 4 * Math.PI / N : 0;
    }
    assertEquals(want, solid, 0.1 * want);
  }

  @Test
  void lightThatOnePathMetIsChance() {
    List<LitRegions.Bright> all = new ArrayList<>();
    for (int k = 0; k < 10; k++) {
      float[] place = {k, 0, 0, 0, 1, 0};
      int other = k < 3 ? 400 : k;
      all.add(new LitRegions.Bright(place, new int[] {700, other}, new float[] {1, 50}, 0.1));
    }
    LitDirections lit = new LitRegions(all).at(new float[] {4, 0, 0, 0, 1, 0});
    float[] d = new float[3];
    for (int i = 0; i < 100; i++) {
      lit.choose(i / 100f, 0.5f, d);
      int cell = LitDirections.cell(d[0], d[1], d[2]);
      assertTrue(cell == 700 || cell == 400, "chosen from " + cell);
    }
    assertNull(new LitRegions(all).at(new float[] {4, 0, 0, 0, -1, 0}), "no point faces there");
  }
}
