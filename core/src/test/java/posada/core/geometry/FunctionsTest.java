package posada.core.geometry;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.SplittableRandom;
import org.junit.jupiter.api.Test;

/** The errors that the elementary functions' descriptions promise, against StrictMath. */
class FunctionsTest {
  private static final int TRIES = 200_000;
  private final SplittableRandom r = new SplittableRandom(7);

  private static void near(double want, double got, double relative, Object at) {
    double off = Math.abs(got - want);
    assertTrue(off <= relative * Math.abs(want), () -> at + ": " + got + ", not " + want);
  }

  /** Half a step of floats, which every result of that kind may be off by. */
  private static final double STEP = 0x1p-24;

  @Test
  void powersAndLogarithms() {
    for (int k = 0; k < TRIES; k++) {
      float x = (float) r.nextDouble(-86, 88);
      near(StrictMath.exp(x), FastMath.exp(x), 1e-7 + STEP, x);
      double l = r.nextDouble(-125.9, 127.9);
      near(StrictMath.pow(2, l), FastMath.exp2(l), 1e-7 + STEP, l);
      double any = StrictMath.pow(10, r.nextDouble(-300, 300));
      assertEquals(StrictMath.log(any) / StrictMath.log(2), FastMath.log2(any), 1e-7);
      float base = (float) r.nextDouble(1e-4, 40), to = (float) r.nextDouble(-6, 6);
      near(StrictMath.pow(base, to), FastMath.pow(base, to), 1e-6, base + " to the " + to);
    }
  }

  @Test
  void theEndsOfTheirRanges() {
    assertEquals(0, FastMath.exp(-88));
    assertEquals(Float.POSITIVE_INFINITY, FastMath.exp(89));
    assertTrue(Float.isNaN(FastMath.exp2(Double.NaN)));
    assertEquals(0, FastMath.exp2(Double.NEGATIVE_INFINITY));
    assertEquals(Double.NEGATIVE_INFINITY, FastMath.log2(0));
    assertTrue(Double.isNaN(FastMath.log2(-1)));
    assertEquals(1, FastMath.pow(0, 0));
    assertEquals(0, FastMath.pow(0, 2.4f));
    assertEquals(0, FastMath.turns(0, 0));
    assertEquals(Math.PI, FastMath.acos(-1.5f), 1e-6);
    assertEquals(0, FastMath.acos(1.5f), 1e-6);
  }

  @Test
  void anglesAndTheWayBack() {
    for (int k = 0; k < TRIES; k++) {
      double t = r.nextDouble(-1, 2);
      double angle = t * 2 * Math.PI;
      assertEquals(StrictMath.sin(angle), Trig.sinTurns(t), 1e-9 + STEP);
      assertEquals(StrictMath.cos(angle), Trig.cosTurns(t), 1e-9 + STEP);
      float y = (float) r.nextDouble(-3, 3), x = (float) r.nextDouble(-3, 3);
      double want = StrictMath.atan2(y, x) / (2 * Math.PI);
      double off = FastMath.turns(y, x) - want;
      assertEquals(0, off - Math.rint(off), 2e-8 + STEP);
      float c = (float) r.nextDouble(-1, 1);
      assertEquals(StrictMath.acos(c), FastMath.acos(c), 2e-7 + 4 * STEP);
    }
  }

  @Test
  void framesTurnThereAndBack() {
    ShadingFrame f = new ShadingFrame();
    for (int k = 0; k < 2000; k++) {
      double z = k < 2 ? 2 * k - 1 : r.nextDouble(-1, 1), turn = r.nextDouble(2 * Math.PI);
      double s = Math.sqrt(1 - z * z);
      float nx = (float) (s * Math.cos(turn)), ny = (float) (s * Math.sin(turn));
      f.set(nx, ny, (float) z);
      f.toLocal(nx, ny, (float) z);
      assertEquals(1, f.rz, 1e-5);
      float x = (float) r.nextDouble(-1, 1), y = (float) r.nextDouble(-1, 1), w = 0.3f;
      f.toWorld(x, y, w);
      f.toLocal(f.rx, f.ry, f.rz);
      assertEquals(x, f.rx, 1e-5);
      assertEquals(y, f.ry, 1e-5);
      assertEquals(w, f.rz, 1e-5);
    }
  }
}
