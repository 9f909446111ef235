package posada.core.motion;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.api.Test;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;

/** Values worked out by hand from the formulas of glTF 2.0, appendix C. */
class KeysTest {
  private static final float[] TIMES = {1, 3};

  private static Channel channel(Path p, Interpolation how, float... values) {
    return new Channel(0, p, how, TIMES, values);
  }

  @Test
  void stepHoldsUntilTheNextKey() {
    Channel c = channel(Path.TRANSLATION, Interpolation.STEP, 1, 2, 3, 4, 5, 6);
    assertArrayEquals(new double[] {1, 2, 3}, Keys.at(c, 2.999));
    assertArrayEquals(new double[] {4, 5, 6}, Keys.at(c, 3));
  }

  @Test
  void linearGoesStraightAndHoldsOutside() {
    Channel c = channel(Path.SCALE, Interpolation.LINEAR, 0, 0, 0, 8, 4, 2);
    assertArrayEquals(new double[] {2, 1, 0.5}, Keys.at(c, 1.5), 1e-12);
    assertArrayEquals(new double[] {0, 0, 0}, Keys.at(c, -5));
    assertArrayEquals(new double[] {8, 4, 2}, Keys.at(c, 9));
  }

  @Test
  void rotationsTakeTheShorterWayAtEvenSpeed() {
    float s = (float) Math.sin(Math.PI / 4);
    // No turn to a quarter turn about Y, the second given with its sign turned round.
    Channel c = channel(Path.ROTATION, Interpolation.LINEAR, 0, 0, 0, 1, 0, -s, 0, -s);
    double[] q = Keys.at(c, 1 + 2.0 / 3);
    assertEquals(Math.sin(Math.PI / 12), Math.abs(q[1]), 1e-6);
    assertEquals(Math.cos(Math.PI / 12), Math.abs(q[3]), 1e-6);
  }

  @Test
  void cubicUsesTangentsTimesTheLengthOfTheSegment() {
    // One coordinate: value 1 leaving at 0.5 per second, value 2 arriving at -1 per second.
    Channel c =
        channel(
            Path.TRANSLATION,
            Interpolation.CUBIC,
            9,
            0,
            0,
            1,
            0,
            0,
            0.5f,
            0,
            0,
            -1,
            0,
            0,
            2,
            0,
            0,
            9,
            0,
            0);
    // t = 0.25: h00 .84375, h10 .140625, h01 .15625, h11 -.046875; segment of 2 s.
    double want = 0.84375 * 1 + 2 * 0.140625 * 0.5 + 0.15625 * 2 + 2 * -0.046875 * -1;
    assertEquals(want, Keys.at(c, 1.5)[0], 1e-6);
  }
}
