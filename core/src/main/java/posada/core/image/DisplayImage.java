package posada.core.image;

/**
 * A picture ready for a screen or a display file.
 *
 * @param components 1, 3 or 4 values for each pixel, alpha last and straight
 * @param samples values 0 .. 65535, row by row, top row first
 */
public record DisplayImage(int width, int height, int components, short[] samples) {
  /**
   * Returns the middle of this picture in the middle of a black one of three components.
   *
   * @param w pixels of its width
   * @param h pixels of its height
   */
  public DisplayImage within(int w, int h) {
    if (w == width && h == height && components == 3) {
      return this;
    }
    short[] out = new short[3 * w * h];
    int x0 = (w - width) / 2, y0 = (h - height) / 2;
    for (int y = Math.max(0, -y0); y < height && y0 + y < h; y++) {
      for (int x = Math.max(0, -x0); x < width && x0 + x < w; x++) {
        for (int c = 0; c < 3; c++) {
          out[3 * ((y0 + y) * w + x0 + x) + c] =
              samples[components * (y * width + x) + (components < 3 ? 0 : c)];
        }
      }
    }
    return new DisplayImage(w, h, 3, out);
  }
}
