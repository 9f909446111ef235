package posada.core.rig;

import java.util.List;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/**
 * Where something is at a time.
 *
 * @param time seconds, 0 .. {@link #LATEST}
 * @param position x, y, z, metres
 * @param rotation x, y, z, w of a unit quaternion
 * @param value what else is keyed: a camera's angle of view in degrees or height in metres, a
 *     light's strength; null for what it has without keys
 * @param ease how it goes on to the next key
 */
public record RigKey(
    double time, List<Double> position, List<Double> rotation, Double value, Ease ease) {
  /** Two hours, seconds. */
  public static final double LATEST = 7200;

  /** Metres from the middle. */
  public static final double FARTHEST = 1e7;

  public RigKey {
    Bounded.within("key time", time, 0, LATEST, "s");
    position = Bounded.numbers("position", position, 3, FARTHEST, "m");
    rotation = Bounded.numbers("rotation", rotation, 4, 2, "");
    if (value != null && !Double.isFinite(value)) {
      throw new IllegalArgumentException("a key's value must be a number (got " + value + ")");
    }
    double length = 0;
    for (double r : rotation) {
      length += r * r;
    }
    if (Math.abs(length - 1) > 1e-3) {
      throw new IllegalArgumentException(
          "rotation must be a quaternion of length 1 (got " + rotation + ")");
    }
  }

  /** Returns a key of a place and a direction. */
  public static RigKey of(double time, Vec3 p, Quat q, Double value, Ease ease) {
    return new RigKey(
        time, List.of(p.x(), p.y(), p.z()), List.of(q.x(), q.y(), q.z(), q.w()), value, ease);
  }

  public Vec3 place() {
    return new Vec3(position.get(0), position.get(1), position.get(2));
  }

  public Quat turn() {
    return new Quat(rotation.get(0), rotation.get(1), rotation.get(2), rotation.get(3))
        .normalized();
  }

  /** Returns the same at another time. */
  public RigKey at(double seconds) {
    return new RigKey(seconds, position, rotation, value, ease);
  }
}
