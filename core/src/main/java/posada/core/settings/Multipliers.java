package posada.core.settings;

/**
 * Rays at the first surface for each sample of a pixel; further surfaces get one.
 *
 * @param diffuse times as many diffusely scattered rays, 1 .. 64; specular and transmission
 *     likewise
 * @param lights rays to lights, 1 .. 64
 */
public record Multipliers(int diffuse, int specular, int transmission, int lights) {
  public static final Multipliers ONE = new Multipliers(1, 1, 1, 1);

  public Multipliers {
    Limits.whole("diffuse multiplier", diffuse, 1, 64);
    Limits.whole("specular multiplier", specular, 1, 64);
    Limits.whole("transmission multiplier", transmission, 1, 64);
    Limits.whole("lights multiplier", lights, 1, 64);
  }

  public int most() {
    return Math.max(diffuse, Math.max(specular, transmission));
  }
}
