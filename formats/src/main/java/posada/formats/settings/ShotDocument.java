package posada.formats.settings;

import java.util.List;
import posada.core.settings.Crop;
import posada.core.settings.Lens;
import posada.core.settings.Shutter;

/**
 * What a shot says about its pictures beside camera, frames and size.
 *
 * @param schema number of this form; {@link #SCHEMA}
 * @param lens in front of the film
 * @param shutter while the film is exposed
 * @param crop region of the picture; null for all of it
 * @param clips names of the animations that play; null for all
 */
public record ShotDocument(int schema, Lens lens, Shutter shutter, Crop crop, List<String> clips) {
  /** The number of today's form. */
  public static final int SCHEMA = 1;

  public static final ShotDocument DEFAULT = of(RenderDocument.DEFAULT);

  public ShotDocument {
    if (schema != SCHEMA) {
      throw new IllegalArgumentException(
          "schema must be " + SCHEMA + " (got " + schema + "): the document is of another version");
    }
    clips = clips == null ? null : List.copyOf(clips);
  }

  /** Returns what a shot says of a whole document. */
  public static ShotDocument of(RenderDocument d) {
    return new ShotDocument(SCHEMA, d.lens(), d.shutter(), d.crop(), d.clips());
  }
}
