package posada.formats.settings;

import java.util.List;
import posada.core.settings.Crop;
import posada.core.settings.Lens;
import posada.core.settings.Limits;
import posada.core.settings.Shutter;

/**
 * What a shot says about its pictures beside camera, frames and size.
 *
 * @param schema number of this form; {@link #SCHEMA}
 * @param lens in front of the film
 * @param shutter while the film is exposed
 * @param crop region of the picture; null for all of it
 * @param clips names of the animations that play; null for all
 * @param headHandle frames at the beginning that are rendered, but not in the cut
 * @param tailHandle frames at the end likewise
 */
public record ShotDocument(
    int schema,
    Lens lens,
    Shutter shutter,
    Crop crop,
    List<String> clips,
    int headHandle,
    int tailHandle) {
  /** The number of today's form. */
  public static final int SCHEMA = 1;

  private static final int MOST_HANDLE = 10_000;

  public static final ShotDocument DEFAULT = of(RenderDocument.DEFAULT);

  public ShotDocument {
    if (schema != SCHEMA) {
      throw new IllegalArgumentException(
          "schema must be " + SCHEMA + " (got " + schema + "): the document is of another version");
    }
    clips = clips == null ? null : List.copyOf(clips);
    Limits.whole("headHandle", headHandle, 0, MOST_HANDLE);
    Limits.whole("tailHandle", tailHandle, 0, MOST_HANDLE);
  }

  /** Returns the same with other handles. */
  public ShotDocument withHandles(int head, int tail) {
    return new ShotDocument(schema, lens, shutter, crop, clips, head, tail);
  }

  /** Returns those of a shot's frames that are in the cut; all of them if handles leave none. */
  public List<Integer> inCut(List<Integer> frames) {
    int to = frames.size() - tailHandle;
    return to > headHandle ? frames.subList(headHandle, to) : frames;
  }

  /** Returns what a shot says of a whole document. */
  public static ShotDocument of(RenderDocument d) {
    return new ShotDocument(SCHEMA, d.lens(), d.shutter(), d.crop(), d.clips(), 0, 0);
  }
}
