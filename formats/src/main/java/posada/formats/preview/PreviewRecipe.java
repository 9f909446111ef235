package posada.formats.preview;

import java.util.List;
import java.util.Set;
import posada.core.settings.Preview;

/**
 * How a preview is made.
 *
 * @param scale percent of the shot's size, 1 .. 400
 * @param every frames from one that is drawn to the next, 1 or more
 * @param burnIns what is written over each frame
 * @param watermark text across the picture; empty for none
 * @param quality of films and JPEG files, 1 .. 100
 */
public record PreviewRecipe(
    Preview look, double scale, int every, Set<BurnIn> burnIns, String watermark, int quality) {
  public static final PreviewRecipe DEFAULT =
      new PreviewRecipe(Preview.DEFAULT, 100, 1, Set.of(), "", 80);

  public PreviewRecipe {
    if (!(scale >= 1 && scale <= 400)) {
      throw new IllegalArgumentException("scale must be 1 .. 400 % (got " + scale + ")");
    }
    if (every < 1 || every > 10_000) {
      throw new IllegalArgumentException("every must be 1 .. 10000 frames (got " + every + ")");
    }
    if (quality < 1 || quality > 100) {
      throw new IllegalArgumentException("quality must be 1 .. 100 (got " + quality + ")");
    }
    if (watermark.length() > 60) {
      throw new IllegalArgumentException(
          "a watermark has at most 60 letters (got " + watermark + ")");
    }
    burnIns = Set.copyOf(burnIns);
  }

  /** Returns every Nth of some things, beginning with the first. */
  public <T> List<T> some(List<T> all) {
    return java.util.stream.IntStream.range(0, all.size())
        .filter(i -> i % every == 0)
        .mapToObj(all::get)
        .toList();
  }

  /**
   * Returns width and height in pixels of a picture made by this recipe; even numbers for films.
   */
  public int[] size(int width, int height, boolean film) {
    return new int[] {side(width, film), side(height, film)};
  }

  private int side(int pixels, boolean film) {
    double p = pixels * scale / 100;
    return (int) (film ? Math.max(2, 2 * Math.round(p / 2)) : Math.max(1, Math.round(p)));
  }
}
