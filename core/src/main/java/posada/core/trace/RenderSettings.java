package posada.core.trace;

/**
 * How a picture is rendered.
 *
 * @param samples for each pixel, 1 .. 65536
 * @param bounces how often a path may be scattered, 0 .. 64; 0 is emission only, 1 direct light
 * @param indirectLimit most luminance that one indirect contribution may have; 0 for no limit
 * @param seed of the sampling pattern
 * @param showSky true if the sky is seen behind the objects; alpha says where objects are either
 *     way
 */
public record RenderSettings(
    int samples, int bounces, double indirectLimit, int seed, boolean showSky) {
  public static final int DEFAULT_BOUNCES = 5;
  public static final double DEFAULT_INDIRECT_LIMIT = 10;

  public RenderSettings {
    if (samples < 1 || samples > 65536) {
      throw new IllegalArgumentException("samples must be 1 .. 65536 (got " + samples + ")");
    }
    if (bounces < 0 || bounces > 64) {
      throw new IllegalArgumentException("bounces must be 0 .. 64 (got " + bounces + ")");
    }
    if (!(indirectLimit >= 0)) {
      throw new IllegalArgumentException(
          "indirect limit must be 0 or more (got " + indirectLimit + ")");
    }
  }

  /** Returns settings with everything but samples and seed left as it comes. */
  public static RenderSettings of(int samples, int seed) {
    return new RenderSettings(samples, DEFAULT_BOUNCES, DEFAULT_INDIRECT_LIMIT, seed, true);
  }
}
