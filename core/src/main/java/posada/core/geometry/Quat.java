package posada.core.geometry;

/**
 * A rotation as a quaternion, scalar last as in glTF 2.0; unit length where a rotation is meant.
 */
public record Quat(double x, double y, double z, double w) {
  public static final Quat IDENTITY = new Quat(0, 0, 0, 1);

  /**
   * Returns the rotation by {@code radians} about {@code axis}, counter-clockwise seen from its
   * tip.
   */
  public static Quat axisAngle(Vec3 axis, double radians) {
    Vec3 a = axis.normalized();
    double s = StrictMath.sin(radians / 2);
    return new Quat(a.x() * s, a.y() * s, a.z() * s, StrictMath.cos(radians / 2));
  }

  /**
   * Returns the rotation that turns a camera (looking along -Z, +Y up) to look along {@code
   * forward}.
   */
  public static Quat looking(Vec3 forward, Vec3 up) {
    Vec3 back = forward.times(-1).normalized();
    Vec3 right = up.cross(back);
    if (right.length() < 1e-9) {
      Vec3 aside = Math.abs(back.x()) < 0.9 ? new Vec3(1, 0, 0) : new Vec3(0, 0, 1);
      right = aside.minus(back.times(aside.dot(back)));
    }
    right = right.normalized();
    Vec3 top = back.cross(right);
    return fromAxes(right, top, back);
  }

  private static Quat fromAxes(Vec3 a, Vec3 b, Vec3 c) {
    double trace = a.x() + b.y() + c.z();
    if (trace > 0) {
      double s = 2 * Math.sqrt(trace + 1);
      return new Quat((b.z() - c.y()) / s, (c.x() - a.z()) / s, (a.y() - b.x()) / s, s / 4);
    }
    if (a.x() > b.y() && a.x() > c.z()) {
      double s = 2 * Math.sqrt(1 + a.x() - b.y() - c.z());
      return new Quat(s / 4, (b.x() + a.y()) / s, (c.x() + a.z()) / s, (b.z() - c.y()) / s);
    }
    if (b.y() > c.z()) {
      double s = 2 * Math.sqrt(1 + b.y() - a.x() - c.z());
      return new Quat((b.x() + a.y()) / s, s / 4, (c.y() + b.z()) / s, (c.x() - a.z()) / s);
    }
    double s = 2 * Math.sqrt(1 + c.z() - a.x() - b.y());
    return new Quat((c.x() + a.z()) / s, (c.y() + b.z()) / s, s / 4, (a.y() - b.x()) / s);
  }

  /** Returns the rotation that does {@code o} first and then this. */
  public Quat times(Quat o) {
    return new Quat(
        w * o.x + x * o.w + y * o.z - z * o.y,
        w * o.y - x * o.z + y * o.w + z * o.x,
        w * o.z + x * o.y - y * o.x + z * o.w,
        w * o.w - x * o.x - y * o.y - z * o.z);
  }

  public double dot(Quat o) {
    return x * o.x + y * o.y + z * o.z + w * o.w;
  }

  /** Returns this quaternion at unit length, or the identity if it has none. */
  public Quat normalized() {
    double l = Math.sqrt(dot(this));
    return l > 0 ? new Quat(x / l, y / l, z / l, w / l) : IDENTITY;
  }

  /**
   * Returns the rotation at fraction {@code f} of the shorter way to {@code o}.
   *
   * <p>Source: glTF 2.0, appendix C.4, spherical linear interpolation.
   */
  public Quat slerp(Quat o, double f) {
    double d = dot(o);
    double sign = d < 0 ? -1 : 1;
    double c = Math.min(1, Math.abs(d));
    double angle = StrictMath.acos(c);
    if (angle < 1e-6) {
      return mix(o, 1 - f, sign * f).normalized();
    }
    double s = StrictMath.sin(angle);
    return mix(o, StrictMath.sin((1 - f) * angle) / s, sign * StrictMath.sin(f * angle) / s)
        .normalized();
  }

  private Quat mix(Quat o, double a, double b) {
    return new Quat(x * a + o.x * b, y * a + o.y * b, z * a + o.z * b, w * a + o.w * b);
  }
}
