package posada.core.denoise;

import java.util.Arrays;

/** Planes of numbers whose border is repeated on all sides, so that windows may reach over it. */
final class Padded {
  /** Numbers after the last one that rows may be read past their end. */
  static final int SLACK = 32;

  private Padded() {}

  /**
   * Returns a plane with {@code pad} more pixels on each side, {@code width + 2 * pad} to a row.
   */
  static float[] of(float[] plane, int width, int height, int pad) {
    int stride = width + 2 * pad;
    float[] out = new float[stride * (height + 2 * pad) + SLACK];
    for (int y = 0; y < height + 2 * pad; y++) {
      int from = Math.min(height - 1, Math.max(0, y - pad)) * width;
      int to = y * stride;
      Arrays.fill(out, to, to + pad, plane[from]);
      System.arraycopy(plane, from, out, to + pad, width);
      Arrays.fill(out, to + pad + width, to + stride, plane[from + width - 1]);
    }
    return out;
  }
}
