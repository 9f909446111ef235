package posada.core.settings;

import java.util.Arrays;
import java.util.List;
import java.util.Locale;

/**
 * A pass as the catalogue tells it to people and programs.
 *
 * @param channels names in a file that holds all passes
 * @param precision {@code half} or {@code float}
 * @param filtered false if it is taken at the pixel's centre
 * @param use how a compositor combines it
 * @param cost what it adds to the beauty's time
 */
public record PassEntry(
    String name,
    List<String> channels,
    String precision,
    boolean filtered,
    String use,
    String holds,
    String units,
    String cost) {

  /** Returns all passes, in the catalogue's order. */
  public static List<PassEntry> all() {
    return Arrays.stream(Pass.values()).map(PassEntry::of).toList();
  }

  private static PassEntry of(Pass p) {
    return new PassEntry(
        p.label(),
        p == Pass.OWN ? List.of("NAME.R", "NAME.G", "NAME.B") : p.channels(PassSettings.BEAUTY),
        p.precision().name().toLowerCase(Locale.ROOT),
        p.filtered(),
        p.use().label(),
        p.holds(),
        p.units(),
        p.cost());
  }
}
