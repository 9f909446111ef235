package posada.core.geometry;

/** An axis-aligned box that grows; empty until a point was added. Not safe for several threads. */
public final class Bounds {
  private final double[] lo = {
    Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY, Double.POSITIVE_INFINITY
  };
  private final double[] hi = {
    Double.NEGATIVE_INFINITY, Double.NEGATIVE_INFINITY, Double.NEGATIVE_INFINITY
  };

  public void add(double x, double y, double z) {
    lo[0] = Math.min(lo[0], x);
    lo[1] = Math.min(lo[1], y);
    lo[2] = Math.min(lo[2], z);
    hi[0] = Math.max(hi[0], x);
    hi[1] = Math.max(hi[1], y);
    hi[2] = Math.max(hi[2], z);
  }

  /** Adds points given as x, y, z triples. */
  public void addAll(float[] xyz) {
    for (int i = 0; i + 2 < xyz.length; i += 3) {
      add(xyz[i], xyz[i + 1], xyz[i + 2]);
    }
  }

  /**
   * Adds the box around {@code o} after {@code t}; an empty box adds nothing.
   *
   * <p>Source: J. Arvo, "Transforming Axis-Aligned Bounding Boxes", Graphics Gems, 1990.
   */
  public void add(Bounds o, Affine t) {
    if (o.empty()) {
      return;
    }
    double[] m = t.m();
    for (int k = 0; k < 3; k++) {
      double from = m[k * 4 + 3];
      double to = from;
      for (int j = 0; j < 3; j++) {
        double a = m[k * 4 + j] * o.lo[j];
        double b = m[k * 4 + j] * o.hi[j];
        from += Math.min(a, b);
        to += Math.max(a, b);
      }
      lo[k] = Math.min(lo[k], from);
      hi[k] = Math.max(hi[k], to);
    }
  }

  /** Stores the six sides as floats. */
  void store(float[] box, int at) {
    for (int k = 0; k < 3; k++) {
      box[at + k] = (float) lo[k];
      box[at + 3 + k] = (float) hi[k];
    }
  }

  public boolean empty() {
    return !(lo[0] <= hi[0]);
  }

  public Vec3 min() {
    return new Vec3(lo[0], lo[1], lo[2]);
  }

  public Vec3 max() {
    return new Vec3(hi[0], hi[1], hi[2]);
  }

  public Vec3 centre() {
    return min().plus(max()).times(0.5);
  }

  /** Returns the length of the diagonal, metres; 0 if empty. */
  public double diagonal() {
    return empty() ? 0 : max().minus(min()).length();
  }
}
