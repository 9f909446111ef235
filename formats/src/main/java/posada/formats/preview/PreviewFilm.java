package posada.formats.preview;

import java.io.IOException;
import java.nio.file.Path;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.Semaphore;
import java.util.function.IntConsumer;
import posada.core.image.DisplayImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.plan.FrameRate;
import posada.core.plan.NamePattern;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.RenderScene;
import posada.core.trace.preview.Previewer;
import posada.formats.display.JpegFile;
import posada.formats.display.PngFile;
import posada.formats.files.AtomicFile;
import posada.formats.video.FilmWriter;

/**
 * A quick film of a sequence, drawn by several threads and written in order.
 *
 * @param scene what is shown
 * @param camera name of a camera of the scene
 * @param moments all frames of the sequence; the recipe may leave some out
 * @param width of the shot, pixels; the recipe may scale it
 * @param rate frames for each second of the sequence
 * @param settings what takes part and the lens
 * @param fields values of the fields of names and of burn-ins: shot, camera, layer, date
 */
public record PreviewFilm(
    RenderScene scene,
    String camera,
    List<Moment> moments,
    int width,
    int height,
    FrameRate rate,
    RenderSettings settings,
    PreviewRecipe recipe,
    Map<String, String> fields) {
  /** Ending of films. */
  public static final String FILM = ".mp4";

  /** Takes finished frames in order. */
  interface Sink {
    void take(int frame, DisplayImage image) throws IOException;
  }

  /** Returns true if a name is that of a film and not of a folder. */
  public static boolean isFilm(Path out) {
    return out.getFileName().toString().toLowerCase(Locale.ROOT).endsWith(FILM);
  }

  /** Returns the frames that are drawn. */
  public List<Moment> drawn() {
    return recipe.some(moments);
  }

  /**
   * Returns the rate at which a film takes as long as the sequence; frames that are not evenly
   * spaced count as if each stood for those left out after it.
   *
   * @throws IllegalArgumentException if that is less than one frame a second
   */
  private FrameRate filmRate() {
    List<Moment> m = drawn();
    int step = m.size() < 2 ? 1 : m.get(1).frame() - m.get(0).frame();
    for (int i = 1; i < m.size(); i++) {
      if (m.get(i).frame() - m.get(i - 1).frame() != step) {
        step = recipe.every();
      }
    }
    double r = rate.perSecond() / step;
    if (r < 1) {
      throw new IllegalArgumentException(
          String.format(
              Locale.ROOT,
              "every %d. frame of %s a second would be a film of less than one frame a second;"
                  + " choose fewer frames between, or write a sequence",
              step,
              rate.perSecond()));
    }
    return new FrameRate(r);
  }

  /**
   * Makes a film. Runs on the calling thread, which must not be one of the workers.
   *
   * @param done hears how many frames are written
   * @return false if it was stopped; then there is no file
   */
  public boolean film(Path file, boolean overwrite, Workers workers, Stop stop, IntConsumer done)
      throws IOException {
    int[] wh = recipe.size(width, height, true);
    FilmWriter.check(wh[0], wh[1]);
    Previewer p = previewer(wh, workers);
    try (FilmWriter film =
        new FilmWriter(file, wh[0], wh[1], filmRate(), recipe.quality(), overwrite)) {
      if (!draw(p, wh, workers, stop, done, (frame, image) -> film.add(image))) {
        return false;
      }
      film.finish();
      return true;
    }
  }

  /**
   * Returns the files of a sequence.
   *
   * @param jpeg false for PNG
   */
  public List<Path> files(Path folder, NamePattern pattern, boolean jpeg) {
    List<Path> all = new ArrayList<>();
    for (Moment m : drawn()) {
      all.add(file(folder, pattern, jpeg, m.frame()));
    }
    if (Set.copyOf(all).size() < all.size()) {
      throw new IllegalArgumentException(
          "name pattern \""
              + pattern.text()
              + "\" gives frames the same name; put {frame:4} in it");
    }
    return all;
  }

  private Path file(Path folder, NamePattern pattern, boolean jpeg, int frame) {
    Map<String, String> values = new TreeMap<>(fields);
    values.put("frame", Integer.toString(frame));
    values.put("pass", "preview");
    return folder.resolve(pattern.fill(values) + (jpeg ? ".jpg" : ".png"));
  }

  /** Likewise makes a file for each frame; those written before a stop stay. */
  public boolean sequence(
      Path folder,
      NamePattern pattern,
      boolean jpeg,
      boolean overwrite,
      Workers workers,
      Stop stop,
      IntConsumer done)
      throws IOException {
    int[] wh = recipe.size(width, height, false);
    files(folder, pattern, jpeg);
    return draw(
        previewer(wh, workers),
        wh,
        workers,
        stop,
        done,
        (frame, image) ->
            AtomicFile.publish(
                file(folder, pattern, jpeg, frame),
                jpeg
                    ? JpegFile.encode(image, recipe.quality() / 100f)
                    : PngFile.encode(image, 8, Map.of()),
                overwrite));
  }

  /** Draws all frames, of sides that are even, and gives them away; false if it was stopped. */
  boolean frames(Workers workers, Stop stop, IntConsumer done, Sink sink) throws IOException {
    int[] wh = recipe.size(width, height, true);
    return draw(previewer(wh, workers), wh, workers, stop, done, sink);
  }

  private Previewer previewer(int[] wh, Workers workers) {
    return new Previewer(scene, camera, drawn(), wh[0], wh[1], settings, recipe.look(), workers);
  }

  /** Draws ahead of the writing, a frame on each thread; so all are busy to the end. */
  private boolean draw(
      Previewer p, int[] wh, Workers workers, Stop stop, IntConsumer done, Sink sink)
      throws IOException {
    Overlay overlay = new Overlay(wh[0], wh[1], recipe.watermark());
    List<Moment> drawn = drawn();
    Deque<CompletableFuture<DisplayImage>> ahead = new ArrayDeque<>();
    // The executor may have more threads than are to be used.
    Semaphore seats = new Semaphore(workers.count(), true);
    int next = 0;
    try {
      for (int i = 0; i < drawn.size(); i++) {
        while (next < drawn.size() && next <= i + 2 * workers.count()) {
          Moment m = drawn.get(next++);
          ahead.add(
              CompletableFuture.supplyAsync(() -> one(p, m, overlay, seats), workers.executor()));
        }
        if (stop.asked()) {
          return false;
        }
        sink.take(drawn.get(i).frame(), ahead.remove().join());
        done.accept(i + 1);
      }
      return true;
    } catch (CompletionException e) {
      if (e.getCause() instanceof RuntimeException cause) {
        throw cause;
      }
      throw e;
    } finally {
      ahead.forEach(f -> f.cancel(false));
    }
  }

  private DisplayImage one(Previewer p, Moment m, Overlay overlay, Semaphore seats) {
    seats.acquireUninterruptibly();
    try {
      DisplayImage image = p.draw(m, Workers.CALLER);
      overlay.write(image, corners(p, m));
      return image;
    } finally {
      seats.release();
    }
  }

  private Overlay.Corners corners(Previewer p, Moment m) {
    return new Overlay.Corners(
        join(field(BurnIn.SHOT, "shot"), field(BurnIn.CAMERA, "camera"), lens(p, m)),
        join(field(BurnIn.LAYER, "layer"), field(BurnIn.DATE, "date")),
        wants(BurnIn.TIMECODE) ? rate.timecode(m.frame()) : "",
        wants(BurnIn.FRAME) ? "frame " + m.frame() : "");
  }

  private boolean wants(BurnIn b) {
    return recipe.burnIns().contains(b);
  }

  private String field(BurnIn b, String field) {
    String value = fields.getOrDefault(field, "");
    String name = b == BurnIn.DATE ? "" : b.text() + " ";
    return wants(b) && !value.isEmpty() ? name + value : "";
  }

  private String lens(Previewer p, Moment m) {
    if (!wants(BurnIn.LENS)) {
      return "";
    }
    double f = p.focalLength(m);
    return Double.isNaN(f) ? "no perspective" : String.format(Locale.ROOT, "%.1f mm", f);
  }

  private static String join(String... parts) {
    return String.join("   ", java.util.Arrays.stream(parts).filter(s -> !s.isEmpty()).toList());
  }
}
