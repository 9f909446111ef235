package posada.core.image;

/**
 * Which red, green, blue and white a picture's numbers mean, as CIE 1931 chromaticities x and y.
 *
 * @param xy of red, green, blue and white, eight numbers
 */
public record Primaries(float[] xy) {
  /** ITU-R BT.709 with the white D65, in which Posada renders. */
  public static final Primaries BT709 =
      new Primaries(new float[] {0.64f, 0.33f, 0.3f, 0.6f, 0.15f, 0.06f, 0.3127f, 0.329f});

  /** Of ACEScg (AMPAS S-2014-004), with about the white of D60. */
  public static final Primaries ACESCG =
      new Primaries(
          new float[] {0.713f, 0.293f, 0.165f, 0.83f, 0.128f, 0.044f, 0.32168f, 0.33767f});

  /** Of SMPTE EG 432-1 with the white D65, as wide screens have them. */
  public static final Primaries P3_D65 =
      new Primaries(new float[] {0.68f, 0.32f, 0.265f, 0.69f, 0.15f, 0.06f, 0.3127f, 0.329f});

  /** X, Y and Z of the white of ICC's profile connection space. */
  private static final double[] D50 = {0.9642, 1, 0.8249};

  /** How sharply the eye's three receptors are told apart when whites differ (Bradford). */
  private static final double[] CONES = {
    0.8951, 0.2664, -0.1614, -0.7502, 1.7135, 0.0367, 0.0389, -0.0685, 1.0296
  };

  public Primaries {
    if (xy.length != 8) {
      throw new IllegalArgumentException("primaries need 8 numbers (got " + xy.length + ")");
    }
  }

  /** Returns true if colours can be told from them: no y of 0, not all on one line. */
  public boolean sound() {
    for (int i = 0; i < 8; i++) {
      if (!Float.isFinite(xy[i]) || i % 2 == 1 && !(Math.abs(xy[i]) > 1e-6)) {
        return false;
      }
    }
    double d = determinant(columns());
    return Math.abs(d) > 1e-6 && Double.isFinite(d);
  }

  /** Returns whether these are the same as others, within what files round. */
  public boolean near(Primaries o) {
    for (int i = 0; i < 8; i++) {
      if (!(Math.abs(xy[i] - o.xy[i]) < 1e-3)) {
        return false;
      }
    }
    return true;
  }

  /**
   * Returns the matrix, row by row, that turns these numbers into those of other primaries; white
   * stays white.
   *
   * <p>Source: SMPTE RP 177:1993, sections 3.3.1 to 3.3.7; for whites that differ ICC.1:2022, annex
   * E.3 (linear Bradford adaptation).
   */
  public double[] to(Primaries o) {
    return times(inverse(o.matrix()), adapted(o.white()));
  }

  /**
   * Returns the matrix, row by row, that turns these numbers into X, Y and Z of ICC's profile
   * connection space, likewise.
   */
  public double[] toConnection() {
    return adapted(D50);
  }

  /** The matrix to X, Y and Z, with this white becoming another. */
  private double[] adapted(double[] white) {
    double[] from = times(CONES, white());
    double[] to = times(CONES, white);
    double[] scale = {to[0] / from[0], 0, 0, 0, to[1] / from[1], 0, 0, 0, to[2] / from[2]};
    return times(times(inverse(CONES), scale), times(CONES, matrix()));
  }

  private double[] white() {
    return new double[] {xy[6] / (double) xy[7], 1, (1.0 - xy[6] - xy[7]) / xy[7]};
  }

  /** X, Y and Z of red, green and blue, of any brightness, as columns. */
  private double[] columns() {
    double[] m = new double[9];
    for (int k = 0; k < 3; k++) {
      m[k] = xy[2 * k];
      m[3 + k] = xy[2 * k + 1];
      m[6 + k] = 1.0 - xy[2 * k] - xy[2 * k + 1];
    }
    return m;
  }

  /** The matrix from these numbers to X, Y and Z. */
  private double[] matrix() {
    double[] m = columns();
    double[] brightness = times(inverse(m), white());
    for (int i = 0; i < 9; i++) {
      m[i] *= brightness[i % 3];
    }
    return m;
  }

  /** Returns the product of a 3 by 3 matrix and another one or a column. */
  private static double[] times(double[] a, double[] b) {
    int n = b.length / 3;
    double[] c = new double[b.length];
    for (int i = 0; i < 3; i++) {
      for (int j = 0; j < n; j++) {
        for (int k = 0; k < 3; k++) {
          c[n * i + j] += a[3 * i + k] * b[n * k + j];
        }
      }
    }
    return c;
  }

  private static double determinant(double[] m) {
    return m[0] * (m[4] * m[8] - m[5] * m[7])
        - m[1] * (m[3] * m[8] - m[5] * m[6])
        + m[2] * (m[3] * m[7] - m[4] * m[6]);
  }

  private static double[] inverse(double[] m) {
    double d = determinant(m);
    double[] r = new double[9];
    for (int i = 0; i < 3; i++) {
      for (int j = 0; j < 3; j++) {
        int a = (j + 1) % 3, b = (j + 2) % 3, c = (i + 1) % 3, e = (i + 2) % 3;
        r[3 * i + j] = (m[3 * a + c] * m[3 * b + e] - m[3 * a + e] * m[3 * b + c]) / d;
      }
    }
    return r;
  }
}
