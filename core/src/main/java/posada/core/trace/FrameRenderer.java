package posada.core.trace;

import java.util.BitSet;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.atomic.AtomicBoolean;
import java.util.function.LongSupplier;
import posada.core.denoise.CleanPicture;
import posada.core.denoise.Denoiser;
import posada.core.image.DeepImage;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Pass;
import posada.core.settings.RayKind;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.film.Adaptive;
import posada.core.trace.film.Film;
import posada.core.trace.film.LightKind;
import posada.core.trace.path.Effort;
import posada.core.trace.path.PathTracer;
import posada.core.trace.path.PixelFilter;
import posada.core.trace.path.Strategy;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/**
 * Renders one picture progressively: each call adds samples to every pixel that needs them, so the
 * picture is good after any of them. Tiles go to the workers; the result does not depend on how
 * many there are.
 */
public final class FrameRenderer {
  private static final int TILE = 16;
  private final Stage stage;
  private final OwnHierarchies own;
  private final View view;
  private final RenderSettings settings;
  private final Film film;
  private final PixelFilter filter;
  private final int seed;
  private final int columns, rows;
  private final Adaptive adaptive;
  private int clean;
  private boolean outOfTime;
  private Strategy strategy = Strategy.BOTH;
  private Effort effort;

  /**
   * @param room bytes that copies of the hierarchy may take, see {@link OwnHierarchies}
   */
  FrameRenderer(Stage stage, View view, RenderSettings settings, int frame, long room) {
    this.stage = stage;
    own = new OwnHierarchies(stage.top(), room);
    this.view = view;
    this.settings = settings;
    if (settings.crop() != null) {
      settings.crop().check(view.width, view.height);
    }
    film = new Film(view.width, view.height, settings, stage::names);
    filter = new PixelFilter(settings.filter());
    Sampling s = settings.sampling();
    seed = s.seedPerFrame() ? s.seed() + frame * 0x3c6ef372 : s.seed();
    columns = (film.width + TILE - 1) / TILE;
    rows = (film.height + TILE - 1) / TILE;
    adaptive = s.adaptive() ? new Adaptive(film, s.noiseThreshold()) : null;
  }

  /**
   * Leaves the first samples of each pixel out: the picture is then one of the others alone, and of
   * passes that are taken at pixels' centres there is nothing.
   *
   * @param samples fewer than the settings ask for, which must not be adaptive
   */
  public void skip(int samples) {
    film.skip(samples);
  }

  /** Hears how far a frame is. */
  public interface Progress {
    Progress NONE = (done, total) -> {};

    /** Called after each round of samples for the whole picture, on the rendering thread. */
    void at(int samplesDone, int samplesTotal);
  }

  /** Chooses how light is looked for, to set one way against another. */
  void use(Strategy s) {
    strategy = s;
  }

  /** Has counted from now on where rays and time go, which takes a little time itself. */
  public void measure() {
    effort = new Effort();
  }

  /** What rays of one kind came to: how many, and the time of all threads for them. */
  public record Spent(long rays, long nanoseconds) {}

  /** Returns where rays and time went since {@link #measure}. */
  public Map<RayKind, Spent> spent() {
    Map<RayKind, Spent> all = new EnumMap<>(RayKind.class);
    for (RayKind k : RayKind.values()) {
      all.put(k, new Spent(effort.rays(k), effort.nanoseconds(k)));
    }
    return all;
  }

  Film film() {
    return film;
  }

  /** Returns how many samples each pixel has got, at the most. */
  public int samples() {
    return film.samples();
  }

  /** Returns the noise of the picture so far; NaN if that is not known yet. */
  public double noise() {
    return film.noise();
  }

  /**
   * Returns the noise of each pixel so far, as {@link #noise} weighs it: the standard error of its
   * luminance over luminance plus 0.05; NaN if that is not known yet.
   */
  public float[] noises() {
    return film.noises();
  }

  /** Returns the deep picture so far; null if the settings ask for none. */
  public DeepImage deepImage() {
    return film.deepImage();
  }

  /** Returns the beauty so far, noise and all. */
  public FrameImage soFar() {
    return film.image(Set.of(Pass.BEAUTY));
  }

  /** Returns what has come of the frame so far. */
  public FrameReport report() {
    return new FrameReport(
        film.samplesSpent(),
        film.samples(),
        adaptive == null ? Double.NaN : clean / (double) film.counts.length,
        film.noise(),
        film.shareCut(),
        outOfTime);
  }

  /** Returns the numbers of the nodes that any ray met so far, shadow rays too. */
  public BitSet met() {
    return stage.metNodes();
  }

  /** Returns the bytes that are held for this frame alone, film included. */
  public long bytes() {
    return stage.bytes() + own.bytes() + Film.bytes(view.width, view.height, settings);
  }

  /**
   * Adds samples until every pixel that is not clean has {@code target}.
   *
   * @param target 1 .. the settings' samples
   * @param stop looked at before each pixel
   * @return false if it was stopped; the film then holds samples that must not be used
   * @throws FrameFailure if memory runs out
   */
  public boolean advance(int target, Workers workers, Stop stop) {
    own.giveBack();
    ThreadLocal<PathTracer> tracer =
        ThreadLocal.withInitial(
            () ->
                new PathTracer(
                    stage, own.borrow(), view, settings, filter, seed, strategy, effort));
    // Remembered, since whoever asked may have changed his mind while tiles were left unfinished.
    AtomicBoolean stopped = new AtomicBoolean();
    Stop latched = () -> stopped.get() || (stop.asked() && stopped.compareAndSet(false, true));
    try {
      workers.each(
          columns * rows,
          i -> tile(tracer.get(), i % columns * TILE, i / columns * TILE, target, latched));
    } catch (OutOfMemoryError e) {
      throw FrameFailure.memory(e);
    }
    if (stopped.get()) {
      return false;
    }
    film.samplesDone(target);
    if (adaptive != null && target >= settings.sampling().least()) {
      clean = adaptive.judge();
    }
    return true;
  }

  private void tile(PathTracer tracer, int x0, int y0, int to, Stop stop) {
    int x1 = Math.min(film.width, x0 + TILE) + film.x0;
    int y1 = Math.min(film.height, y0 + TILE) + film.y0;
    for (int y = y0 + film.y0; y < y1; y++) {
      for (int x = x0 + film.x0; x < x1; x++) {
        if (stop.asked()) {
          return;
        }
        int from = film.counts[film.index(x, y)];
        if (from < to && (adaptive == null || !adaptive.clean(x, y))) {
          tracer.pixel(film, x, y, from, to, stop);
        }
      }
    }
  }

  /** Returns true if no pixel needs more samples. */
  public boolean done() {
    return film.samples() >= settings.sampling().most()
        || outOfTime
        || adaptive != null && clean == film.counts.length;
  }

  /**
   * Renders all samples in rounds of {@code round}, whatever time it takes.
   *
   * @return the picture, or null if it was stopped
   */
  public FrameImage render(int round, Workers workers, Stop stop, Progress progress) {
    return render(round, workers, stop, progress, () -> 0);
  }

  /**
   * Renders in rounds of {@code round} until the samples, the noise or the time is what the
   * settings ask for.
   *
   * @param nanoseconds a clock, of any origin
   * @return the picture, or null if it was stopped
   * @throws FrameFailure if memory runs out
   */
  public FrameImage render(
      int round, Workers workers, Stop stop, Progress progress, LongSupplier nanoseconds) {
    Sampling s = settings.sampling();
    long start = nanoseconds.getAsLong();
    while (!done()) {
      int from = film.samples();
      int target = Math.min(s.most(), from + round(round, from, nanoseconds.getAsLong() - start));
      if (!advance(target, workers, stop)) {
        return null;
      }
      double spent = (nanoseconds.getAsLong() - start) * 1e-9;
      // Over if one more sample for every pixel would take longer than what is left.
      outOfTime =
          s.seconds() > 0 && film.samples() < s.most() && spent * (1 + 1.0 / target) > s.seconds();
      progress.at(target, s.most());
    }
    return image(settings.passes().wanted(), workers, stop);
  }

  /**
   * Returns what has come of the picture so far, clean if the settings ask for it; null if it was
   * stopped.
   *
   * @throws FrameFailure if memory runs out
   */
  public FrameImage image(Set<Pass> wanted, Workers workers, Stop stop) {
    try {
      if (!settings.denoising().picture()) {
        return film.image(wanted);
      }
      Workers stoppable = workers.until(stop::check);
      CleanPicture clean =
          Denoiser.clean(
              Denoiser.prepare(film.noisy(), stoppable),
              List.of(),
              settings.denoising().amount(),
              stoppable);
      return film.image(wanted, LightKind.cleaned(clean, film::wants));
    } catch (Stop.Stopped e) {
      return null;
    } catch (OutOfMemoryError e) {
      throw FrameFailure.memory(e);
    }
  }

  /** Samples of the next round: short ones first, and none that would run past the limit. */
  private int round(int most, int from, long spent) {
    Sampling s = settings.sampling();
    int n = most;
    if (adaptive != null) {
      n = from < s.least() ? Math.min(most, s.least() - from) : Math.max(1, Math.min(n, from / 2));
    }
    if (s.seconds() > 0) {
      if (from == 0) {
        return 1;
      }
      double each = spent * 1e-9 / from;
      n = (int) Math.max(1, Math.min(n, (s.seconds() - spent * 1e-9) / Math.max(1e-9, each)));
    }
    return n;
  }
}
