package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertArrayEquals;
import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import org.junit.jupiter.api.Test;
import posada.core.plan.Estimate.NoiseFall;
import posada.core.plan.Fit.Strand;

class FitTest {
  private static final int MOST = 65536;

  /** Noise that falls with the root of the samples alone. */
  private static NoiseFall root(double one) {
    return new NoiseFall(one, 0);
  }

  /** The level of noise at which all are equal, in closed form. */
  private static double level(List<Strand> all, double seconds) {
    double weights = 0, fixed = 0;
    for (Strand s : all) {
      weights += s.perSample() * s.fall().one() * s.fall().one();
      fixed += s.fixed();
    }
    return Math.sqrt(weights / (seconds - fixed));
  }

  @Test
  void agreesWithTheClosedForm() {
    Random random = new Random(4);
    for (int trial = 0; trial < 100; trial++) {
      List<Strand> all = new ArrayList<>();
      for (int i = 0; i < 12; i++) {
        all.add(
            new Strand(
                random.nextDouble(100),
                0.1 + random.nextDouble(5),
                root(0.5 + random.nextDouble()),
                1,
                MOST));
      }
      double time = 5000 + random.nextDouble(50000);
      double level = level(all, time);
      int[] samples = Fit.samples(all, time);
      double took = 0;
      for (int i = 0; i < samples.length; i++) {
        Strand s = all.get(i);
        double exact = Math.pow(s.fall().one() / level, 2);
        assertEquals(exact, samples[i], 1 + 1e-6 * exact);
        assertTrue(samples[i] <= exact + 1e-6 * exact);
        took += s.seconds(samples[i]);
      }
      assertTrue(took <= time, took + " of " + time);
    }
  }

  @Test
  void equalNoiseIsReachedWhereFewSamplesHideSome() {
    List<Strand> all =
        List.of(
            new Strand(0, 1, new NoiseFall(1.7, 1.1), 1, MOST),
            new Strand(0, 3, new NoiseFall(0.25, 0.35), 1, MOST));
    int[] samples = Fit.samples(all, 2000);
    double a = all.get(0).noise(samples[0]), b = all.get(1).noise(samples[1]);
    assertEquals(1, a / b, 0.01);
  }

  @Test
  void noiseGoesThroughWhatWasMeasured() {
    NoiseFall f = NoiseFall.through(9, 0.361, 17, 0.311);
    assertEquals(0.361, f.of(9), 1e-9);
    assertEquals(0.311, f.of(17), 1e-9);
    assertEquals(40, f.samples(f.of(40)), 1e-6);
    assertEquals(0, NoiseFall.through(4, 0.5, 16, 0.2).bend());
    assertEquals(new NoiseFall(0, 0), NoiseFall.through(5, 0, 9, 0));
  }

  @Test
  void whatHasNoNoiseTakesNoTimeFromOthers() {
    List<Strand> all =
        List.of(new Strand(0, 1, root(0), 1, MOST), new Strand(0, 1, root(1), 1, MOST));
    assertArrayEquals(new int[] {1, 99}, Fit.samples(all, 100));
    assertArrayEquals(new int[] {1}, Fit.samples(all.subList(0, 1), 100));
  }

  @Test
  void noOtherShareOfTheTimeIsCleaner() {
    List<Strand> all =
        List.of(new Strand(0, 1, root(1), 1, MOST), new Strand(0, 4, root(2), 1, MOST));
    int[] best = Fit.samples(all, 17 * 64);
    assertArrayEquals(new int[] {64, 256}, best);
    double worst = Math.max(all.get(0).noise(64), all.get(1).noise(256));
    for (int a = 1; a < 17 * 64 - 4; a++) {
      int b = (17 * 64 - a) / 4;
      double other = Math.max(all.get(0).noise(a), all.get(1).noise(b));
      assertTrue(other >= worst - 1e-12, a + " and " + b);
    }
  }

  @Test
  void whatOneMayNotUseGoesToTheOthers() {
    List<Strand> all =
        List.of(new Strand(10, 1, root(1), 1, 16), new Strand(10, 1, root(1), 1, MOST));
    assertArrayEquals(new int[] {16, 100}, Fit.samples(all, 136));
    assertArrayEquals(new int[] {1, 1}, Fit.samples(all, 22));
    assertNull(Fit.samples(all, 21.9));
    // And what one gets at any rate is missing for the others.
    Strand most = new Strand(0, 1, root(0), 8, MOST);
    assertArrayEquals(new int[] {8, 92}, Fit.samples(List.of(most, all.get(1)), 110));
  }
}
