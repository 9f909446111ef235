package posada.core.trace.bake;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import java.util.Objects;
import java.util.function.DoubleConsumer;
import java.util.stream.IntStream;
import posada.core.irradiance.BakeInfo;
import posada.core.irradiance.BakedLight;
import posada.core.irradiance.LightLookup;
import posada.core.irradiance.LightPoints;
import posada.core.irradiance.PointIndex;
import posada.core.irradiance.RareLight;
import posada.core.parallel.Workers;
import posada.core.scene.Track;
import posada.core.settings.Bounces;
import posada.core.settings.Lens;
import posada.core.settings.RenderSettings;
import posada.core.trace.path.PathTracer;
import posada.core.trace.path.PixelFilter;
import posada.core.trace.path.Strategy;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/**
 * Fills light points as a camera sees the scene: at the corners of a coarse grid of pixels first,
 * then between them wherever there are too few around, frame after frame. A second round finds the
 * light of all of them again, with what the first round found lighting the surfaces around: trials
 * with few paths show where light comes from and how noisy it is, and light the surfaces from then
 * on; then as many paths are added as that noise asks for. Then points are made finer where light
 * changes fast between them, and what single paths have found is shared. The points are the same
 * with any number of threads.
 */
public final class Baker {
  /** Pixels between places that are looked at, pass by pass. */
  private static final int[] STEPS = {16, 8, 4, 2};

  /** From this step on what mirrors show is looked at, too: roughly is enough. */
  private static final int MIRRORED = 8;

  /**
   * How often it is looked from what is seen to what that is lit by: paths that end there go no
   * further then.
   */
  private static final int ASIDE = 4;

  /** Points between two reports. */
  private static final int BATCH = 256;

  /**
   * How much brighter than in a picture's sample a single path may be: thousands of them share a
   * point, and limits take light away.
   */
  private static final double BRIGHTER = 16;

  /** Most paths of a point in each trial: they go where those of the trial before found light. */
  public static final int[] TRIALS = {Gather.PILOT, 4096};

  /** How often points are made finer where light changes fast between them. */
  public static final int REFINEMENTS = 4;

  /** Pixels between places that are looked at then. */
  private static final int[] FINER = {8, 4, 2};

  /** How far a point's light may be from what those around it give, over it. */
  private static final double UNEVEN = 0.08;

  /** Standard errors of a point's light that are no surprise. */
  private static final double SURE = 2;

  private final RenderSettings settings;

  /** Settings with more room for what is bright, since many paths share it. */
  private final RenderSettings brighter;

  /** Irradiance that noise is measured against, as the brightest exposure shows it. */
  private final float dark;

  private final Round first = new Round();
  private final Round second = new Round();

  /** Of each point of the second round the light that is to be shared. */
  private final List<RareLight.Found> rare = new ArrayList<>();

  private final List<LitRegions.Bright> bright = new ArrayList<>();

  /** Of each point of the first round what its paths found when it was tried out. */
  private final List<PathSums> tried = new ArrayList<>();

  /** Where light comes from; null before the first round has ended. */
  private LitRegions guides;

  public Baker(RenderSettings settings) {
    this.settings = settings;
    Track exposure = settings.lens().exposure();
    dark = LightPoints.DARK / Lens.gain(exposure.most());
    Bounces b = settings.bounces();
    double limit = BRIGHTER * b.indirectClamp() / Lens.gain(exposure.least());
    brighter = settings.with(b.clampedAt(Math.min(limit, Bounces.MOST_CLAMP)));
  }

  /** Returns the points of the second round so far. */
  public LightPoints points() {
    return second.points;
  }

  /** Ends the first round; returns its points, as they light. */
  public BakedLight firstRound() {
    guides = new LitRegions(bright);
    first.places.forEach(w -> tried.add(new PathSums(dark)));
    return new BakedLight(first.points, BakeInfo.NONE);
  }

  /**
   * Points, and where each is seen.
   *
   * @param places one for each point
   */
  private record Round(LightPoints points, List<WantedPoint> places) {
    Round() {
      this(new LightPoints(), new ArrayList<>());
    }

    /**
     * Adds what was found for some places.
     *
     * @param filled null where there is nothing
     */
    void add(List<WantedPoint> wants, Filled[] filled) {
      for (int i = 0; i < filled.length; i++) {
        if (filled[i] != null) {
          points.add(filled[i].point);
          places.add(wants.get(i));
        }
      }
    }

    /** Returns the smallest radius of a point, metres. */
    float least(int point) {
      return Gather.LEAST_PIXELS * places.get(point).width();
    }
  }

  /** Adds what a frame needs. */
  public void look(int frame, Stage stage, View view, Workers workers) {
    for (int step : STEPS) {
      ThreadLocal<Gather> gathers = gathers(stage, view, first.points, false, Gather.PILOT);
      List<WantedPoint> wants = wants(frame, gathers, view, step, 0, workers);
      addFirst(wants, fill(gathers, wants, workers));
    }
    for (int turn = 1; turn <= ASIDE; turn++) {
      ThreadLocal<Gather> gathers = gathers(stage, view, first.points, false, Gather.PILOT);
      List<WantedPoint> wants = wants(frame, gathers, view, STEPS[0], turn, workers);
      addFirst(wants, fill(gathers, wants, workers));
    }
  }

  private void addSecond(List<WantedPoint> wants, Filled[] filled) {
    second.add(wants, filled);
    Arrays.stream(filled).filter(Objects::nonNull).map(Filled::rare).forEach(rare::add);
  }

  private void addFirst(List<WantedPoint> wants, Filled[] filled) {
    int at = first.points.count();
    first.add(wants, filled);
    for (Filled f : filled) {
      if (f != null) {
        first.points.setShallow(at++, f.shallow);
        bright.add(f.bright);
      }
    }
  }

  /**
   * Measures how noisy the light of a frame's points is, and where it comes from.
   *
   * @param trial 0 .. {@code TRIALS.length - 1}
   * @param stage that uses the first round
   */
  public void tryOut(int trial, int frame, Stage stage, View view, Workers workers) {
    int[] points = firstOf(frame);
    ThreadLocal<Gather> gathers = gathers(stage, view, first.points, trial > 0, TRIALS[trial]);
    for (Filled f : fill(gathers, places(points), points, workers)) {
      if (f != null) {
        bright.add(f.bright);
      }
    }
    for (int i : points) {
      if (tried.get(i).paths() > 0) {
        first.points.setError(i, (float) tried.get(i).error(Gather.PILOT));
      }
    }
  }

  /**
   * Ends a trial: from now on paths go where its paths found light, too, and what they found lights
   * the surfaces around, as far as it has come over no more of them than the first round's. It is
   * less noisy than that, so that fewer places are wrong for all that they light.
   */
  public void tried(Workers workers) {
    guides = new LitRegions(bright);
    LightPoints p = first.points;
    float[] numbers = new float[LightPoints.STRIDE];
    List<RareLight.Found> rare = new ArrayList<>();
    for (int i = 0; i < p.count(); i++) {
      PathSums sums = tried.get(i);
      if (sums.paths() > 0) {
        sums.store(numbers);
        p.setLight(i, numbers);
      }
      rare.add(sums.rare());
    }
    new RareLight(p, rare, dark).share(settings.irradiance().direct(), workers);
    for (int i = 0; i < p.count(); i++) {
      if (tried.get(i).paths() > 0) {
        p.dim(i, tried.get(i).shallow());
      }
    }
  }

  /**
   * Finds the light of a frame's points again.
   *
   * @param stage that uses the first round
   * @param progress hears the share of all points that is done
   */
  public void again(int frame, Stage stage, View view, Workers workers, DoubleConsumer progress) {
    int[] points = firstOf(frame);
    ThreadLocal<Gather> gathers =
        gathers(stage, view, first.points, true, settings.irradiance().paths());
    for (int from = 0; from < points.length; from += BATCH) {
      int[] some = Arrays.copyOfRange(points, from, Math.min(points.length, from + BATCH));
      List<WantedPoint> wants = places(some);
      addSecond(wants, fill(gathers, wants, some, workers));
      progress.accept(second.points.count() / (double) first.points.count());
    }
  }

  /** Returns which points of the first round a frame asked for. */
  private int[] firstOf(int frame) {
    return IntStream.range(0, first.places.size())
        .filter(i -> first.places.get(i).frame() == frame)
        .toArray();
  }

  private List<WantedPoint> places(int[] points) {
    return Arrays.stream(points).mapToObj(first.places::get).toList();
  }

  /**
   * Makes points reach less far where their light is not what the others around them give: there it
   * changes faster than the distance of what lights them tells.
   *
   * @return false if there are none
   */
  public boolean sharpen(Workers workers) {
    LightPoints p = second.points;
    LightLookup lookup = new LightLookup(p, new PointIndex(p));
    boolean direct = settings.irradiance().direct();
    boolean[] uneven = new boolean[p.count()];
    boolean any = false;
    for (int i = 0; i < uneven.length; i++) {
      uneven[i] =
          second.places.get(i).seen()
              && p.radius(i) > second.least(i)
              && lookup.surprise(i, direct, dark) > Math.max(UNEVEN, SURE * p.error(i));
      any |= uneven[i];
    }
    for (int i = 0; i < uneven.length; i++) {
      if (uneven[i]) {
        p.shrink(i, Math.max(p.radius(i) / 2, second.least(i)));
      }
    }
    if (any) {
      fit(0, workers);
    }
    return any;
  }

  /** Adds points where they are too far apart for a frame since some reach less far. */
  public void refine(int frame, Stage stage, View view, Workers workers) {
    for (int step : FINER) {
      ThreadLocal<Gather> gathers =
          gathers(stage, view, second.points, true, settings.irradiance().paths());
      List<WantedPoint> wants = wants(frame, gathers, view, step, 0, workers);
      int before = second.points.count();
      addSecond(wants, fill(gathers, wants, workers));
      fit(before, workers);
    }
  }

  /** Shares light that single paths have found among the points around. */
  public void share(Workers workers) {
    new RareLight(second.points, rare, dark).share(settings.irradiance().direct(), workers);
  }

  /** Makes points fit those around them, from one on. */
  private void fit(int from, Workers workers) {
    LightPoints p = second.points;
    float[] most = new float[p.count() - from];
    workers.each(most.length, i -> most[i] = p.fitting(second.places.get(from + i).place()));
    for (int i = 0; i < most.length; i++) {
      p.shrink(from + i, most[i]);
    }
  }

  /**
   * @param there points that are there
   * @param known true if it is known how noisy the first round's points are
   * @param limit most paths of a point
   */
  private ThreadLocal<Gather> gathers(
      Stage stage, View view, LightPoints there, boolean known, int limit) {
    PointIndex index = new PointIndex(there);
    PointIndex noise = !known || there == first.points ? index : new PointIndex(first.points);
    int seed = settings.sampling().seed();
    PixelFilter filter = new PixelFilter(settings.filter());
    return ThreadLocal.withInitial(
        () ->
            new Gather(
                new PathTracer(stage, stage.top(), view, brighter, filter, seed, Strategy.BOTH),
                stage,
                view,
                settings,
                seed,
                new LightLookup(there, index),
                guides,
                known ? new LightLookup(first.points, noise) : null,
                Math.min(limit, settings.irradiance().paths()),
                dark));
  }

  private List<WantedPoint> wants(
      int frame, ThreadLocal<Gather> gathers, View view, int step, int turn, Workers workers) {
    int rows = (view.height + step - 1) / step;
    List<List<WantedPoint>> found = new ArrayList<>();
    for (int r = 0; r < rows; r++) {
      found.add(new ArrayList<>());
    }
    workers.each(
        rows,
        r -> {
          int y = Math.min(view.height - 1, r * step + step / 2);
          for (int x = step / 2; x < view.width; x += step) {
            int at = x;
            Gather.Wanting wanting =
                (depth, p, width) -> {
                  float[] place = {p.x, p.y, p.z, p.gx, p.gy, p.gz};
                  found.get(r).add(new WantedPoint(frame, at, y, depth, turn, place, width));
                };
            if (turn > 0) {
              gathers.get().lookAside(x, y, turn, wanting);
            } else {
              gathers.get().look(x, y, step < MIRRORED ? 1 : Gather.DEPTH, wanting);
            }
          }
        });
    return WantedPoint.spread(found, step);
  }

  private Filled[] fill(ThreadLocal<Gather> gathers, List<WantedPoint> wants, Workers workers) {
    int[] none = new int[wants.size()];
    Arrays.fill(none, -1);
    return fill(gathers, wants, none, workers);
  }

  /**
   * @param points of the first round, whose paths are added to; -1 where it is none of them
   */
  private Filled[] fill(
      ThreadLocal<Gather> gathers, List<WantedPoint> wants, int[] points, Workers workers) {
    Filled[] filled = new Filled[wants.size()];
    workers.each(
        filled.length,
        i -> {
          WantedPoint w = wants.get(i);
          Gather g = gathers.get();
          PathSums so = points[i] < 0 ? new PathSums(dark) : tried.get(points[i]);
          float[] point = g.point(w.x(), w.y(), w.depth(), w.turn(), so, points[i]);
          if (point != null) {
            filled[i] = new Filled(point, g.found.bright(point), so.rare(), so.shallow());
          }
        });
    return filled;
  }

  /** A point and the brightest of its paths, if these are collected. */
  private record Filled(
      float[] point, LitRegions.Bright bright, RareLight.Found rare, float shallow) {}
}
