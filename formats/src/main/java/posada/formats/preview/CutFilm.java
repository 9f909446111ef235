package posada.formats.preview;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.function.IntConsumer;
import posada.core.image.DisplayImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.formats.video.FilmWriter;

/**
 * Quick films of shots one after the other as one film, or pictures of them side by side. A shot of
 * another shape stands in the middle, on black.
 *
 * @param parts the shots in their order
 * @param width of the whole, pixels; the recipe may scale it
 * @param rate frames for each second
 */
public record CutFilm(
    List<Part> parts, int width, int height, FrameRate rate, PreviewRecipe recipe) {
  /** A shot, whose scene is read when its turn comes. */
  public interface Part {
    /** Returns the shot's name. */
    String name();

    /** Returns the shot's film. */
    PreviewFilm film() throws IOException;
  }

  /** Returns the largest size of a shape that fits into this one, pixels. */
  public static int[] fit(int shotWidth, int shotHeight, int width, int height) {
    double f = Math.min(width / (double) shotWidth, height / (double) shotHeight);
    return new int[] {
      Math.max(2, (int) Math.round(shotWidth * f)), Math.max(2, (int) Math.round(shotHeight * f))
    };
  }

  /**
   * Makes the film. Runs on the calling thread, which must not be one of the workers.
   *
   * @param done hears how many frames are written
   * @return false if it was stopped; then there is no file
   */
  public boolean film(Path file, Workers workers, Stop stop, IntConsumer done) throws IOException {
    double r = rate.perSecond() / recipe.every();
    if (r < 1) {
      throw new IllegalArgumentException(
          String.format(
              Locale.ROOT,
              "every %d. frame of %s a second would be a film of less than one frame a second;"
                  + " choose fewer frames between, or write a sequence",
              recipe.every(),
              rate.perSecond()));
    }
    int[] wh = recipe.size(width, height, true);
    FilmWriter.check(wh[0], wh[1]);
    int[] written = {0};
    try (FilmWriter film =
        new FilmWriter(file, wh[0], wh[1], new FrameRate(r), recipe.quality(), true)) {
      for (Part p : parts) {
        boolean whole =
            p.film()
                .frames(
                    workers,
                    stop,
                    n -> done.accept(++written[0]),
                    (frame, image) -> film.add(image.within(wh[0], wh[1])));
        if (!whole) {
          return false;
        }
      }
      film.finish();
      return true;
    }
  }

  /**
   * Returns pictures of all frames of the films, each under its shot's name and its frame; null if
   * it was stopped.
   */
  public List<ContactSheet.Tile> tiles(Workers workers, Stop stop, IntConsumer done)
      throws IOException {
    int[] wh = recipe.size(width, height, true);
    List<ContactSheet.Tile> all = new ArrayList<>();
    for (Part p : parts) {
      boolean whole =
          p.film()
              .frames(
                  workers,
                  stop,
                  n -> done.accept(all.size()),
                  (frame, image) -> {
                    DisplayImage tile = image.within(wh[0], wh[1]);
                    all.add(new ContactSheet.Tile(p.name() + "  " + frame, tile));
                  });
      if (!whole) {
        return null;
      }
    }
    return all;
  }
}
