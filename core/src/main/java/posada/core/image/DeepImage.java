package posada.core.image;

/**
 * A picture with several samples of colour at their depths in each pixel, near ones first; laid
 * over each other they are the flat picture.
 *
 * @param window where in the full frame it lies
 * @param first number of each pixel's first sample, row by row, and the total at the end
 * @param planes alpha, blue, green, red and depth of all samples; colour premultiplied, depth in
 *     metres along the view axis
 */
public record DeepImage(
    int width, int height, FrameImage.Window window, int[] first, float[][] planes) {
  /** Returns how many samples there are. */
  public int samples() {
    return first[first.length - 1];
  }
}
