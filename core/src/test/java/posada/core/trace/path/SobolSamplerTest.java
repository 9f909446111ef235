package posada.core.trace.path;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.Arrays;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.settings.Sampling.Pattern;

/** How evenly the samples of a pixel lie. */
class SobolSamplerTest {
  private static final int LOG = 6;
  private static final int SAMPLES = 1 << LOG;

  /** Returns the four numbers of the n-th point of each sample of a pixel. */
  private static float[][] points(Pattern pattern, int x, int y, int n, int seed) {
    SobolSampler s = new SobolSampler(pattern);
    s.pixel(x, y, SAMPLES, seed);
    float[][] p = new float[SAMPLES][4];
    for (int i = 0; i < SAMPLES; i++) {
      s.start(i);
      for (int k = 0; k <= n; k++) {
        s.next();
      }
      p[i][0] = s.u;
      p[i][1] = s.v;
      s.more();
      p[i][2] = s.u;
      p[i][3] = s.v;
    }
    return p;
  }

  /** Returns the most points in one box of a grid. */
  private static int most(float[][] points, int[] dimensions, int[] cells) {
    int[] counts = new int[SAMPLES];
    for (float[] p : points) {
      int at = 0;
      for (int k = 0; k < cells.length; k++) {
        assertTrue(p[dimensions[k]] >= 0 && p[dimensions[k]] < 1);
        at = at * cells[k] + (int) (p[dimensions[k]] * cells[k]);
      }
      counts[at]++;
    }
    return Arrays.stream(counts).max().getAsInt();
  }

  @ParameterizedTest
  @ValueSource(ints = {0, 1, 7, 300})
  void everyPairIsSpreadAndAllFourTogether(int n) {
    float[][] p = points(Pattern.SPREAD, 5, 9, n, n + 1);
    for (int d = 0; d < 4; d++) {
      assertEquals(1, most(p, new int[] {d}, new int[] {SAMPLES}), "dimension " + d);
      for (int e = d + 1; e < 4; e++) {
        for (int bits = 1; bits < LOG; bits++) {
          int most = most(p, new int[] {d, e}, new int[] {1 << bits, SAMPLES >> bits});
          // The quality t of these pairs: 0 of the first two, at most 1 of the others, so that a
          // box of 1 / 64 has at most 2 of 64 points (H. Niederreiter, "Point Sets and Sequences
          // with Small Discrepancy", 1987, definition 2.2).
          assertTrue(most <= (d == 0 && e == 1 ? 1 : 2), d + ", " + e + ": " + most);
        }
      }
    }
    assertTrue(most(p, new int[] {0, 1, 2}, new int[] {4, 4, 4}) <= 2);
    assertTrue(most(p, new int[] {0, 1, 2, 3}, new int[] {4, 4, 2, 2}) <= 8);
  }

  @Test
  void randomPointsAreNotSpreadAndTheirNumbersDiffer() {
    float[][] p = points(Pattern.RANDOM, 5, 9, 3, 1);
    assertTrue(most(p, new int[] {0}, new int[] {SAMPLES}) > 1);
    assertTrue(most(p, new int[] {2, 3}, new int[] {8, 8}) > 2);
    for (float[] q : p) {
      assertNotEquals(q[0], q[2]);
      assertNotEquals(q[1], q[3]);
    }
  }

  @Test
  void neighboursAndSeedsDiffer() {
    float[][] here = points(Pattern.SPREAD, 5, 9, 0, 1);
    assertNotEquals(here[0][2], points(Pattern.SPREAD, 6, 9, 0, 1)[0][2]);
    assertNotEquals(here[0][2], points(Pattern.SPREAD, 5, 9, 0, 2)[0][2]);
    assertNotEquals(here[0][2], points(Pattern.SPREAD, 5, 9, 1, 1)[0][2]);
    assertEquals(here[0][2], points(Pattern.SPREAD, 5, 9, 0, 1)[0][2]);
  }
}
