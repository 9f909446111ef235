package posada.core.rig;

import java.util.List;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;

/**
 * Light for something that has none: a strong panel from the front, a weak one from the other side,
 * and one from behind. Each gives the middle so much irradiance, whatever the size: a panel of area
 * A and radiance L that faces a point at distance d gives it about L A / d<sup>2</sup>.
 */
public final class ThreePanels {
  /** Distance from the middle, by half the diagonal; and a panel's side by that distance. */
  private static final double AWAY = 3, SIDE = 0.5;

  private static final double LEAST = 1e-2;

  private ThreePanels() {}

  /**
   * @param around degrees from the front (+Z) to the right
   * @param above degrees over the ground
   * @param irradiance that the middle gets
   */
  private record Place(String name, double around, double above, double irradiance, double kelvin) {
    RigLight light(Vec3 middle, double distance, String prefix) {
      double a = Math.toRadians(around), h = Math.toRadians(above);
      Vec3 towards =
          new Vec3(
              StrictMath.sin(a) * StrictMath.cos(h),
              StrictMath.sin(h),
              StrictMath.cos(a) * StrictMath.cos(h));
      double side = Math.max(LEAST, SIDE * distance);
      return new RigLight(
          prefix + name,
          RigLight.Kind.PANEL,
          irradiance / (SIDE * SIDE),
          List.of(1.0, 1.0, 1.0),
          kelvin,
          side,
          side,
          60,
          0.2,
          false,
          name,
          "",
          List.of(
              RigKey.of(
                  0,
                  middle.plus(towards.times(distance)),
                  Quat.looking(towards.times(-1), new Vec3(0, 1, 0)),
                  null,
                  Ease.LINEAR)),
          true);
    }
  }

  private static final List<Place> PLACES =
      List.of(
          new Place("key", 40, 40, 3, 5200),
          new Place("fill", -55, 15, 0.8, 7500),
          new Place("back", 160, 50, 2.4, 6500));

  /**
   * Returns the lights.
   *
   * @param low corner of what is lit, metres
   * @param high corner opposite
   * @param prefix of their names
   */
  public static List<RigLight> around(Vec3 low, Vec3 high, String prefix) {
    double distance = Math.max(LEAST, AWAY * high.minus(low).length() / 2);
    Vec3 middle = low.plus(high).times(0.5);
    return PLACES.stream().map(p -> p.light(middle, distance, prefix)).toList();
  }
}
