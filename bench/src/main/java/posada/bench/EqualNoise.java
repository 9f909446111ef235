package posada.bench;

import posada.core.parallel.Workers;

/**
 * What a way of rendering costs at a noise: two pictures of different seeds tell how noisy it is,
 * and their time how long it takes.
 *
 * @param error relative mean square error of one picture of {@code samples}
 * @param seconds that one picture took
 */
record EqualNoise(double error, double seconds) {
  /** Measures a view. */
  static EqualNoise of(References.View v, int samples, int seed, Workers workers) {
    float[][][] p = new float[2][][];
    double[] seconds = new double[2];
    for (int k = 0; k < 2; k++) {
      int at = k;
      seconds[k] = Figures.wall(() -> p[at] = Quality.rgb(v.render(samples, seed + at, workers)));
    }
    // Half of their squared distance is what one of them is off by.
    double error = 2 * new Quality(v.width(), v.height(), p[0], p[1]).ownError();
    return new EqualNoise(error, Math.min(seconds[0], seconds[1]));
  }

  /** Returns the seconds that a picture takes whose error is this. */
  double secondsFor(double wanted) {
    return seconds * error / wanted;
  }
}
