package posada.core.rig;

import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/**
 * A way around an upright axis. After each turn everything is where it was: with a turn of N frames
 * the frame after the last is like the first, and the last is not.
 *
 * @param centre x, y, z of a point of the axis, metres
 * @param from when it starts, seconds
 * @param seconds that a turn takes
 * @param turns how many; below 0 the other way around, clockwise seen from above
 */
public record Orbit(List<Double> centre, double from, double seconds, double turns) {
  public Orbit {
    centre = Bounded.numbers("centre", centre, 3, RigKey.FARTHEST, "m");
    Bounded.within("start of the turn", from, 0, RigKey.LATEST, "s");
    Bounded.within("time of a turn", seconds, 0.1, RigKey.LATEST, "s");
    Bounded.within("number of turns", turns, -100, 100, "");
  }

  double to() {
    return from + seconds * Math.abs(turns);
  }

  /** Returns what it does at a time. */
  Affine at(double t) {
    double done = Math.max(0, Math.min(Math.abs(turns), (t - from) / seconds));
    // Whole turns are left out, so that the first and the last place are the same.
    double part = done - Math.floor(done);
    Quat q = Quat.axisAngle(new Vec3(0, 1, 0), 2 * Math.PI * part * Math.signum(turns));
    Vec3 c = new Vec3(centre.get(0), centre.get(1), centre.get(2));
    Affine back = Affine.of(c.times(-1), Quat.IDENTITY, Vec3.ONE);
    return Affine.of(c, q, Vec3.ONE).times(back);
  }
}
