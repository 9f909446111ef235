package posada.core.denoise;

import posada.core.parallel.Workers;

/** Means over squares of pixels, cut off at the border. */
final class Box {
  private Box() {}

  /**
   * @param radius pixels to each side
   */
  static float[] mean(float[] v, int width, int height, int radius, Workers workers) {
    float[] rows = new float[v.length];
    workers.each(
        height,
        y -> {
          for (int x = 0; x < width; x++) {
            int from = Math.max(0, x - radius), to = Math.min(width - 1, x + radius);
            float sum = 0;
            for (int i = from; i <= to; i++) {
              sum += v[y * width + i];
            }
            rows[y * width + x] = sum / (to - from + 1);
          }
        });
    float[] out = new float[v.length];
    workers.each(
        height,
        y -> {
          int from = Math.max(0, y - radius), to = Math.min(height - 1, y + radius);
          int row = y * width;
          for (int i = from; i <= to; i++) {
            for (int x = 0; x < width; x++) {
              out[row + x] += rows[i * width + x];
            }
          }
          for (int x = 0; x < width; x++) {
            out[row + x] /= to - from + 1;
          }
        });
    return out;
  }
}
