package posada.core.scene;

import java.time.LocalDate;
import java.time.temporal.ChronoUnit;

/** Skies of a day for tests. */
public final class Skies {
  private Skies() {}

  /**
   * Returns a sky that stands still, of turbidity 3, over black ground.
   *
   * @param hours by the clock of the zone, hours from UTC
   */
  public static DaySky of(
      DaySky.Model model,
      double latitude,
      double longitude,
      LocalDate date,
      double hours,
      double zone) {
    return new DaySky(
        model,
        Track.of(latitude),
        Track.of(longitude),
        Track.of(ChronoUnit.DAYS.between(LocalDate.of(2000, 1, 1), date)),
        Track.of(hours),
        Track.of(zone),
        Track.of(3),
        Track.of(1),
        Track.of(1),
        Track.of(0),
        new float[3]);
  }
}
