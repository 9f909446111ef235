package posada.core.rig;

import java.util.List;
import java.util.function.ToDoubleFunction;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/**
 * Keys read at any time; before the first and after the last what they say is held.
 *
 * <p>Smooth keys are passed at the speed of the straight line between their neighbours (cubic
 * Hermite curve; for turns number by number on quaternions of one hemisphere).
 */
public final class KeyPath {
  private final List<RigKey> keys;
  private final Quat[] turns;
  private final Vec3 pivot;

  /**
   * @param pivot what is turned about between keys, in the moving thing's own axes, metres
   */
  public KeyPath(List<RigKey> keys, Vec3 pivot) {
    this.keys = keys;
    this.pivot = pivot;
    turns = new Quat[keys.size()];
    for (int i = 0; i < turns.length; i++) {
      Quat q = keys.get(i).turn();
      turns[i] = i > 0 && q.dot(turns[i - 1]) < 0 ? negative(q) : q;
    }
  }

  private static Quat negative(Quat q) {
    return new Quat(-q.x(), -q.y(), -q.z(), -q.w());
  }

  /** Returns the number of the last key at or before a time, or 0. */
  private int before(double t) {
    int lo = 0;
    int hi = keys.size() - 1;
    while (lo < hi) {
      int mid = (lo + hi + 1) >>> 1;
      if (keys.get(mid).time() <= t) {
        lo = mid;
      } else {
        hi = mid - 1;
      }
    }
    return lo;
  }

  /** Returns where it is at a time. */
  public Vec3 place(double t) {
    Vec3 p =
        new Vec3(
            number(t, k -> held(k).x()), number(t, k -> held(k).y()), number(t, k -> held(k).z()));
    return pivot.equals(Vec3.ZERO) ? p : p.minus(turned(turn(t), pivot));
  }

  /** Returns where the pivot is at a key. */
  private Vec3 held(RigKey k) {
    return pivot.equals(Vec3.ZERO) ? k.place() : k.place().plus(turned(k.turn(), pivot));
  }

  private static Vec3 turned(Quat q, Vec3 v) {
    return Affine.of(Vec3.ZERO, q, Vec3.ONE).vector(v);
  }

  /**
   * Returns the keyed value at a time.
   *
   * @param usual where a key says none
   */
  public double value(double t, double usual) {
    return number(t, k -> k.value() == null ? usual : k.value());
  }

  /** Returns the rotation at a time. */
  public Quat turn(double t) {
    int i = before(t);
    if (i == keys.size() - 1 || t <= keys.get(0).time()) {
      return turns[t <= keys.get(0).time() ? 0 : i];
    }
    double f = fraction(i, t);
    return switch (keys.get(i).ease()) {
      case STEP -> turns[i];
      case LINEAR -> turns[i].slerp(turns[i + 1], f);
      case EASED -> turns[i].slerp(turns[i + 1], eased(f));
      case SMOOTH ->
          new Quat(
                  hermite(i, t, j -> turns[j].x()),
                  hermite(i, t, j -> turns[j].y()),
                  hermite(i, t, j -> turns[j].z()),
                  hermite(i, t, j -> turns[j].w()))
              .normalized();
    };
  }

  private double fraction(int i, double t) {
    double from = keys.get(i).time();
    return (t - from) / (keys.get(i + 1).time() - from);
  }

  static double eased(double f) {
    return f * f * (3 - 2 * f);
  }

  private double number(double t, ToDoubleFunction<RigKey> of) {
    int i = before(t);
    double a = of.applyAsDouble(keys.get(i));
    if (i == keys.size() - 1 || t <= keys.get(0).time()) {
      return a;
    }
    double f = fraction(i, t);
    double b = of.applyAsDouble(keys.get(i + 1));
    return switch (keys.get(i).ease()) {
      case STEP -> a;
      case LINEAR -> a + (b - a) * f;
      case EASED -> a + (b - a) * eased(f);
      case SMOOTH -> hermite(i, t, j -> of.applyAsDouble(keys.get(j)));
    };
  }

  /** A number at each key. */
  private interface At {
    double key(int i);
  }

  private double hermite(int i, double t, At of) {
    double f = fraction(i, t);
    double f2 = f * f;
    double f3 = f2 * f;
    double length = keys.get(i + 1).time() - keys.get(i).time();
    return (2 * f3 - 3 * f2 + 1) * of.key(i)
        + length * (f3 - 2 * f2 + f) * speed(i, of)
        + (3 * f2 - 2 * f3) * of.key(i + 1)
        + length * (f3 - f2) * speed(i + 1, of);
  }

  /** Returns how fast a smooth key is passed, in numbers a second. */
  private double speed(int i, At of) {
    boolean passed =
        i > 0
            && i < keys.size() - 1
            && keys.get(i - 1).ease() == Ease.SMOOTH
            && keys.get(i).ease() == Ease.SMOOTH;
    return passed
        ? (of.key(i + 1) - of.key(i - 1)) / (keys.get(i + 1).time() - keys.get(i - 1).time())
        : 0;
  }
}
