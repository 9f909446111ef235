package posada.core.material;

/** A table of numbers over up to four axes of 0 .. 1, read by linear interpolation. */
final class Grid {
  private final int[] sizes;
  private final float[] values;

  Grid(int... sizes) {
    this.sizes = sizes;
    int n = 1;
    for (int s : sizes) {
      n *= s;
    }
    values = new float[n];
  }

  /** Where an entry of an axis stands, 0 .. 1. */
  static float place(int i, int size) {
    return i / (float) (size - 1);
  }

  void set(int index, double v) {
    values[index] = (float) v;
  }

  int size() {
    return values.length;
  }

  float at(float x) {
    float p = clamp(x) * (sizes[0] - 1);
    int i = Math.min(sizes[0] - 2, (int) p);
    return values[i] + (values[i + 1] - values[i]) * (p - i);
  }

  /** Reads a table of two axes, the second one running fastest. */
  float at(float x, float y) {
    return plane(0, 0, x, y);
  }

  private float plane(int offset, int axis, float x, float y) {
    int rows = sizes[axis], columns = sizes[axis + 1];
    float p = clamp(x) * (rows - 1), q = clamp(y) * (columns - 1);
    int i = Math.min(rows - 2, (int) p), j = Math.min(columns - 2, (int) q);
    float fx = p - i, fy = q - j;
    int o = offset + i * columns + j;
    float low = values[o] + (values[o + 1] - values[o]) * fy;
    o += columns;
    float high = values[o] + (values[o + 1] - values[o]) * fy;
    return low + (high - low) * fx;
  }

  /** Reads a table of four axes. */
  float at(float a, float b, float x, float y) {
    float p = clamp(a) * (sizes[0] - 1), q = clamp(b) * (sizes[1] - 1);
    int i = Math.min(sizes[0] - 2, (int) p), j = Math.min(sizes[1] - 2, (int) q);
    float fa = p - i, fb = q - j;
    int plane = sizes[2] * sizes[3];
    int o = (i * sizes[1] + j) * plane;
    int next = o + sizes[1] * plane;
    float low = plane(o, 2, x, y) * (1 - fb) + plane(o + plane, 2, x, y) * fb;
    float high = plane(next, 2, x, y) * (1 - fb) + plane(next + plane, 2, x, y) * fb;
    return low + (high - low) * fa;
  }

  private static float clamp(float v) {
    return v > 0 ? Math.min(v, 1) : 0;
  }
}
