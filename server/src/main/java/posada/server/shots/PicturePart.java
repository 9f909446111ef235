package posada.server.shots;

import posada.core.settings.Crop;

/** A part of a picture: shares of its width and height from the top left corner, 0 .. 1. */
public record PicturePart(double x, double y, double width, double height) {
  /**
   * Returns the part in pixels.
   *
   * @throws IllegalArgumentException if it does not lie in the picture
   */
  public Crop of(int w, int h) {
    int left = (int) Math.floor(x * w), top = (int) Math.floor(y * h);
    if (!(x >= 0 && y >= 0 && width > 0 && height > 0) || left >= w || top >= h) {
      throw new IllegalArgumentException(
          "the part must lie in the picture: 0 .. 1 across and down (got %s, %s, %s, %s)"
              .formatted(x, y, width, height));
    }
    return new Crop(
        left,
        top,
        Math.max(1, Math.min(w - left, (int) Math.round(width * w))),
        Math.max(1, Math.min(h - top, (int) Math.round(height * h))),
        true);
  }
}
