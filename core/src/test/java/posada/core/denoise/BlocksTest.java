package posada.core.denoise;

import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.Arrays;
import org.junit.jupiter.api.Test;
import posada.core.parallel.Workers;

/** On a picture of two walls that meet at a column: squares of it belong to one of them each. */
class BlocksTest {
  private static final int W = 21;
  private static final int H = 14;
  private static final int SIDE = 4;

  /** Column from which on the second wall is seen: inside of the third column of squares. */
  private static final int EDGE = 11;

  private static final float[][] NORMALS = {{0, 0, 1}, {1, 0, 0}};

  private static Blocks blocks() {
    float[][] normal = new float[3][W * H];
    float[][] nearness = new float[1][W * H];
    Arrays.fill(nearness[0], 0.5f);
    for (int i = 0; i < W * H; i++) {
      for (int c = 0; c < 3; c++) {
        normal[c][i] = NORMALS[i % W < EDGE ? 0 : 1][c];
      }
    }
    float[] none = new float[W * H];
    Surfaces s =
        new Surfaces(W, H, new Noisy(normal, none), new Noisy(nearness, none), Workers.CALLER);
    return new Blocks(s, SIDE, Workers.CALLER);
  }

  /** One wall is 1, the other 5. */
  private static float[] walls() {
    float[] plane = new float[W * H];
    for (int i = 0; i < plane.length; i++) {
      plane[i] = i % W < EDGE ? 1 : 5;
    }
    return plane;
  }

  @Test
  void squaresStandForTheWallThatMostOfThemShows() {
    Blocks b = blocks();
    assertEquals(6, b.columns);
    assertEquals(4, b.lines);
    float[] means = b.means(new float[][] {walls()})[0];
    for (int k = 0; k < means.length; k++) {
      assertEquals(k % 6 < 3 ? 1 : 5, means[k], 1e-5, "square " + k);
    }
  }

  /** As of independent numbers: n of them have an n-th of the variance of one. */
  @Test
  void noiseFallsWithThePixelsThatCount() {
    float[] variance = new float[W * H];
    Arrays.fill(variance, 0.8f);
    Noisy means = blocks().means(new Noisy(new float[][] {walls()}, variance));
    assertEquals(0.8 / 16, means.variance()[0], 1e-6);
    assertEquals(0.8 / 12, means.variance()[2], 1e-6, "three of its four columns");
    assertEquals(0.8 / 4, means.variance()[5], 1e-6, "the picture ends after one");
    assertEquals(0.8 / 8, means.variance()[3 * 6], 1e-6, "and after two lines");
  }

  @Test
  void whatSquaresHaveIsAddedToTheirWallAlone() {
    Blocks b = blocks();
    float[][] small = {b.means(new float[][] {walls()})[0]};
    float[][] planes = {new float[W * H]};
    Arrays.fill(planes[0], 10);
    b.spread(small, planes);
    for (int i = 0; i < W * H; i++) {
      assertEquals(10 + walls()[i], planes[0][i], 1e-4, "column " + i % W);
    }
  }

  @Test
  void betweenSquaresItChangesEvenlyAndNothingBecomesNegative() {
    Blocks b = blocks();
    float[][] small = {new float[b.columns * b.lines]};
    small[0][0] = -3;
    float[][] planes = {new float[W * H]};
    Arrays.fill(planes[0], 2);
    b.spread(small, planes);
    assertEquals(0, planes[0][0], "2 - 3");
    // Column 4 is an eighth of a square beyond the middle between two.
    assertEquals(2 - 3 * 0.375, planes[0][4], 1e-5);
    assertEquals(2, planes[0][6], 1e-6, "the next square's half");
  }
}
