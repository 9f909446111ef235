package posada.core.motion;

import posada.core.geometry.Quat;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Curve;
import posada.core.scene.Animation.Interpolation;
import posada.core.scene.Animation.Path;

/**
 * Reads keys at a time: before the first key and after the last its value is held.
 *
 * <p>Source: glTF 2.0, appendix C (step, linear, spherical linear, cubic spline).
 */
public final class Keys {
  private Keys() {}

  /**
   * Returns the channel's value.
   *
   * @param seconds any finite time
   * @return {@code c.curve().width()} numbers; a rotation is of unit length
   */
  public static double[] at(Channel c, double seconds) {
    return at(c.curve(), seconds, c.path() == Path.ROTATION);
  }

  /** Returns the curve's value at any finite time, taken number by number. */
  public static double[] at(Curve c, double seconds) {
    return at(c, seconds, false);
  }

  private static double[] at(Curve c, double seconds, boolean rotation) {
    float[] t = c.times();
    int last = t.length - 1;
    double[] v;
    if (seconds <= t[0]) {
      v = value(c, 0);
    } else if (seconds >= t[last]) {
      v = value(c, last);
    } else {
      int k = segment(t, seconds);
      double length = (double) t[k + 1] - t[k];
      double f = (seconds - t[k]) / length;
      v =
          switch (c.interpolation()) {
            case STEP -> value(c, k);
            case LINEAR ->
                rotation
                    ? numbers(quat(value(c, k)).slerp(quat(value(c, k + 1)), f))
                    : linear(c, k, f);
            case CUBIC -> cubic(c, k, f, length);
          };
    }
    return rotation ? numbers(quat(v)) : v;
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

  private static double[] value(Curve c, int key) {
    int w = c.width();
    int at = c.interpolation() == Interpolation.CUBIC ? (key * 3 + 1) * w : key * w;
    double[] v = new double[w];
    for (int i = 0; i < w; i++) {
      v[i] = c.values()[at + i];
    }
    return v;
  }

  private static double[] linear(Curve c, int k, double f) {
    double[] a = value(c, k);
    double[] b = value(c, k + 1);
    for (int i = 0; i < a.length; i++) {
      a[i] += (b[i] - a[i]) * f;
    }
    return a;
  }

  private static double[] cubic(Curve c, int k, double f, double length) {
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
    return v;
  }

  private static Quat quat(double[] v) {
    return new Quat(v[0], v[1], v[2], v[3]).normalized();
  }

  private static double[] numbers(Quat q) {
    return new double[] {q.x(), q.y(), q.z(), q.w()};
  }
}
