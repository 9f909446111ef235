package posada.core.geometry;

/** A point, direction or scale in three dimensions; right-handed, +Y up, metres unless said. */
public record Vec3(double x, double y, double z) {
  public static final Vec3 ZERO = new Vec3(0, 0, 0);
  public static final Vec3 ONE = new Vec3(1, 1, 1);

  public Vec3 plus(Vec3 o) {
    return new Vec3(x + o.x, y + o.y, z + o.z);
  }

  public Vec3 minus(Vec3 o) {
    return new Vec3(x - o.x, y - o.y, z - o.z);
  }

  public Vec3 times(double s) {
    return new Vec3(x * s, y * s, z * s);
  }

  public double dot(Vec3 o) {
    return x * o.x + y * o.y + z * o.z;
  }

  public Vec3 cross(Vec3 o) {
    return new Vec3(y * o.z - z * o.y, z * o.x - x * o.z, x * o.y - y * o.x);
  }

  public double length() {
    return Math.sqrt(dot(this));
  }

  /** Returns this vector at unit length, or +Y if it has none. */
  public Vec3 normalized() {
    double l = length();
    return l > 0 ? times(1 / l) : new Vec3(0, 1, 0);
  }

  /** Returns the point at fraction {@code f} of the way to {@code o}. */
  public Vec3 lerp(Vec3 o, double f) {
    return plus(o.minus(this).times(f));
  }
}
