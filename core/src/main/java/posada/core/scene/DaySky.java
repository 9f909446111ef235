package posada.core.scene;

import java.util.stream.Stream;

/**
 * Sun and sky of a place and time. North is -Z and east is +X, turned by {@code north}.
 *
 * @param model how the sky's luminance is spread
 * @param latitude degrees, north positive
 * @param longitude degrees, east positive
 * @param date days since 2000-01-01 at 0 h UTC
 * @param hours local clock time of that day; keys may run past 24
 * @param zone hours that the clock is ahead of UTC
 * @param turbidity of the air, 1.9 (clear) .. 10 (hazy)
 * @param strength factor on sun and sky; at 1 a radiance of 1 stands for 10,000 cd/m2
 * @param sun factor on the sun alone
 * @param north degrees by which the compass is turned, clockwise seen from above
 * @param ground reflectance of the ground, which fills the lower half
 */
public record DaySky(
    Model model,
    Track latitude,
    Track longitude,
    Track date,
    Track hours,
    Track zone,
    Track turbidity,
    Track strength,
    Track sun,
    Track north,
    float[] ground) {
  /** The physical sky, or one of the fifteen standard skies of ISO 15469 by its number. */
  public record Model(int standard) {
    public static final Model PHYSICAL = new Model(0);

    public Model {
      if (standard < 0 || standard > 15) {
        throw new IllegalArgumentException(
            "a standard sky has a number 1 .. 15 (got " + standard + ")");
      }
    }
  }

  public DaySky {
    latitude.within("latitude", -90, 90);
    longitude.within("longitude", -180, 180);
    date.within("date", -36525, 36525);
    hours.within("time", -1000, 1000);
    zone.within("time zone", -14, 14);
    turbidity.within("turbidity", 1.9, 10);
    strength.within("sky strength", 0, 1e6);
    sun.within("sun strength", 0, 1e6);
    north.within("north", -3600, 3600);
    for (float g : ground) {
      if (!(g >= 0 && g <= 1)) {
        throw new IllegalArgumentException("ground reflectance must be 0 .. 1 (got " + g + ")");
      }
    }
  }

  /** Returns true if it is not the same at all times. */
  public boolean changes() {
    return Stream.of(latitude, longitude, date, hours, zone, turbidity, strength, sun, north)
        .anyMatch(Track::changes);
  }
}
