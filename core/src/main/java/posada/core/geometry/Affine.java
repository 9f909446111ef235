package posada.core.geometry;

/**
 * An affine transform, rows of a 3 by 4 matrix applied to column vectors: {@code p' = M p + t}.
 *
 * @param m 12 values, row by row, the fourth of each row the translation
 */
public record Affine(double[] m) {
  public static final Affine IDENTITY =
      new Affine(new double[] {1, 0, 0, 0, 0, 1, 0, 0, 0, 0, 1, 0});

  public Affine {
    if (m.length != 12) {
      throw new IllegalArgumentException(
          "an affine transform has 12 values (got " + m.length + ")");
    }
  }

  /** Returns translation after rotation after scale; the rotation is normalised first. */
  public static Affine of(Vec3 t, Quat rotation, Vec3 s) {
    Quat q = rotation.normalized();
    double x = q.x(), y = q.y(), z = q.z(), w = q.w();
    return new Affine(
        new double[] {
          (1 - 2 * (y * y + z * z)) * s.x(),
          2 * (x * y - z * w) * s.y(),
          2 * (x * z + y * w) * s.z(),
          t.x(),
          2 * (x * y + z * w) * s.x(),
          (1 - 2 * (x * x + z * z)) * s.y(),
          2 * (y * z - x * w) * s.z(),
          t.y(),
          2 * (x * z - y * w) * s.x(),
          2 * (y * z + x * w) * s.y(),
          (1 - 2 * (x * x + y * y)) * s.z(),
          t.z()
        });
  }

  /** Returns the transform of a glTF matrix: 16 values, column by column, last row ignored. */
  public static Affine ofColumns(double[] c) {
    return new Affine(
        new double[] {c[0], c[4], c[8], c[12], c[1], c[5], c[9], c[13], c[2], c[6], c[10], c[14]});
  }

  /** Returns the transform that does {@code o} first and then this. */
  public Affine times(Affine o) {
    double[] r = new double[12];
    for (int i = 0; i < 3; i++) {
      for (int j = 0; j < 4; j++) {
        double s = j == 3 ? m[i * 4 + 3] : 0;
        for (int k = 0; k < 3; k++) {
          s += m[i * 4 + k] * o.m[k * 4 + j];
        }
        r[i * 4 + j] = s;
      }
    }
    return new Affine(r);
  }

  public double determinant() {
    return m[0] * (m[5] * m[10] - m[6] * m[9])
        - m[1] * (m[4] * m[10] - m[6] * m[8])
        + m[2] * (m[4] * m[9] - m[5] * m[8]);
  }

  /** Returns true if the transform can be undone: its determinant is finite and not zero. */
  public boolean invertible() {
    double d = determinant();
    return Math.abs(d) > 1e-300 && Double.isFinite(1 / d);
  }

  /** Returns the inverse; {@link #invertible()} must hold. */
  public Affine inverse() {
    double d = 1 / determinant();
    double[] r = new double[12];
    r[0] = (m[5] * m[10] - m[6] * m[9]) * d;
    r[1] = (m[2] * m[9] - m[1] * m[10]) * d;
    r[2] = (m[1] * m[6] - m[2] * m[5]) * d;
    r[4] = (m[6] * m[8] - m[4] * m[10]) * d;
    r[5] = (m[0] * m[10] - m[2] * m[8]) * d;
    r[6] = (m[2] * m[4] - m[0] * m[6]) * d;
    r[8] = (m[4] * m[9] - m[5] * m[8]) * d;
    r[9] = (m[1] * m[8] - m[0] * m[9]) * d;
    r[10] = (m[0] * m[5] - m[1] * m[4]) * d;
    for (int i = 0; i < 3; i++) {
      r[i * 4 + 3] = -(r[i * 4] * m[3] + r[i * 4 + 1] * m[7] + r[i * 4 + 2] * m[11]);
    }
    return new Affine(r);
  }

  public Vec3 point(Vec3 p) {
    return vector(p).plus(translation());
  }

  public Vec3 vector(Vec3 v) {
    return new Vec3(
        m[0] * v.x() + m[1] * v.y() + m[2] * v.z(),
        m[4] * v.x() + m[5] * v.y() + m[6] * v.z(),
        m[8] * v.x() + m[9] * v.y() + m[10] * v.z());
  }

  public Vec3 translation() {
    return new Vec3(m[3], m[7], m[11]);
  }

  /** Returns the 12 values in single precision, in the same order. */
  public float[] toFloats() {
    float[] f = new float[12];
    for (int i = 0; i < 12; i++) {
      f[i] = (float) m[i];
    }
    return f;
  }
}
