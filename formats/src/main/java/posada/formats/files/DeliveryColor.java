package posada.formats.files;

import posada.core.image.Primaries;

/**
 * What the numbers in files mean.
 *
 * @param encoding how light becomes numbers
 * @param exposure stops by which the view transform brightens, -10 .. 10; scene-linear files keep
 *     the light as it is
 * @param primaries of red, green and blue; display files take those of a screen
 */
public record DeliveryColor(Encoding encoding, double exposure, Space primaries) {
  public static final DeliveryColor DEFAULT =
      new DeliveryColor(Encoding.BY_FORMAT, 0, Space.REC709);

  /** Most stops of exposure, either way. */
  private static final double MOST_STOPS = 10;

  /** How light becomes numbers. */
  public enum Encoding {
    /** Scene-linear in EXR and TIFF of floats, display values in the others. */
    BY_FORMAT,
    SCENE_LINEAR,
    /** Through the view transform, to be looked at as it is. */
    DISPLAY
  }

  /** Red, green, blue and white. */
  public enum Space {
    REC709(Primaries.BT709),
    ACESCG(Primaries.ACESCG),
    DISPLAY_P3(Primaries.P3_D65);

    private final Primaries primaries;

    Space(Primaries primaries) {
      this.primaries = primaries;
    }

    public Primaries primaries() {
      return primaries;
    }
  }

  public DeliveryColor {
    if (!(Math.abs(exposure) <= MOST_STOPS)) {
      throw new IllegalArgumentException(
          "the exposure of files must be -10 .. 10 stops (got " + exposure + ")");
    }
  }

  /** Returns whether files of a format hold display values. */
  boolean shown(FileFormat f) {
    return encoding == Encoding.DISPLAY || f.display();
  }

  /** Returns the primaries of files of a format: screens have none of ACEScg. */
  Space space(FileFormat f) {
    return shown(f) && primaries == Space.ACESCG ? Space.REC709 : primaries;
  }
}
