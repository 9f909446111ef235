package posada.core.settings;

/**
 * How far light is followed.
 *
 * @param diffuse how often a path may be scattered diffusely, 0 .. 64; 1 is direct light only
 * @param specular how often it may be mirrored, 0 .. 64; 1 shows lights and what is directly lit
 * @param transmission how many surfaces it may pass through, 0 .. 64
 * @param transparency how many surfaces a ray may pass because of their alpha, 0 .. 256
 * @param indirectClamp most luminance that one indirect contribution may have; 0 for no limit
 * @param roughnessFloor least roughness after a diffuse bounce, 0 .. 1: tames caustics
 */
public record Bounces(
    int diffuse,
    int specular,
    int transmission,
    int transparency,
    double indirectClamp,
    double roughnessFloor) {
  /** Most that a limit on luminance may be; so much is as good as none. */
  public static final double MOST_CLAMP = 1e9;

  public static final Bounces DEFAULT = new Bounces(6, 3, 8, 64, 4, 0.2);

  public Bounces {
    Limits.whole("diffuse bounces", diffuse, 0, 64);
    Limits.whole("specular bounces", specular, 0, 64);
    Limits.whole("transmission bounces", transmission, 0, 64);
    Limits.whole("transparent surfaces", transparency, 0, 256);
    Limits.within("indirect clamp", indirectClamp, 0, MOST_CLAMP);
    Limits.within("roughness floor", roughnessFloor, 0, 1);
  }

  /** Returns the same without any light but what surfaces give off: for what holds none. */
  public Bounces none() {
    return new Bounces(0, 0, 0, transparency, indirectClamp, roughnessFloor);
  }

  /** Returns the same with another limit on what is bright; 0 for none. */
  public Bounces clampedAt(double luminance) {
    return new Bounces(diffuse, specular, transmission, transparency, luminance, roughnessFloor);
  }
}
