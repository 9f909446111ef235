package posada.core.plan;

import java.util.List;
import posada.core.plan.Estimate.NoiseFall;

/**
 * Samples for several strands by which the noisiest of them is as clean as a time allows. Noise
 * falls with the samples, {@link Estimate.NoiseFall}, and time grows with them, <i>t = f + c s</i>.
 * All are equally noisy then, since time taken from a cleaner one would serve the noisiest; where
 * noise falls with the root alone, <i>a / sqrt(s)</i>, and no limit is met, that noise is
 * <i>sqrt(sum(c a&sup2;) / (T - sum(f)))</i>.
 */
public final class Fit {
  private static final int HALVINGS = 200;

  /** With fewer samples nobody can tell how noisy a picture is. */
  public static final int LEAST = 8;

  private Fit() {}

  /**
   * A strand.
   *
   * @param fixed seconds that do not depend on the samples
   * @param perSample seconds for each sample of all its pixels and frames, above 0
   * @param fall of its noise
   * @param least samples that it gets at any rate, from 1
   * @param most samples that it may get
   */
  public record Strand(double fixed, double perSample, NoiseFall fall, int least, int most) {
    /** Returns the noise with so many samples. */
    public double noise(int samples) {
      return fall.of(samples);
    }

    /** Returns the seconds with so many samples. */
    public double seconds(int samples) {
      return fixed + perSample * samples;
    }

    /** Samples, not rounded, that bring the noise down to a level. */
    private double samples(double level) {
      return Math.max(least, Math.min(most, fall.samples(level)));
    }
  }

  /**
   * Returns the samples of each strand.
   *
   * @param seconds that there are for all of them
   * @return null if the time is not enough for the least of each
   */
  public static int[] samples(List<Strand> all, double seconds) {
    if (seconds(all, Double.POSITIVE_INFINITY) > seconds) {
      return null;
    }
    double low = 0, high = all.stream().mapToDouble(s -> s.fall.one()).max().orElse(1);
    for (int k = 0; k < HALVINGS && high - low > 1e-12 * high; k++) {
      double level = (low + high) / 2;
      if (seconds(all, level) > seconds) {
        low = level;
      } else {
        high = level;
      }
    }
    double level = high;
    return all.stream().mapToInt(s -> (int) Math.floor(s.samples(level) + 1e-9)).toArray();
  }

  private static double seconds(List<Strand> all, double level) {
    double sum = 0;
    for (Strand s : all) {
      sum += s.fixed + s.perSample * s.samples(level);
    }
    return sum;
  }
}
