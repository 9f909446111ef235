package posada.core.plan;

/**
 * What baking the light of a strand takes, from a bake that was smaller and of fewer frames. Its
 * time is that of its points: they grow with the sides of the picture, not with its area, and later
 * frames see much of what earlier ones have seen. Found in {@code ticket-hall}, from 160 x 90 to
 * 480 x 270 px and from one to three frames, to be off by at most a fifth (docs/baked-light.md).
 */
public final class BakeTime {
  private static final double BY_FRAMES = 0.35;

  /** What a figure may be off by, as a part of it. */
  public static final double OFF = 0.5;

  private BakeTime() {}

  /**
   * Returns seconds.
   *
   * @param seconds that the small bake took
   * @param pixelsTried of the picture that it was for
   * @param framesTried that it looked at
   * @param pixels of the strand's picture
   * @param frames that its bake looks at
   */
  public static double of(
      double seconds, double pixelsTried, int framesTried, double pixels, int frames) {
    return seconds
        * Math.sqrt(pixels / pixelsTried)
        * Math.pow(frames / (double) framesTried, BY_FRAMES);
  }

  /**
   * Returns the seconds after which a picture has another noise, which falls with the root of them.
   *
   * @param noise that it has after {@code seconds}
   */
  public static double toNoise(double seconds, double noise, double wanted) {
    double more = noise / wanted;
    return seconds * more * more;
  }
}
