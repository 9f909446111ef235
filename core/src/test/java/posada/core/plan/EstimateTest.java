package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import java.util.Random;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import posada.core.plan.Estimate.Figure;
import posada.core.plan.Estimate.Finished;
import posada.core.plan.Estimate.Trial;

/** Against frames whose cost is known in closed form. */
class EstimateTest {
  private static final Estimate.NoiseFall NOISE = new Estimate.NoiseFall(1, 0);

  private static final List<Integer> FRAMES = IntStream.rangeClosed(1, 101).boxed().toList();
  private static final long PIXELS = 1_000_000;

  /** A frame that takes 2 s before its samples, and ever more for each of them. */
  private static Trial trial(int frame) {
    return new Trial(frame, 2, 1e-7 * (1 + frame / 100.0), 5e-7, 12, NOISE);
  }

  private static List<Trial> trials(int... frames) {
    return IntStream.of(frames).mapToObj(EstimateTest::trial).toList();
  }

  @Test
  void whatGrowsInALineIsRight() {
    var e = Estimate.of(FRAMES, FRAMES, PIXELS, 64, trials(1, 51, 101), List.of());
    double really = FRAMES.stream().mapToDouble(f -> trial(f).seconds(PIXELS, 64)).sum();
    assertEquals(really, e.seconds().value(), 1e-9 * really);
    assertEquals(101 * 12e6, e.bytes().value(), 1);
    assertTrue(e.seconds().low() < really && really < e.seconds().high());
  }

  /** Ten per cent more for each than the trials said, as the first ten frames show. */
  @Test
  void finishedFramesSetItRight() {
    List<Finished> finished = new ArrayList<>();
    for (int f = 1; f <= 10; f++) {
      finished.add(new Finished(f, 1.1 * trial(f).seconds(PIXELS, 64), 13_000_000));
    }
    List<Integer> left = FRAMES.subList(10, FRAMES.size());
    var e = Estimate.of(left, left, PIXELS, 64, trials(1, 51, 101), finished);
    double really = left.stream().mapToDouble(f -> 1.1 * trial(f).seconds(PIXELS, 64)).sum();
    assertEquals(really, e.seconds().value(), 1e-9 * really);
    assertEquals(91 * 13e6, e.bytes().value(), 10);
    var before = Estimate.of(left, left, PIXELS, 64, trials(1, 51, 101), List.of());
    assertTrue(width(e.seconds()) < width(before.seconds()), "more is known by then");
  }

  private static double width(Figure f) {
    return (f.high() - f.low()) / f.value();
  }

  /** Costs that wander: of many strands nine of ten lie within their band. */
  @Test
  void theBandHoldsTheTruth() {
    Random random = new Random(7);
    int held = 0;
    int strands = 400;
    for (int s = 0; s < strands; s++) {
      double[] cost = new double[101];
      double drift = 1;
      for (int i = 0; i < cost.length; i++) {
        drift *= Math.exp(0.03 * random.nextGaussian());
        cost[i] = 1e-7 * drift;
      }
      List<Trial> trials = new ArrayList<>();
      for (int f : Estimate.tried(FRAMES, 5)) {
        trials.add(new Trial(f, 1, cost[f - 1] * (1 + 0.03 * random.nextGaussian()), 0, 1, NOISE));
      }
      double really = 0;
      for (double c : cost) {
        really += 1 + PIXELS * 64 * c;
      }
      Figure e = Estimate.of(FRAMES, FRAMES, PIXELS, 64, trials, List.of()).seconds();
      held += e.low() <= really && really <= e.high() ? 1 : 0;
    }
    assertTrue(held >= 0.9 * strands, held + " of " + strands);
  }

  @Test
  void bandsOfSeveralAddAsSquares() {
    Figure f = Estimate.sum(List.of(new Figure(100, 97, 104), new Figure(50, 46, 53)));
    assertEquals(new Figure(150, 145, 155), f);
  }

  @Test
  void trialsAreSpreadOverTheFrames() {
    assertEquals(List.of(1, 26, 51, 76, 101), Estimate.tried(FRAMES, 5));
    assertEquals(List.of(4, 9), Estimate.tried(List.of(4, 9), 5));
    assertEquals(List.of(3), Estimate.tried(List.of(3), 5));
  }
}
