package posada.core.assembly;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.OptionalInt;
import java.util.Random;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import posada.core.parallel.Workers;
import posada.core.scene.Track;

/** Filters against closed forms. */
class CorrectionsTest {
  private static final Workers ONE = Workers.CALLER;

  private static Picture point(int w, int h, int x, int y) {
    Picture p = new Picture(w, h);
    for (float[] plane : p.c()) {
      plane[y * w + x] = 1;
    }
    return p;
  }

  @ParameterizedTest
  @ValueSource(doubles = {0.8, 3, 7.9, 12, 30})
  void blurIsAGaussian(double sigma) {
    int size = 257, mid = size / 2;
    float[] d = Gaussian.blur(point(size, size, mid, mid).c()[0], size, size, sigma, ONE);
    double sum = 0, variance = 0;
    for (int i = 0; i < d.length; i++) {
      sum += d[i];
      variance += d[i] * Math.pow(i % size - mid, 2);
    }
    assertEquals(1, sum, 2e-3, "energy");
    assertEquals(1, Math.sqrt(variance / sum) / sigma, 0.01, "width");
    double peak = sigma < 1 ? d[mid * size + mid] : 1 / (2 * Math.PI * sigma * sigma);
    for (int r = 0; r < 3 * sigma; r++) {
      double is = peak * Math.exp(-r * r / (2 * sigma * sigma));
      assertEquals(is, d[mid * size + mid + r], 0.02 * peak, "at " + r);
      if (sigma <= 4) {
        assertEquals(d[mid * size + mid + r], d[mid * size + mid - r], 1e-7 * peak + 1e-9);
        assertEquals(d[mid * size + mid + r], d[(mid + r) * size + mid], 1e-6 * peak + 1e-9);
      }
    }
  }

  /** A step blurred by a Gaussian is its integral. */
  @Test
  void blurredStepIsTheErrorFunction() {
    int w = 200;
    float[] d = new float[w * 8];
    for (int i = 0; i < d.length; i++) {
      d[i] = i % w < 100 ? 0 : 1;
    }
    for (double sigma : new double[] {2, 6, 20}) {
      float[] out = Gaussian.blur(d, w, 8, sigma, ONE);
      for (int x = 60; x < 140; x++) {
        assertEquals(
            normal((x - 99.5) / sigma),
            out[4 * w + x],
            1e-3 + 0.01 / (sigma * sigma),
            sigma + " at " + x);
      }
    }
  }

  /**
   * The normal distribution's integral. Source: M. Abramowitz, I. Stegun, 26.2.17, error 7.5e-8.
   */
  private static double normal(double x) {
    double t = 1 / (1 + 0.2316419 * Math.abs(x));
    double tail =
        Math.exp(-x * x / 2)
            / Math.sqrt(2 * Math.PI)
            * t
            * (0.319381530
                + t * (-0.356563782 + t * (1.781477937 + t * (-1.821255978 + t * 1.330274429))));
    return x > 0 ? 1 - tail : tail;
  }

  @Test
  void colourIsChangedStraight() {
    Corrections c = Corrections.NONE;
    Corrections all =
        new Corrections(
            Track.of(1),
            c.gain(),
            new Corrections.Colour(Track.of(0.1), Track.of(0), Track.of(0)),
            Track.of(2),
            new Corrections.Levels(Track.of(0.1), Track.of(1.1)),
            c.saturation(),
            c.tint(),
            c.denoise(),
            c.blur(),
            c.glow(),
            null,
            c.motionBlur(),
            c.wrap(),
            c.vignette(),
            c.flip(),
            c.crop(),
            c.move(),
            c.time());
    Picture p = new Picture(1, 1, new float[][] {{.06f}, {.08f}, {.02f}, {.5f}});
    new Colours(all, 0).apply(p, true, ONE);
    // Straight .12 .16 .04, a stop brighter .24 .32 .08, .1 more red, square root, less .1.
    assertEquals(.5 * (Math.sqrt(.34) - .1), p.c()[0][0], 1e-6);
    assertEquals(.5 * (Math.sqrt(.32) - .1), p.c()[1][0], 1e-6);
    assertEquals(.5 * (Math.sqrt(.08) - .1), p.c()[2][0], 1e-6);
    assertEquals(.5, p.c()[3][0]);
    Picture empty = new Picture(1, 1);
    new Colours(all, 0).apply(empty, true, ONE);
    assertEquals(0, empty.c()[0][0]);
  }

  @ParameterizedTest
  @ValueSource(doubles = {2, 4, 9, 40})
  void aPointOutOfFocusHasTheCircleOfTheLens(double depth) {
    Corrections.Defocus lens = new Corrections.Defocus(Track.of(1.4), Track.of(5), 50, 36);
    int size = 121, mid = size / 2;
    float[] depths = new float[size * size];
    java.util.Arrays.fill(depths, (float) depth);
    double width = 800.0;
    // Thin lens: f² |d - s| / (N d (s - f)) on a film back of 36 mm across so many pixels.
    double circle = 0.05 * 0.05 * Math.abs(depth - 5) / (1.4 * depth * (5 - 0.05)) / 0.036 * width;
    assertEquals(circle, Math.abs(lens.circle(depth, 800, 0)), 1e-9);
    double here = Math.abs(lens.circle(depth, size, 0));
    float[] row = Spread.byDepth(point(size, size, mid, mid), depths, lens, 0, ONE).c()[0];
    double across = 0, most = row[mid * size + mid];
    for (int x = 0; x < size; x++) {
      across += row[mid * size + x] / most;
    }
    assertEquals(Math.max(1, here), across, 1, "diameter");
    double sum = 0;
    for (float v : row) {
      sum += v;
    }
    assertEquals(1, sum, 0.02);
  }

  @Test
  void whatIsSharpKeepsItsEdgeBeforeWhatIsNot() {
    int w = 80, h = 40;
    Picture p = new Picture(w, h);
    float[] depth = new float[w * h];
    for (int i = 0; i < w * h; i++) {
      boolean near = i % w < 40;
      depth[i] = near ? 5 : 200;
      p.c()[0][i] = near ? 1 : 0;
      p.c()[3][i] = 1;
    }
    Corrections.Defocus lens = new Corrections.Defocus(Track.of(0.5), Track.of(5), 85, 36);
    assertTrue(lens.circle(200, w, 0) > 5);
    Picture out = Spread.byDepth(p, depth, lens, 0, ONE);
    for (int x = 0; x < w; x++) {
      assertEquals(x < 40 ? 1 : 0, out.c()[0][20 * w + x], 1e-3, "at " + x);
    }
  }

  @ParameterizedTest
  @ValueSource(ints = {4, 11, 20})
  void aMovingEdgeIsAsSoftAsItsWayIsLong(int pixels) {
    int w = 120, h = 16;
    Picture p = new Picture(w, h);
    float[] x = new float[w * h], y = new float[w * h];
    for (int i = 0; i < w * h; i++) {
      p.c()[0][i] = i % w < 60 ? 1 : 0;
      p.c()[3][i] = 1;
      x[i] = pixels;
    }
    float[] out = Spread.byMotion(p, x, y, null, ONE).c()[0];
    int soft = 0;
    for (int k = 30; k < 90; k++) {
      float v = out[8 * w + k];
      soft += v > 0.25 / pixels && v < 1 - 0.25 / pixels ? 1 : 0;
      assertEquals(Math.max(0, Math.min(1, 0.5 - (k - 59.5) / pixels)), v, 0.6 / pixels);
    }
    assertEquals(pixels, soft, 1);
  }

  @Test
  void noiseIsTakenOutAndEdgesStay() {
    int w = 64, h = 64;
    Random r = new Random(3);
    Picture p = new Picture(w, h);
    for (int i = 0; i < w * h; i++) {
      for (int j = 0; j < 3; j++) {
        p.c()[j][i] = (i % w < 32 ? 0.2f : 0.8f) + 0.03f * (float) r.nextGaussian();
      }
      p.c()[3][i] = 1;
    }
    Picture out = NoiseFilter.clean(p, 1, ONE);
    double before = 0, after = 0;
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        double is = x < 32 ? 0.2 : 0.8;
        before += Math.pow(p.c()[0][y * w + x] - is, 2);
        after += Math.pow(out.c()[0][y * w + x] - is, 2);
      }
    }
    assertTrue(after < before / 6, after + " of " + before);
  }

  @Test
  void whereItIsPut() {
    Picture p = point(8, 6, 2, 1);
    assertEquals(1, put(p, move(3, 2, 1), false).c()[0][3 * 8 + 5]);
    assertEquals(1, put(p, Corrections.Move.NONE, true).c()[0][8 + 5]);
    Picture small = put(p, move(0, 0, 0.5), false);
    double sum = 0;
    for (float v : small.c()[0]) {
      sum += v;
    }
    assertEquals(0.25, sum, 1e-5, "light of a picture of half the size");
  }

  private static Corrections.Move move(double x, double y, double scale) {
    return new Corrections.Move(Track.of(x), Track.of(y), Track.of(scale));
  }

  private static Picture put(Picture p, Corrections.Move m, boolean across) {
    Corrections moved = Corrections.NONE.put(m, new Corrections.Flip(across, false));
    return Place.put(p, p.width(), p.height(), 1, moved, 0, 1, ONE);
  }

  @Test
  void shapesFadeAcrossTheirEdge() {
    for (Mask.Kind kind : new Mask.Kind[] {Mask.Kind.RECTANGLE, Mask.Kind.ELLIPSE}) {
      Mask m =
          new Mask(
              kind,
              null,
              "beauty",
              List.of(),
              Track.of(0),
              Track.of(1),
              List.of(List.of(.25f, .25f), List.of(.75f, .75f)),
              Track.of(10),
              false);
      float[] v = m.drawn(100, 100, 1, 0);
      assertEquals(1, v[50 * 100 + 50]);
      assertEquals(0, v[50 * 100 + 90]);
      assertEquals(0.5, (v[50 * 100 + 74] + v[50 * 100 + 75]) / 2, 0.01);
      assertEquals(0, v[50 * 100 + 80], 1e-6);
      assertEquals(1, v[50 * 100 + 69], 1e-2);
    }
  }

  @Test
  void whichFrameIsShown() {
    Corrections.When plain = Corrections.When.NONE;
    List<Integer> all = List.of(1, 2, 3, 4), fourths = List.of(1, 5, 9);
    assertEquals(OptionalInt.of(3), Timing.frame(3, 24, all, 24, plain));
    assertEquals(OptionalInt.empty(), Timing.frame(5, 24, all, 24, plain));
    assertEquals(OptionalInt.of(5), Timing.frame(8, 24, fourths, 24, plain));
    assertEquals(OptionalInt.of(9), Timing.frame(12, 24, fourths, 24, plain));
    assertEquals(OptionalInt.of(2), Timing.frame(5, 24, all, 12, plain));
    int[] loop = {1, 2, 3, 4, 1, 2}, bounce = {1, 2, 3, 4, 3, 2, 1, 2};
    for (int f = 1; f <= loop.length; f++) {
      Corrections.When t = new Corrections.When(0, Corrections.Repeat.LOOP);
      assertEquals(OptionalInt.of(loop[f - 1]), Timing.frame(f, 24, all, 24, t));
    }
    for (int f = 1; f <= bounce.length; f++) {
      Corrections.When t = new Corrections.When(0, Corrections.Repeat.BOUNCE);
      assertEquals(OptionalInt.of(bounce[f - 1]), Timing.frame(f, 24, all, 24, t));
    }
    Corrections.When late = new Corrections.When(2, Corrections.Repeat.HOLD);
    assertEquals(OptionalInt.of(1), Timing.frame(1, 24, all, 24, late));
    assertEquals(OptionalInt.of(2), Timing.frame(4, 24, all, 24, late));
    assertArrayEquals(new int[] {4}, new int[] {Timing.frame(9, 24, all, 24, late).getAsInt()});
  }
}
