package posada.core.settings;

/**
 * A region of the picture; pixels from the top left corner.
 *
 * @param alone true if the picture is the region, false if it is full-size and empty elsewhere
 */
public record Crop(int x, int y, int width, int height, boolean alone) {
  public Crop {
    Limits.whole("crop x", x, 0, Limits.MAX_SIDE - 1);
    Limits.whole("crop y", y, 0, Limits.MAX_SIDE - 1);
    Limits.whole("crop width", width, 1, Limits.MAX_SIDE);
    Limits.whole("crop height", height, 1, Limits.MAX_SIDE);
  }

  /** Refuses a region that is not inside the picture. */
  public void check(int pictureWidth, int pictureHeight) {
    if (x + width > pictureWidth || y + height > pictureHeight) {
      throw new IllegalArgumentException(
          String.format(
              "crop %d,%d %dx%d reaches outside the picture of %dx%d",
              x, y, width, height, pictureWidth, pictureHeight));
    }
  }
}
