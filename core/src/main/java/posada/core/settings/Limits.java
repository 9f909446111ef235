package posada.core.settings;

/**
 * Checks of settings. In a class of its own, so that settings that hold each other's defaults can
 * be loaded in any order.
 */
public final class Limits {
  /** Longest side of a picture, pixels. */
  public static final int MAX_SIDE = 16384;

  private Limits() {}

  public static void whole(String what, int v, int least, int most) {
    if (v < least || v > most) {
      throw new IllegalArgumentException(
          what + " must be " + least + " .. " + most + " (got " + v + ")");
    }
  }

  public static void within(String what, double v, double least, double most) {
    if (!(v >= least && v <= most)) {
      throw new IllegalArgumentException(
          String.format(
              java.util.Locale.ROOT, "%s must be %s .. %s (got %s)", what, least, most, v));
    }
  }
}
