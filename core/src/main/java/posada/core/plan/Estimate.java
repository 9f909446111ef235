package posada.core.plan;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.function.ToDoubleFunction;

/**
 * What frames will take, from trials of some of them that were small and of few samples: what grows
 * with pixels and samples is scaled, the rest is not, and between trials lines are drawn. Frames
 * that are finished set it right. The band comes from leaving each trial out in turn.
 */
public final class Estimate {
  /**
   * What scaling a small picture up may be off by, as part of the whole, until frames are finished.
   */
  private static final double SCALING = 0.05;

  /** What it is off by at least. */
  private static final double LEAST = 0.02;

  /** What is not known better from fewer than three trials. */
  private static final double UNKNOWN = 0.15;

  /** Standard deviations to each side of a band. */
  private static final double WIDE = 2;

  private Estimate() {}

  /**
   * What a trial of a frame found.
   *
   * @param building seconds before the first sample
   * @param perSample seconds for each pixel and sample
   * @param perPixel seconds for each pixel afterwards: cleaning and writing
   * @param bytesPerPixel of all its files
   * @param noise how the picture's noise falls with its samples
   */
  public record Trial(
      int frame,
      double building,
      double perSample,
      double perPixel,
      double bytesPerPixel,
      NoiseFall noise) {
    /** Returns what a frame of so many pixels and samples takes. */
    public double seconds(long pixels, double samples) {
      return building + pixels * (samples * perSample + perPixel);
    }
  }

  /**
   * A frame that is finished, and what it took.
   *
   * @param noise of its picture; null if that is not known
   */
  public record Finished(int frame, double seconds, long bytes, Double noise) {
    public Finished(int frame, double seconds, long bytes) {
      this(frame, seconds, bytes, null);
    }
  }

  /** A figure with the band in which it will probably lie. */
  public record Figure(double value, double low, double high) {
    /** Returns so many times as much. */
    public Figure times(double factor) {
      return new Figure(value * factor, low * factor, high * factor);
    }
  }

  /**
   * How the noise of a picture falls with its samples <i>n</i>: <i>one (1 - bend / sqrt(n)) /
   * sqrt(n)</i>. Noise falls with their root; but few samples miss the rare bright ones, and so
   * seem less noisy than they are. Found to hold within 15 % from 9 to 129 samples in the demo
   * scenes (docs/performance.md).
   *
   * @param one noise of one sample if all that is rare were seen; 0 for a picture without noise
   * @param bend 0 .. 2
   */
  public record NoiseFall(double one, double bend) {
    private static final double MOST_BEND = 2;

    /** Returns what goes through two measured levels of noise. */
    public static NoiseFall through(int few, double noiseOfFew, int more, double noiseOfMore) {
      double a = Math.sqrt(few), b = Math.sqrt(more);
      double x = noiseOfFew * a, y = noiseOfMore * b;
      if (!(y > 0)) {
        return new NoiseFall(0, 0);
      }
      if (x >= y) {
        return new NoiseFall(y, 0);
      }
      double bend = Math.min(MOST_BEND, (y - x) / (y / a - x / b));
      return new NoiseFall(y / (1 - bend / b), bend);
    }

    /** Returns the noise of so many samples. */
    public double of(double samples) {
      // Below this the formula would have noise fall with fewer samples.
      double root = Math.max(Math.sqrt(samples), 2 * bend);
      return one * (1 - bend / root) / root;
    }

    /** Returns the samples, not rounded, that bring the noise down to a level above 0. */
    public double samples(double level) {
      if (one == 0) {
        return 0;
      }
      // of(n) = level, solved for 1 / sqrt(n).
      double x =
          bend < 1e-9
              ? level / one
              : (1 - Math.sqrt(Math.max(0, 1 - 4 * bend * level / one))) / (2 * bend);
      return 1 / (x * x);
    }

    NoiseFall times(double factor) {
      return new NoiseFall(one * factor, bend);
    }
  }

  /** What frames will take, in seconds and bytes. */
  public record Result(Figure seconds, Figure bytes) {}

  /**
   * Returns what frames will take.
   *
   * @param rendered frames that are to be rendered
   * @param written frames that are to be written: those, and such as get their pictures
   * @param pixels of each
   * @param samples of each pixel
   * @param trials of the strand; at least one, or a finished frame
   * @param finished frames of the strand that were rendered with the same settings
   */
  public static Result of(
      List<Integer> rendered,
      List<Integer> written,
      long pixels,
      double samples,
      List<Trial> trials,
      List<Finished> finished) {
    return new Result(
        figure(rendered, trials, t -> t.seconds(pixels, samples), finished, Finished::seconds),
        figure(written, trials, t -> t.bytesPerPixel * pixels, finished, f -> (double) f.bytes));
  }

  /**
   * What frames take by their samples: {@code fixed + perSample * samples} seconds.
   *
   * @param noise how it falls: as trials say, set right by finished frames
   */
  public record BySamples(double fixed, double perSample, NoiseFall noise) {}

  /**
   * Returns what frames take by their samples; finished frames set trials right.
   *
   * @param frames that are to be rendered
   * @param trials at least one
   * @param samples with which the finished ones were rendered
   */
  public static BySamples bySamples(
      List<Integer> frames,
      long pixels,
      double samples,
      List<Trial> trials,
      List<Finished> finished) {
    TreeMap<Integer, Double> all = new TreeMap<>();
    TreeMap<Integer, Double> once = new TreeMap<>();
    for (Trial t : trials) {
      all.put(t.frame, t.seconds(pixels, samples));
      once.put(t.frame, t.building + pixels * t.perPixel);
    }
    double factor = factor(all, finished, Finished::seconds);
    double fixed = 0, whole = 0;
    for (int f : frames) {
      fixed += factor * at(once, f);
      whole += factor * at(all, f);
    }
    NoiseFall noise =
        new NoiseFall(
            trials.stream().mapToDouble(t -> t.noise.one).average().orElseThrow(),
            trials.stream().mapToDouble(t -> t.noise.bend).average().orElseThrow());
    double really =
        finished.stream()
            .filter(f -> f.noise != null)
            .mapToDouble(Finished::noise)
            .average()
            .orElse(Double.NaN);
    NoiseFall known = really > 0 && noise.one > 0 ? noise.times(really / noise.of(samples)) : noise;
    return new BySamples(fixed, (whole - fixed) / samples, known);
  }

  private static Figure figure(
      List<Integer> frames,
      List<Trial> trials,
      ToDoubleFunction<Trial> scaled,
      List<Finished> finished,
      ToDoubleFunction<Finished> took) {
    TreeMap<Integer, Double> points = new TreeMap<>();
    trials.forEach(t -> points.put(t.frame, scaled.applyAsDouble(t)));
    double factor = factor(points, finished, took);
    if (trials.isEmpty()) {
      finished.forEach(f -> points.put(f.frame, took.applyAsDouble(f)));
    }
    double sum = 0;
    for (int f : frames) {
      sum += factor * at(points, f);
    }
    double off = leftOut(points) / Math.sqrt(points.size());
    double scaling = SCALING / (1 + finished.size());
    double share = WIDE * Math.max(LEAST, Math.hypot(off, scaling));
    return new Figure(sum, sum * Math.max(0, 1 - share), sum * (1 + share));
  }

  /** A line from point to point, level before the first and after the last. */
  static double at(TreeMap<Integer, Double> points, int frame) {
    Map.Entry<Integer, Double> a = points.floorEntry(frame);
    Map.Entry<Integer, Double> b = points.ceilingEntry(frame);
    if (a == null || b == null) {
      return (a == null ? b : a).getValue();
    }
    if (a.getKey().equals(b.getKey())) {
      return a.getValue();
    }
    double f = (frame - a.getKey()) / (double) (b.getKey() - a.getKey());
    return a.getValue() + f * (b.getValue() - a.getValue());
  }

  /**
   * Returns the frame that takes longest: of those that are finished or were tried out, since
   * between them nothing higher is known.
   *
   * @return null if nothing is known
   */
  public static Integer dearest(
      long pixels, double samples, List<Trial> trials, List<Finished> finished) {
    TreeMap<Integer, Double> points = new TreeMap<>();
    trials.forEach(t -> points.put(t.frame, t.seconds(pixels, samples)));
    double factor = factor(points, finished, Finished::seconds);
    points.replaceAll((frame, seconds) -> factor * seconds);
    finished.forEach(f -> points.put(f.frame, f.seconds));
    return points.entrySet().stream()
        .max(Map.Entry.comparingByValue())
        .map(Map.Entry::getKey)
        .orElse(null);
  }

  /** What finished frames really took as part of what trials said of them. */
  static double factor(
      TreeMap<Integer, Double> points, List<Finished> finished, ToDoubleFunction<Finished> took) {
    if (points.isEmpty()) {
      return 1;
    }
    double really = 0, thought = 0;
    for (Finished f : finished) {
      really += took.applyAsDouble(f);
      thought += at(points, f.frame);
    }
    return thought > 0 ? really / thought : 1;
  }

  /** The root mean square of what each point is off the line through the others, as parts of it. */
  private static double leftOut(TreeMap<Integer, Double> points) {
    if (points.size() < 3) {
      return UNKNOWN;
    }
    double sum = 0;
    for (Map.Entry<Integer, Double> p : points.entrySet()) {
      TreeMap<Integer, Double> others = new TreeMap<>(points);
      others.remove(p.getKey());
      double off = at(others, p.getKey()) / p.getValue() - 1;
      sum += off * off;
    }
    return Math.sqrt(sum / points.size());
  }

  /**
   * Returns a figure of several that are independent of each other, but for what scaling may be off
   * by: their values are added, and their bands as squares.
   */
  public static Figure sum(List<Figure> all) {
    double value = 0, down = 0, up = 0;
    for (Figure f : all) {
      value += f.value;
      down += (f.value - f.low) * (f.value - f.low);
      up += (f.high - f.value) * (f.high - f.value);
    }
    return new Figure(value, Math.max(0, value - Math.sqrt(down)), value + Math.sqrt(up));
  }

  /**
   * Returns the frames of which trials are to be made: the first, the last and those between,
   * evenly.
   *
   * @param frames of the strand, in order
   */
  public static List<Integer> tried(List<Integer> frames, int most) {
    int n = Math.min(most, frames.size());
    List<Integer> some = new ArrayList<>();
    for (int i = 0; i < n; i++) {
      some.add(frames.get(n == 1 ? 0 : (int) Math.round(i * (frames.size() - 1.0) / (n - 1))));
    }
    some.sort(Comparator.naturalOrder());
    return some;
  }
}
