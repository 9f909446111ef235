package posada.core.rig;

import java.util.SplittableRandom;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/**
 * The unsteadiness of a camera in the hand: for each axis a sum of sines between half and one and a
 * half times the frequency, whose phases come from the seed.
 *
 * @param metres root mean square of the movement along each axis
 * @param degrees likewise of the turning about each axis
 * @param frequency Hz
 * @param seed of the phases
 * @param from when it begins, seconds
 * @param to when it ends; from then on it is held
 * @param loop true if the end is like the beginning
 */
public record Sway(
    double metres,
    double degrees,
    double frequency,
    int seed,
    double from,
    double to,
    boolean loop) {
  /** Sines for each axis. */
  private static final int SINES = 9;

  public Sway {
    Bounded.within("sway", metres, 0, 100, "m");
    Bounded.within("sway", degrees, 0, 45, "degrees");
    Bounded.within("frequency of the sway", frequency, 0.02, 20, "Hz");
    Bounded.within("start of the sway", from, 0, RigKey.LATEST, "s");
    Bounded.within("end of the sway", to, 0, RigKey.LATEST, "s");
    if (!(to > from)) {
      throw new IllegalArgumentException(
          "the sway must end after it begins (got "
              + Bounded.plain(from)
              + " s to "
              + Bounded.plain(to)
              + " s)");
    }
    if (loop && frequency * (to - from) < 1) {
      throw new IllegalArgumentException(
          "a sway of "
              + Bounded.plain(frequency)
              + " Hz does not repeat within "
              + Bounded.plain(to - from)
              + " s; raise the frequency or let it not loop");
    }
  }

  /** Returns the movement at a time, metres. */
  Vec3 moved(double t) {
    return new Vec3(axis(0, t), axis(1, t), axis(2, t)).times(metres);
  }

  /** Returns the turning at a time. */
  Quat turned(double t) {
    double a = Math.toRadians(degrees);
    return Quat.axisAngle(new Vec3(0, 1, 0), a * axis(3, t))
        .times(Quat.axisAngle(new Vec3(1, 0, 0), a * axis(4, t)))
        .times(Quat.axisAngle(new Vec3(0, 0, 1), a * axis(5, t)));
  }

  /** Returns one axis at a time; its root mean square over a long time is 1. */
  double axis(int axis, double t) {
    double at = Math.max(from, Math.min(to, t)) - from;
    SplittableRandom random = new SplittableRandom(seed * 31L + axis);
    double sum = 0;
    for (int i = 0; i < SINES; i++) {
      double f = frequency * (0.5 + (i + random.nextDouble()) / SINES);
      double phase = 2 * Math.PI * random.nextDouble();
      if (loop) {
        f = Math.max(1, Math.rint(f * (to - from))) / (to - from);
      }
      sum += StrictMath.sin(2 * Math.PI * f * at + phase);
    }
    return sum * Math.sqrt(2.0 / SINES);
  }
}
