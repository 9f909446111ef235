package posada.formats.job;

import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import posada.core.scene.Digest;
import posada.core.settings.Crop;
import posada.core.settings.Recipe;
import posada.core.settings.RenderSettings;
import posada.core.trace.FrameContent;

/**
 * How frames are rendered again that somebody has sent back.
 *
 * @param recipe in place of the strand's; null for that
 * @param box part of the picture that is rendered and put into what is there; null for all of it
 * @param more samples of each pixel that are put on top of those that are there, which are as many
 *     as the recipe asks for without them; 0 for none
 * @param note what is said of the frames then
 */
public record Again(Recipe recipe, Crop box, int more, String note) {
  public Again {
    if (more < 0 || more > RenderSettings.MOST_SAMPLES) {
      throw new IllegalArgumentException(
          "samples on top must be 0 .. " + RenderSettings.MOST_SAMPLES + " (got " + more + ")");
    }
    if (more > 0 && (box != null || recipe == null)) {
      throw new IllegalArgumentException(
          "more samples go on top of whole pictures, of a recipe that asks for all of them");
    }
  }

  /** Returns true if the frames are rendered whole, and nothing of what was there stays. */
  public boolean whole() {
    return box == null && more == 0;
  }

  /** Returns true if a frame comes out otherwise than the strand's settings say. */
  public boolean differs() {
    return recipe != null || !whole();
  }

  /** Returns the settings that the frames are rendered with. */
  public StrandDocument of(StrandDocument d) {
    return recipe == null ? d : d.with(d.settings().settings().with(recipe));
  }

  /**
   * Returns the fingerprint that files bear which this was put into.
   *
   * @param before what they bore
   * @param input what was rendered
   */
  public String borne(String before, FrameContent.Input input) {
    return Digest.of(before, input.whole(), box == null ? "" : box.toString(), more);
  }

  /**
   * Returns what a frame is made from into which a box was put: what it was before, with a recipe
   * that is no one's.
   *
   * @param parts what it was made from
   * @param things of it; empty if they are not known
   * @param places of those; null likewise
   */
  public FrameContent.Input put(
      Map<FrameContent.Part, String> parts, List<FrameContent.Thing> things, long[] places) {
    Map<FrameContent.Part, String> all = new EnumMap<>(FrameContent.Part.class);
    all.putAll(parts);
    all.merge(
        FrameContent.Part.RECIPE, String.valueOf(box), (was, now) -> Digest.of(was, now, recipe));
    return new FrameContent.Input(
        all, things, places == null ? new long[0] : places, new int[things.size()]);
  }

  /** What the headers of the files say about it. */
  String text(int samples) {
    return box == null
        ? more + " more samples"
        : "box %d %d %d %d, %d samples"
            .formatted(box.x(), box.y(), box.width(), box.height(), samples);
  }
}
