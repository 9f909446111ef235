package posada.core.trace;

import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import posada.core.image.FrameImage;
import posada.core.parallel.Workers;

/**
 * Renders one picture progressively: each call adds samples to every pixel, so the picture is good
 * after any of them. Tiles go to the workers; the result does not depend on how many there are.
 */
public final class FrameRenderer {
  private static final int TILE = 32;
  private final Stage stage;
  private final View view;
  private final RenderSettings settings;
  private final Film film;

  public FrameRenderer(Stage stage, View view, RenderSettings settings) {
    this.stage = stage;
    this.view = view;
    this.settings = settings;
    film = new Film(view.width, view.height);
  }

  /** Hears how far a frame is. */
  public interface Progress {
    Progress NONE = (done, total) -> {};

    /** Called after each round of samples for the whole picture, on the rendering thread. */
    void at(int samplesDone, int samplesTotal);
  }

  public Film film() {
    return film;
  }

  /**
   * Adds samples until every pixel has {@code target}.
   *
   * @param target 1 .. the settings' samples
   * @param stop looked at after each row of a tile
   * @return false if it was stopped; the film then holds samples that must not be used
   */
  public boolean advance(int target, Workers workers, Stop stop) {
    int from = film.samples();
    int columns = (view.width + TILE - 1) / TILE;
    int rows = (view.height + TILE - 1) / TILE;
    ThreadLocal<PathTracer> tracer = ThreadLocal.withInitial(() -> new PathTracer(stage, settings));
    // Remembered, since whoever asked may have changed his mind while tiles were left unfinished.
    AtomicBoolean stopped = new AtomicBoolean();
    Stop latched = () -> stopped.get() || (stop.asked() && stopped.compareAndSet(false, true));
    workers.each(
        columns * rows,
        i -> tile(tracer.get(), i % columns * TILE, i / columns * TILE, from, target, latched));
    if (stopped.get()) {
      return false;
    }
    film.samplesDone(target);
    return true;
  }

  private void tile(PathTracer tracer, int x0, int y0, int from, int to, Stop stop) {
    int x1 = Math.min(view.width, x0 + TILE);
    int y1 = Math.min(view.height, y0 + TILE);
    for (int y = y0; y < y1; y++) {
      if (stop.asked()) {
        return;
      }
      for (int x = x0; x < x1; x++) {
        tracer.pixel(view, film, x, y, from, to);
      }
    }
  }

  /**
   * Renders all samples in rounds of {@code round}.
   *
   * @return the picture, or null if it was stopped
   */
  public FrameImage render(
      Set<Pass> passes, int round, Workers workers, Stop stop, Progress progress) {
    while (film.samples() < settings.samples()) {
      int target = Math.min(settings.samples(), film.samples() + round);
      if (!advance(target, workers, stop)) {
        return null;
      }
      progress.at(target, settings.samples());
    }
    return film.image(passes);
  }
}
