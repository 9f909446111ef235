package posada.core.image;

/**
 * A scene-linear colour image in single precision, top row first.
 *
 * @param rgb red, green, blue for each pixel, row by row; finite, 0 or more
 */
public record RgbImage(int width, int height, float[] rgb) {
  public RgbImage {
    if (width < 1 || height < 1 || rgb.length != 3 * width * height) {
      throw new IllegalArgumentException(
          "an image of " + width + " x " + height + " pixels needs three values for each");
    }
  }

  public long bytes() {
    return 4L * rgb.length;
  }
}
