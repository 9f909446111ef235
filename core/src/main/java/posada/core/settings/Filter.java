package posada.core.settings;

/**
 * How samples around a pixel's centre count.
 *
 * @param radius pixels, 0.5 .. 4
 */
public record Filter(Shape shape, double radius) {
  /** Flat; falling in a straight line; a bell cut off at 2.5 standard deviations. */
  public enum Shape {
    BOX,
    TENT,
    GAUSSIAN
  }

  public static final Filter DEFAULT = new Filter(Shape.GAUSSIAN, 1.5);

  public Filter {
    Limits.within("filter radius", radius, 0.5, 4);
  }
}
