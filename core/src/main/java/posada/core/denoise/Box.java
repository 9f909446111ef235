package posada.core.denoise;

import java.util.Arrays;

/** Means over squares of pixels, cut off at the border. */
final class Box {
  private Box() {}

  /**
   * @param radius pixels to each side
   */
  static float[] mean(float[] v, int width, int height, int radius) {
    float[] rows = new float[v.length];
    for (int y = 0; y < height; y++) {
      for (int x = 0; x < width; x++) {
        int from = Math.max(0, x - radius), to = Math.min(width - 1, x + radius);
        float sum = 0;
        for (int i = from; i <= to; i++) {
          sum += v[y * width + i];
        }
        rows[y * width + x] = sum / (to - from + 1);
      }
    }
    float[] out = new float[v.length];
    float[] sums = new float[width];
    for (int y = 0; y < height; y++) {
      int from = Math.max(0, y - radius), to = Math.min(height - 1, y + radius);
      Arrays.fill(sums, 0);
      for (int i = from; i <= to; i++) {
        for (int x = 0; x < width; x++) {
          sums[x] += rows[i * width + x];
        }
      }
      for (int x = 0; x < width; x++) {
        out[y * width + x] = sums[x] / (to - from + 1);
      }
    }
    return out;
  }
}
