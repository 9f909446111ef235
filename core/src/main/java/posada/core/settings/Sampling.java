package posada.core.settings;

/**
 * How many samples a pixel gets.
 *
 * @param least of each pixel, 1 .. most
 * @param most of each pixel, 1 .. 65536; all get them unless {@code adaptive}
 * @param adaptive true if a pixel is left alone once its noise is below the threshold
 * @param noiseThreshold standard error of a pixel's luminance over luminance plus 0.05, the same in
 *     bright and dark parts; above 0
 * @param seconds after which no more samples are begun; 0 for no limit
 * @param seed of the sampling pattern
 * @param seedPerFrame true if every frame has a pattern of its own, so that grain does not stand
 *     still
 * @param pattern where the samples lie
 */
public record Sampling(
    int least,
    int most,
    boolean adaptive,
    double noiseThreshold,
    double seconds,
    int seed,
    boolean seedPerFrame,
    Pattern pattern) {
  /** Points that fill every pair of dimensions evenly, or independent random ones to compare. */
  public enum Pattern {
    SPREAD,
    RANDOM
  }

  public static final Sampling DEFAULT = new Sampling(16, 64, false, 0.03, 0, 0, false);

  /** Well-spread samples. */
  public Sampling(
      int least,
      int most,
      boolean adaptive,
      double noiseThreshold,
      double seconds,
      int seed,
      boolean seedPerFrame) {
    this(least, most, adaptive, noiseThreshold, seconds, seed, seedPerFrame, Pattern.SPREAD);
  }

  public Sampling {
    Limits.whole("samples", most, 1, RenderSettings.MOST_SAMPLES);
    Limits.whole("least samples", least, 1, RenderSettings.MOST_SAMPLES);
    least = Math.min(least, most);
    Limits.within("noise threshold", noiseThreshold, 1e-5, 10);
    Limits.within("seconds", seconds, 0, 1e7);
  }

  /** Returns the same with another number of samples, of each pixel at most, and seed. */
  public Sampling with(int samples, int otherSeed) {
    return new Sampling(
        Math.min(least, samples),
        samples,
        adaptive,
        noiseThreshold,
        seconds,
        otherSeed,
        seedPerFrame,
        pattern);
  }
}
