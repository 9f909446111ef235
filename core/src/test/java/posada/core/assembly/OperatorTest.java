package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;

import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.CsvSource;
import org.junit.jupiter.params.provider.EnumSource;
import posada.core.parallel.Workers;

class OperatorTest {
  private static Picture pixel(double r, double g, double b, double a) {
    return new Picture(1, 1, new float[][] {{(float) r}, {(float) g}, {(float) b}, {(float) a}});
  }

  private static float[] apply(Operator o, Picture below, Picture above, boolean alpha) {
    return apply(o, below, above, alpha, 1, null);
  }

  private static float[] apply(
      Operator o, Picture below, Picture above, boolean alpha, float strength, float[] mask) {
    Picture p = below.copy();
    o.apply(p, above, alpha, strength, mask, Workers.CALLER);
    return new float[] {p.c()[0][0], p.c()[1][0], p.c()[2][0], p.c()[3][0]};
  }

  /** Opaque on opaque: the formulas of the standard, worked out by hand. */
  @ParameterizedTest
  @CsvSource({
    "OVER, .4, .7, .7",
    "UNDER, .4, .7, .4",
    "ADD, .4, .7, 1.1",
    "SUBTRACT, .4, .7, -.3",
    "MULTIPLY, .4, .7, .28",
    "DIVIDE, .4, .8, .5",
    "DIVIDE, .4, 0, 0",
    "SCREEN, .4, .7, .82",
    "MINIMUM, .4, .7, .4",
    "MAXIMUM, .4, .7, .7",
    "OVERLAY, .4, .7, .56",
    "OVERLAY, .6, .7, .76",
    "DARKEN, .4, .7, .4",
    "LIGHTEN, .4, .7, .7",
    "DODGE, .15, .7, .5",
    "DODGE, .4, .7, 1",
    "DODGE, 0, 1, 0",
    "BURN, .8, .5, .6",
    "BURN, .4, .5, 0",
    "BURN, 1, 0, 1",
    "HARD_LIGHT, .4, .3, .24",
    "HARD_LIGHT, .4, .7, .64",
    "SOFT_LIGHT, .4, .3, .304",
    "SOFT_LIGHT, .64, .75, .72",
    "SOFT_LIGHT, .2, .75, .324",
    "DIFFERENCE, .4, .7, .3",
    "EXCLUSION, .4, .7, .54",
    "LIGHTER_OR_DARKER, .4, .3, .4",
    "LIGHTER_OR_DARKER, .9, .3, .6",
    "LIGHTER_OR_DARKER, .4, .9, .8",
    "LIGHTER_OR_DARKER, .9, .7, .9"
  })
  void isTheFormulaOfTheStandard(Operator o, double below, double above, double is) {
    float[] x = apply(o, pixel(below, below, below, 1), pixel(above, above, above, 1), true);
    assertEquals(is, x[0], 1e-6);
    assertEquals(1, x[3], 1e-6);
    // What has no alpha of its own acts likewise on what is opaque.
    assertEquals(
        o == Operator.UNDER ? below : is,
        apply(o, pixel(below, below, below, 1), pixel(above, above, above, 0), false)[0],
        1e-6);
  }

  /** Section 10.2: luminosity .3 R + .59 G + .11 B; worked out by hand. */
  @Test
  void threeChannelsTogether() {
    Picture below = pixel(.5, .5, .5, 1), above = pixel(.8, .2, .2, 1);
    // Lum of grey is .5, of the red .38; saturation of grey is 0.
    assertArrayEquals(
        new float[] {.92f, .32f, .32f, 1}, apply(Operator.COLOR, below, above, true), 1e-6f);
    assertArrayEquals(
        new float[] {.5f, .5f, .5f, 1}, apply(Operator.HUE, below, above, true), 1e-6f);
    assertArrayEquals(
        new float[] {.38f, .38f, .38f, 1}, apply(Operator.LUMINOSITY, below, above, true), 1e-6f);
    // The red with the saturation of grey, at its own luminosity.
    assertArrayEquals(
        new float[] {.38f, .38f, .38f, 1}, apply(Operator.SATURATION, above, below, true), 1e-6f);
    // What would leave 0 .. 1 is drawn towards its luminosity.
    float[] clipped = apply(Operator.COLOR, pixel(.9, .9, .9, 1), above, true);
    assertEquals(1, clipped[0], 1e-6);
    assertEquals(.9, .3 * clipped[0] + .59 * clipped[1] + .11 * clipped[2], 1e-6);
  }

  /** The blend equation: co = cs (1 - ab) + cb (1 - as) + as ab B(Cb, Cs). */
  @ParameterizedTest
  @EnumSource(
      value = Operator.class,
      names = {"MULTIPLY", "SCREEN", "OVERLAY", "SOFT_LIGHT", "EXCLUSION", "LIGHTER_OR_DARKER"})
  void alphaTakesPartAsTheStandardSays(Operator o) {
    float opaque = apply(o, pixel(.4, .4, .4, 1), pixel(.7, .7, .7, 1), true)[0];
    float[] x = apply(o, pixel(.2, .2, .2, .5), pixel(.175, .175, .175, .25), true);
    assertEquals(.175 * .5 + .2 * .75 + .125 * opaque, x[0], 1e-6);
    assertEquals(.5 + .25 - .125, x[3], 1e-6);
    // Nothing above, nothing below.
    assertEquals(.2, apply(o, pixel(.2, .2, .2, .5), pixel(0, 0, 0, 0), true)[0], 1e-6);
    assertEquals(.175, apply(o, pixel(0, 0, 0, 0), pixel(.175, .175, .175, .25), true)[0], 1e-6);
  }

  @Test
  void lightBeyondOneAndBelowZeroIsKept() {
    for (Operator o : Operator.values()) {
      for (double[] v : new double[][] {{3, .5}, {-.5, .5}, {.5, 3}, {.5, -.5}, {0, 0}}) {
        for (double a : new double[] {0, .3, 1}) {
          float[] x = apply(o, pixel(v[0], v[0], v[0], a), pixel(v[1], v[1], v[1], a), true);
          for (float f : x) {
            assertEquals(true, Float.isFinite(f), o + " of " + v[0] + ", " + v[1]);
          }
        }
      }
    }
    assertEquals(3, apply(Operator.SCREEN, pixel(3, 3, 3, 1), pixel(.5, .5, .5, 1), true)[0], 1e-6);
    assertEquals(
        2 + .25,
        apply(Operator.HARD_LIGHT, pixel(3, 3, 3, 1), pixel(.125, .125, .125, 1), true)[0],
        1e-6);
  }

  @Test
  void occlusionDarkensWhatIsThereAndNothingElse() {
    float[] x = apply(Operator.MULTIPLY, pixel(.2, .1, 0, .5), pixel(.5, .5, .5, 0), false);
    assertArrayEquals(new float[] {.1f, .05f, 0, .5f}, x, 1e-6f);
    float[] half =
        apply(Operator.MULTIPLY, pixel(.2, .1, 0, .5), pixel(.5, .5, .5, 0), false, .5f, null);
    assertArrayEquals(new float[] {.15f, .075f, 0, .5f}, half, 1e-6f);
    float[] masked =
        apply(
            Operator.MULTIPLY, pixel(.2, .1, 0, .5), pixel(0, 0, 0, 0), false, 1, new float[] {0});
    assertArrayEquals(new float[] {.2f, .1f, 0, .5f}, masked, 0);
  }

  @Test
  void overIsAssociativeAndAddCommutes() {
    Random r = new Random(7);
    for (int n = 0; n < 200; n++) {
      Picture[] p = new Picture[3];
      for (int k = 0; k < 3; k++) {
        double a = r.nextDouble();
        p[k] = pixel(a * 2 * r.nextDouble(), a * r.nextDouble(), a * r.nextDouble(), a);
      }
      Picture firstTwo = p[0].copy();
      Operator.OVER.apply(firstTwo, p[1], true, 1, null, Workers.CALLER);
      float[] left = apply(Operator.OVER, firstTwo, p[2], true);
      Picture lastTwo = p[1].copy();
      Operator.OVER.apply(lastTwo, p[2], true, 1, null, Workers.CALLER);
      assertArrayEquals(left, apply(Operator.OVER, p[0], lastTwo, true), 1e-5f);
      assertArrayEquals(
          apply(Operator.ADD, p[0], p[1], true), apply(Operator.ADD, p[1], p[0], true), 0);
      assertArrayEquals(
          apply(Operator.OVER, p[0], p[1], true), apply(Operator.UNDER, p[1], p[0], true), 1e-6f);
    }
  }
}
