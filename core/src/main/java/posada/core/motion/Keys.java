package posada.core.motion;

import posada.core.geometry.Quat;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;

/**
 * Reads a channel at a time: before the first key and after the last its value is held.
 *
 * <p>Source: glTF 2.0, appendix C (step, linear, spherical linear, cubic spline).
 */
public final class Keys {
  private Keys() {}

  /**
   * Returns the channel's value.
   *
   * @param seconds any finite time
   * @return {@code c.width()} numbers; a rotation is of unit length
   */
  public static double[] at(Channel c, double seconds) {
    float[] t = c.times();
    int last = t.length - 1;
    if (seconds <= t[0]) {
      return value(c, 0);
    }
    if (seconds >= t[last]) {
      return value(c, last);
    }
    int k = segment(t, seconds);
    double length = (double) t[k + 1] - t[k];
    double f = (seconds - t[k]) / length;
    return switch (c.interpolation()) {
      case STEP -> value(c, k);
      case LINEAR -> linear(c, k, f);
      case CUBIC -> cubic(c, k, f, length);
    };
  }

  private static int segment(float[] t, double seconds) {
    int lo = 0;
    int hi = t.length - 1;
    while (hi - lo > 1) {
      int mid = (lo + hi) >>> 1;
      if (t[mid] <= seconds) {
        lo = mid;
      } else {
        hi = mid;
      }
    }
    return lo;
  }

  private static double[] value(Channel c, int key) {
    int w = c.width();
    int at = c.interpolation() == Interpolation.CUBIC ? (key * 3 + 1) * w : key * w;
    double[] v = new double[w];
    for (int i = 0; i < w; i++) {
      v[i] = c.values()[at + i];
    }
    return unitIfRotation(c, v);
  }

  private static double[] linear(Channel c, int k, double f) {
    double[] a = value(c, k);
    double[] b = value(c, k + 1);
    if (c.path() == Path.ROTATION) {
      Quat q = new Quat(a[0], a[1], a[2], a[3]).slerp(new Quat(b[0], b[1], b[2], b[3]), f);
      return new double[] {q.x(), q.y(), q.z(), q.w()};
    }
    for (int i = 0; i < a.length; i++) {
      a[i] += (b[i] - a[i]) * f;
    }
    return a;
  }

  private static double[] cubic(Channel c, int k, double f, double length) {
    int w = c.width();
    double f2 = f * f;
    double f3 = f2 * f;
    double[] v = new double[w];
    for (int i = 0; i < w; i++) {
      double from = c.values()[(k * 3 + 1) * w + i];
      double out = c.values()[(k * 3 + 2) * w + i];
      double in = c.values()[(k + 1) * 3 * w + i];
      double to = c.values()[((k + 1) * 3 + 1) * w + i];
      v[i] =
          (2 * f3 - 3 * f2 + 1) * from
              + length * (f3 - 2 * f2 + f) * out
              + (-2 * f3 + 3 * f2) * to
              + length * (f3 - f2) * in;
    }
    return unitIfRotation(c, v);
  }

  private static double[] unitIfRotation(Channel c, double[] v) {
    if (c.path() != Path.ROTATION) {
      return v;
    }
    Quat q = new Quat(v[0], v[1], v[2], v[3]).normalized();
    return new double[] {q.x(), q.y(), q.z(), q.w()};
  }
}
