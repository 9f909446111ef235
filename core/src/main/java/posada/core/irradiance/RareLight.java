package posada.core.irradiance;

import java.util.List;
import posada.core.parallel.Workers;

/**
 * Light that single paths have found and that is too bright to be taken for that of their points:
 * each is right in the mean, but only many together are when they are looked at one by one. So it
 * is shared among points that are near each other with nothing between them, again and again, but
 * no further than it takes to be sure of it: what is found often stays where it is.
 */
public final class RareLight {
  /** Most rounds of sharing: light goes as far as the root of it times what one lookup reaches. */
  private static final int ROUNDS = 32;

  /** Standard error of what is shared, over all light there, that is small enough. */
  private static final double SURE = 0.02;

  private final LightPoints p;
  private final List<Found> found;
  private final float dark;

  /**
   * @param found of each point
   * @param dark irradiance that noise is measured against
   */
  public RareLight(LightPoints p, List<Found> found, float dark) {
    this.p = p;
    this.found = found;
    this.dark = dark;
  }

  /**
   * What single paths of a point have found.
   *
   * @param flux vectors of red, green and blue
   * @param variance of its luminance on the point's surface
   * @param paths that may have found some
   */
  public record Found(float[] flux, double variance, int paths) {}

  /**
   * Gives the points their light.
   *
   * @param direct true if light straight from lights is in the points' light, too
   */
  public void share(boolean direct, Workers workers) {
    if (found.isEmpty()) {
      return;
    }
    PointIndex index = new PointIndex(p);
    ThreadLocal<LightLookup> lookups = ThreadLocal.withInitial(() -> new LightLookup(p, index));
    LightLookup.Around[] around = new LightLookup.Around[p.count()];
    workers.each(around.length, i -> around[i] = weighed(lookups.get().around(i)));
    int[] rounds = rounds(around, direct, workers);
    float[][] light = found.stream().map(Found::flux).toArray(float[][]::new);
    for (int k = 0; k <= ROUNDS; k++) {
      for (int i = 0; i < light.length; i++) {
        if (rounds[i] == k) {
          p.brighten(i, light[i]);
        }
      }
      if (k < ROUNDS) {
        light = shared(light, around, workers);
      }
    }
  }

  /** Makes weights those of means: points with more paths count for more. */
  private LightLookup.Around weighed(LightLookup.Around a) {
    double sum = 0;
    float[] w = new float[a.points().length];
    for (int k = 0; k < w.length; k++) {
      sum += (double) a.weights()[k] * found.get(a.points()[k]).paths;
    }
    for (int k = 0; k < w.length; k++) {
      w[k] = (float) (a.weights()[k] * (double) found.get(a.points()[k]).paths / sum);
    }
    return new LightLookup.Around(a.points(), w);
  }

  /**
   * Returns how many rounds each point takes part in. The noise of all points around decides: those
   * that have found nothing must take their part, too.
   */
  private int[] rounds(LightLookup.Around[] around, boolean direct, Workers workers) {
    float[][] mean = new float[around.length][];
    for (int i = 0; i < mean.length; i++) {
      float y = p.along(i, found.get(i).flux);
      mean[i] = new float[] {y, (float) found.get(i).variance};
    }
    for (int k = 0; k < ROUNDS; k++) {
      mean = shared(mean, around, workers);
    }
    int[] rounds = new int[around.length];
    for (int i = 0; i < rounds.length; i++) {
      if (mean[i][0] <= 0) {
        continue;
      }
      double squares = 0;
      for (float w : around[i].weights()) {
        squares += w * w;
      }
      double wanted = SURE * (p.irradiance(i, direct) + mean[i][0] + dark);
      // Both the noise of all, and what is left of a single path in its middle, which has twice as
      // much of it as its noise tells.
      double over = mean[i][1] / wanted * Math.max(1 / wanted, 2 / mean[i][0]);
      // Each round spreads light over as much more area as the first.
      rounds[i] = over > 1 ? (int) Math.min(ROUNDS, Math.ceil(over * squares)) : 0;
    }
    return rounds;
  }

  private static float[][] shared(float[][] values, LightLookup.Around[] around, Workers workers) {
    float[][] mean = new float[values.length][values[0].length];
    workers.each(
        mean.length,
        i -> {
          for (int k = 0; k < around[i].points().length; k++) {
            float w = around[i].weights()[k];
            float[] v = values[around[i].points()[k]];
            for (int c = 0; c < v.length; c++) {
              mean[i][c] += w * v[c];
            }
          }
        });
    return mean;
  }
}
