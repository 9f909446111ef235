package posada.core.plan;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.List;
import java.util.stream.IntStream;
import org.junit.jupiter.api.Test;
import posada.core.plan.Estimate.Finished;
import posada.core.plan.Estimate.NoiseFall;
import posada.core.plan.Estimate.Trial;

/** Against frames whose cost and noise are known in closed form. */
class ReachTest {
  private static final List<Integer> FRAMES = IntStream.rangeClosed(1, 300).boxed().toList();
  private static final long PIXELS = 1_000_000;

  /** 1 s before its samples, 0.1 s for each; noise of one sample is 0.32, at the end 0.64. */
  private static Trial trial(int frame) {
    return new Trial(frame, 1, 1e-7, 0, 12, new NoiseFall(frame == 300 ? 0.64 : 0.32, 0));
  }

  private static final List<Trial> TRIALS = List.of(trial(1), trial(150), trial(300));

  @Test
  void withoutALimitAllSamplesAreTaken() {
    Reach r = Reach.of(FRAMES, PIXELS, 64, 0, TRIALS, List.of());
    assertEquals(300, r.frames());
    assertEquals(64, r.samples(), 1e-9);
    assertEquals(300 * 7.4, r.seconds(), 1e-6);
    assertEquals(300, r.noisiest());
    assertEquals(0.08, r.most(), 1e-9);
    assertTrue(r.noise() > 0.04 && r.noise() < 0.06, "from 0.04 to 0.08: " + r.noise());
  }

  /** 10 s leave room for 90 samples, 2.6 s for 16: noise falls with their root. */
  @Test
  void aLimitLeavesNoise() {
    Reach r = Reach.of(FRAMES, PIXELS, 64, 2.6, TRIALS, List.of());
    assertEquals(16, r.samples(), 1e-6);
    assertEquals(300 * 2.6, r.seconds(), 1e-6);
    assertEquals(0.16, r.most(), 1e-9);
    Reach room = Reach.of(FRAMES, PIXELS, 64, 10, TRIALS, List.of());
    assertEquals(64, room.samples(), 1e-9, "more than the recipe asks for is not taken");
  }

  @Test
  void finishedFramesSetItRight() {
    List<Finished> twice = List.of(new Finished(1, 14.8, 1, 0.06));
    Reach r = Reach.of(FRAMES, PIXELS, 64, 0, TRIALS, twice);
    assertEquals(300 * 14.8, r.seconds(), 1e-6);
    assertEquals(0.12, r.most(), 1e-9, "half as noisy again as trials said");
  }
}
