package posada.core.trace;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.util.ArrayList;
import java.util.List;
import org.junit.jupiter.api.Test;
import posada.core.geometry.Vec3;
import posada.core.image.FrameImage;
import posada.core.light.Luminance;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Scene;
import posada.core.scene.Sky;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;

/**
 * The noise that each rung of a ladder says, against how far pictures really are from the truth.
 */
class LadderNoiseTest {
  private static final int SIDE = 40, SEEDS = 24, MOST = 64;

  private static Scene scene() {
    return new TestScenes()
        .square(Vec3.ZERO, 4, false, TestScenes.chalk())
        .box(new Vec3(0.5, 0.8, 0), new Vec3(0.8, 0.8, 0.8), TestScenes.chalk())
        .camera(new Vec3(3, 5, 4), Vec3.ZERO, 40)
        .sky(Sky.PLAIN)
        .scene();
  }

  /** Samples that know nothing of each other: the figure is the error that there is. */
  @Test
  void ofIndependentSamplesItIsTheErrorThatThereIs() {
    for (double[] rung : rungs(Sampling.Pattern.RANDOM)) {
      assertEquals(1, rung[0] / rung[1], 0.1, "said over really");
    }
  }

  /** Spread samples leave less than the figure says, never more. */
  @Test
  void ofSpreadSamplesItIsTheMostThatThereCanBe() {
    for (double[] rung : rungs(Sampling.Pattern.SPREAD)) {
      assertTrue(rung[0] > rung[1], rung[0] + " said, " + rung[1] + " really");
    }
  }

  /** What each rung says, and the standard deviation over pictures with other numbers. */
  private static List<double[]> rungs(Sampling.Pattern pattern) {
    RenderScene scene = new RenderScene(scene(), Workers.CALLER);
    List<double[]> rungs = new ArrayList<>();
    for (int rung = 4; rung <= MOST; rung *= 2) {
      List<double[]> all = new ArrayList<>();
      double said = 0;
      for (int seed = 0; seed < SEEDS; seed++) {
        Sampling s = new Sampling(MOST, MOST, false, 1, 0, seed, false, pattern);
        FrameRenderer r = scene.frame("eye", 0, SIDE, SIDE, RenderSettings.DEFAULT.with(s));
        r.advance(rung, Workers.CALLER, Stop.NEVER);
        said += r.noise() / SEEDS;
        all.add(luminance(r.soFar()));
      }
      double really = 0;
      for (int i = 0; i < SIDE * SIDE; i++) {
        double mean = 0, squares = 0;
        for (double[] p : all) {
          mean += p[i] / SEEDS;
          squares += p[i] * p[i];
        }
        double deviation = Math.sqrt(Math.max(0, squares - SEEDS * mean * mean) / (SEEDS - 1));
        really += deviation / (mean + 0.05) / (SIDE * SIDE);
      }
      rungs.add(new double[] {said, really});
    }
    return rungs;
  }

  private static double[] luminance(FrameImage p) {
    float[] r = p.find("R"), g = p.find("G"), b = p.find("B");
    double[] y = new double[r.length];
    for (int i = 0; i < y.length; i++) {
      y[i] = Luminance.of(r[i], g[i], b[i]);
    }
    return y;
  }
}
