package posada.core.trace.bake;

/**
 * Directions around a place, chosen by how bright some paths found them to be: by the root of the
 * mean square of the light from each cell of a grid, which is what makes the least noise (R.
 * Rubinstein and D. Kroese, "Simulation and the Monte Carlo Method", 2016, section 5.7). The grid
 * is a square folded around an octahedron. Immutable.
 */
final class LitDirections {
  /** Cells along each side of the square. */
  private static final int SIDE = 48;

  static final int CELLS = SIDE * SIDE;

  /** Least share of the directions that is left to be chosen evenly. */
  private static final float EVEN = 0.3f;

  /** Sum of the shares of all cells up to each, of those that are chosen here. */
  private final float[] upTo = new float[CELLS];

  /** Part of the directions that is chosen here: the others are to be chosen evenly. */
  final float share;

  /**
   * @param squares of light times cosine, integrated over each cell; see {@link #stretch}
   * @param rest likewise of all directions that no cell holds
   */
  LitDirections(double[] squares, double rest) {
    double all = 0;
    for (double s : squares) {
      all += Math.sqrt(s);
    }
    double sum = 0;
    for (int i = 0; i < CELLS; i++) {
      sum += Math.sqrt(squares[i]);
      upTo[i] = (float) (sum / Math.max(Double.MIN_NORMAL, all));
    }
    upTo[CELLS - 1] = 1;
    double even = Math.sqrt(rest * CELLS / 2);
    share = all > 0 ? Math.min(1 - EVEN, (float) (all / (all + even))) : 0;
  }

  /**
   * Chooses a direction.
   *
   * @param u even in [0, 1), likewise v
   * @param out becomes the direction
   */
  void choose(float u, float v, float[] out) {
    int low = 0, high = CELLS - 1;
    while (low < high) {
      int middle = (low + high) >>> 1;
      if (u < upTo[middle]) {
        high = middle;
      } else {
        low = middle + 1;
      }
    }
    float before = low == 0 ? 0 : upTo[low - 1];
    float x = (low % SIDE + inside((u - before) / (upTo[low] - before))) * (2f / SIDE) - 1;
    float z = (low / SIDE + inside(v)) * (2f / SIDE) - 1;
    float y = 1 - Math.abs(x) - Math.abs(z);
    if (y < 0) {
      float folded = Math.copySign(1 - Math.abs(z), x);
      z = Math.copySign(1 - Math.abs(x), z);
      x = folded;
    }
    float k = 1 / (float) Math.sqrt(x * x + y * y + z * z);
    out[0] = x * k;
    out[1] = y * k;
    out[2] = z * k;
  }

  /** Keeps a place in a cell off its edges, so that rounding does not move it to the next. */
  private static float inside(float x) {
    return Math.min(0.9999f, Math.max(0.0001f, x));
  }

  /** Returns the density with which a unit direction is chosen, per steradian. */
  float density(float x, float y, float z) {
    int cell = cell(x, y, z);
    float before = cell == 0 ? 0 : upTo[cell - 1];
    return (upTo[cell] - before) * (CELLS / 4f) / stretch(x, y, z);
  }

  /** Returns the cell of a unit direction. */
  static int cell(float x, float y, float z) {
    float k = 1 / (Math.abs(x) + Math.abs(y) + Math.abs(z));
    float u = x * k, v = z * k;
    if (y < 0) {
      float folded = Math.copySign(1 - Math.abs(v), u);
      v = Math.copySign(1 - Math.abs(u), v);
      u = folded;
    }
    return index(v) * SIDE + index(u);
  }

  private static int index(float x) {
    return Math.min(SIDE - 1, Math.max(0, (int) ((x + 1) * (SIDE / 2f))));
  }

  /**
   * Returns the solid angle around a unit direction over its area on the square, whose sides are 2:
   * a face of the octahedron is seen at an angle, from its distance.
   */
  static float stretch(float x, float y, float z) {
    float d = Math.abs(x) + Math.abs(y) + Math.abs(z);
    return d * d * d;
  }
}
