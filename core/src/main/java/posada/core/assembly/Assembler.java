package posada.core.assembly;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.OptionalInt;
import java.util.function.Supplier;
import posada.core.parallel.Workers;

/** Puts the inputs of a stack together. */
public final class Assembler {
  /** Names of the passes that hold depth, motion and alpha. */
  private static final String DEPTH = "depth", MOTION = "motion-next", BEAUTY = "beauty";

  /** Names that a sentence names. */
  private static final int MOST_NAMED = 3;

  /** Light where nothing is, of that where something is, from which it counts as a sky. */
  private static final double SKY = 0.05;

  private final Shelf shelf;
  private final Keep keep;
  private final Workers workers;

  /** Keeps what was computed, so that it need not be computed again. */
  public interface Keep {
    Object of(Object key, Supplier<Object> compute);
  }

  /** Keeps nothing. */
  public static final Keep NOTHING = (key, compute) -> compute.get();

  public Assembler(Shelf shelf, Keep keep, Workers workers) {
    this.shelf = shelf;
    this.keep = keep;
    this.workers = workers;
  }

  /**
   * What somebody should know about an input.
   *
   * @param id of the input
   * @param text a sentence that names the input, the frame and a way out
   */
  public record Said(String id, String text) {}

  /** A picture and what there is to say about it. */
  public record Result(Picture picture, List<Said> said) {}

  /**
   * The numbers at a pixel after an input was put on.
   *
   * @param own red, green, blue, alpha of the input; null if it is left out
   * @param after of the stack up to there
   */
  public record Step(String id, float[] own, float[] after) {}

  /** Returns how much memory something takes that {@link Keep} keeps, about. */
  public static long bytes(Object kept) {
    if (kept instanceof float[] plane) {
      return (long) Float.BYTES * plane.length;
    }
    return kept instanceof Ready r
        ? r.picture.bytes() + (r.mask == null ? 0 : (long) Float.BYTES * r.mask.length)
        : 0;
  }

  /** An input that is ready to be put on. */
  private record Ready(Picture picture, boolean alpha, float[] mask, List<Said> said) {}

  /**
   * Returns a frame of a stack.
   *
   * @param w of the result, pixels; the stack's shape is kept if {@code h} has it, too
   * @param upTo id of the input with which it ends; null for the topmost
   */
  public Result frame(Stack s, int frame, int w, int h, String upTo) {
    Picture sum = new Picture(w, h);
    List<Said> said = new ArrayList<>();
    walk(s, frame, sum, upTo, said, (in, own) -> {});
    return new Result(sum, said);
  }

  /**
   * Returns what stands for the files that a frame is made from: another list whenever one of them
   * is another.
   */
  public List<String> stamps(Stack s, int frame) {
    List<String> all = new ArrayList<>();
    for (Input in : s.taking()) {
      all.add(stamp(s, in, in.source().footage(), frame, true));
      if (in.mask().kind() != Mask.Kind.NONE && in.mask().footage() != null) {
        all.add(stamp(s, in, in.mask().footage(), frame, false));
      }
    }
    return all;
  }

  private String stamp(Stack s, Input in, String footage, int frame, boolean own) {
    if (footage == null) {
      return "";
    }
    try {
      int of = at(s, in, shelf.facts(footage), frame, own, new ArrayList<>()).orElse(-1);
      return of + " " + shelf.stamp(footage, of);
    } catch (IOException | IllegalArgumentException e) {
      return "not there";
    }
  }

  /** Returns the frame of footage that is shown; nothing outside of its frames. */
  private static OptionalInt at(
      Stack s, Input in, Shelf.Facts facts, int frame, boolean own, List<Said> said) {
    if (own && in.source().still() != null) {
      return OptionalInt.of(in.source().still());
    }
    if (!own) {
      double rate = facts.rate() == null ? s.rate() : facts.rate();
      return Timing.frame(frame, s.rate(), facts.frames(), rate, Corrections.When.NONE);
    }
    double rate = rate(s, in, facts, said);
    return Timing.frame(frame, s.rate(), facts.frames(), rate, in.corrections().time());
  }

  /** Returns an input alone, with its corrections and its mask. */
  public Result alone(Stack s, Input in, int frame, int w, int h) {
    List<Said> said = new ArrayList<>();
    Ready r = ready(s, in, frame, w, h, said);
    Picture sum = new Picture(w, h);
    if (r != null) {
      said.addAll(r.said);
      Operator.OVER.apply(sum, r.picture, r.alpha, 1, r.mask, workers);
    }
    return new Result(sum, said);
  }

  /** Returns the numbers at a pixel of a picture of some size, the lowest input first. */
  public List<Step> steps(Stack s, int frame, int w, int h, int x, int y) {
    Picture sum = new Picture(w, h);
    List<Step> steps = new ArrayList<>();
    int i = y * w + x;
    walk(
        s,
        frame,
        sum,
        null,
        new ArrayList<>(),
        (in, own) -> steps.add(new Step(in.id(), own == null ? null : at(own, i), at(sum, i))));
    return steps;
  }

  private static float[] at(Picture p, int i) {
    return new float[] {p.c()[0][i], p.c()[1][i], p.c()[2][i], p.c()[3][i]};
  }

  private interface Seen {
    void put(Input in, Picture own);
  }

  private void walk(Stack s, int frame, Picture sum, String upTo, List<Said> said, Seen seen) {
    List<Input> all = s.taking();
    int w = sum.width(), h = sum.height();
    Ready[] ready = new Ready[all.size()];
    List<List<Said>> apart = new ArrayList<>();
    all.forEach(i -> apart.add(new ArrayList<>()));
    // Several are made ready side by side, each on one thread.
    Assembler each = all.size() > 1 ? new Assembler(shelf, keep, Workers.CALLER) : this;
    workers.each(all.size(), k -> ready[k] = each.ready(s, all.get(k), frame, w, h, apart.get(k)));
    boolean lowest = true;
    for (int k = 0; k < all.size(); k++) {
      Input in = all.get(k);
      said.addAll(apart.get(k));
      Ready r = ready[k];
      if (r != null) {
        said.addAll(r.said);
        if (lowest && !r.alpha && in.operator().leavesAlpha()) {
          float[] cover = cover(s, in, frame, w, h);
          System.arraycopy(cover, 0, sum.c()[3], 0, cover.length);
        }
        lowest = false;
        put(s, in, frame, r, sum);
      }
      seen.put(in, r == null ? null : r.picture);
      if (in.id().equals(upTo)) {
        return;
      }
    }
  }

  /**
   * Returns how far the lowest input covers each pixel, if it has no alpha: as far as the beauty of
   * its frame does, of which it is a part; everywhere if that does not tell.
   */
  private float[] cover(Stack s, Input in, int frame, int w, int h) {
    try {
      String footage = in.source().footage();
      Shelf.Facts facts = shelf.facts(footage);
      int of = at(s, in, facts, frame, true, new ArrayList<>()).orElseThrow();
      Object key = key(s, in, frame, w, h, "alpha " + shelf.stamp(footage, of));
      return (float[]) keep.of(key, () -> alpha(s, in, facts, of, frame, w, h));
    } catch (IOException | UncheckedIOException | IllegalArgumentException e) {
      return Picture.ones(w * h);
    }
  }

  private float[] alpha(Stack s, Input in, Shelf.Facts facts, int of, int frame, int w, int h) {
    try {
      int shrink = shrink(facts, w, h);
      Shelf.Loaded l = shelf.picture(in.source().footage(), BEAUTY, of, Reading.AS_FILE, shrink);
      if (!l.alpha()) {
        return Picture.ones(w * h);
      }
      Picture p = l.picture();
      double fit = Math.min(w / (double) p.width(), h / (double) p.height());
      double part = w / (double) s.width();
      return Place.put(p, w, h, fit, in.corrections(), frame / s.rate(), part, workers).c()[3];
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static int shrink(Shelf.Facts facts, int w, int h) {
    return Math.max(1, (int) Math.min(facts.width() / (double) w, facts.height() / (double) h));
  }

  private void put(Stack s, Input in, int frame, Ready r, Picture sum) {
    double t = frame / s.rate(), part = sum.width() / (double) s.width();
    Picture own = r.picture;
    double wrap = in.corrections().wrap().strength().at(t);
    if (wrap > 0 && r.alpha) {
      double radius = in.corrections().wrap().radius().at(t) * part;
      own = wrapped(own, sum, radius, (float) wrap, workers);
    }
    in.operator().apply(sum, own, r.alpha, (float) in.strength().at(t), r.mask, workers);
  }

  /** Adds light of what is below to the edges of a picture: where it is near to where it ends. */
  private static Picture wrapped(
      Picture p, Picture below, double radius, float strength, Workers workers) {
    Picture light = Gaussian.blur(below, false, radius, workers);
    float[] soft = Gaussian.blur(p.c()[3], p.width(), p.height(), radius, workers);
    Picture out = p.copy();
    for (int i = 0; i < p.pixels(); i++) {
      float edge = strength * p.c()[3][i] * Math.max(0, 1 - soft[i]);
      for (int j = 0; j < 3; j++) {
        out.c()[j][i] += edge * light.c()[j][i];
      }
    }
    return out;
  }

  /** Returns an input at a frame; null, with a word about it, if there is nothing to put on. */
  private Ready ready(Stack s, Input in, int frame, int w, int h, List<Said> said) {
    try {
      if (in.source().kind() != Source.Kind.FOOTAGE) {
        return (Ready) keep.of(key(s, in, frame, w, h, ""), () -> drawn(s, in, frame, w, h));
      }
      String footage = in.source().footage();
      Shelf.Facts facts = shelf.facts(footage);
      OptionalInt of = at(s, in, facts, frame, true, said);
      if (of.isEmpty()) {
        return null;
      }
      if (facts.width() * (long) s.height() != facts.height() * (long) s.width()) {
        said.add(
            new Said(
                in.id(),
                "%s has %d x %d pixels, the stack %d x %d: it is fitted in, and bars stay at two sides. Crop or scale it."
                    .formatted(in.name(), facts.width(), facts.height(), s.width(), s.height())));
      }
      Object key = key(s, in, frame, w, h, shelf.stamp(footage, of.getAsInt()));
      return (Ready) keep.of(key, () -> loaded(s, in, facts, of.getAsInt(), frame, w, h));
    } catch (Shelf.Missing e) {
      said.add(missing(in, frame));
    } catch (UncheckedIOException e) {
      said.add(
          e.getCause() instanceof Shelf.Missing
              ? missing(in, frame)
              : unreadable(in, frame, e.getCause()));
    } catch (IOException e) {
      said.add(unreadable(in, frame, e));
    } catch (IllegalArgumentException e) {
      said.add(
          new Said(
              in.id(),
              "%s is left out at frame %d: %s Choose another source for it, or remove it."
                  .formatted(in.name(), frame, ended(e.getMessage()))));
    }
    return null;
  }

  /** Returns all that a ready input depends on: what it says of itself, and files by stamps. */
  private Object key(Stack s, Input in, int frame, int w, int h, String stamp) {
    String other = in.mask().kind() == Mask.Kind.NONE ? null : in.mask().footage();
    return List.of(
        in.with(in.operator(), 0).with(false, false),
        frame,
        s.rate(),
        s.width(),
        s.height(),
        w,
        h,
        stamp,
        stamp(s, in, other, frame, false));
  }

  private static String ended(String text) {
    return text.endsWith(".") ? text : text + ".";
  }

  private static Said missing(Input in, int frame) {
    return new Said(
        in.id(),
        "Frame %d of %s is missing; it is left out there. Render it again, or remove the input."
            .formatted(frame, in.name()));
  }

  private static Said unreadable(Input in, int frame, IOException e) {
    return new Said(
        in.id(),
        "%s is left out at frame %d, whose file cannot be read (%s). Render it again."
            .formatted(in.name(), frame, e.getMessage()));
  }

  private static double rate(Stack s, Input in, Shelf.Facts facts, List<Said> said) {
    Double known = in.reading().rate() != null ? in.reading().rate() : facts.rate();
    double rate = known == null ? s.rate() : known;
    if (Math.abs(rate - s.rate()) > 1e-3 && in.source().still() == null) {
      said.add(
          new Said(
              in.id(),
              String.format(
                  Locale.ROOT,
                  "%s has %s frames a second, the stack %s: pictures are shown %s. Say its rate if that is wrong.",
                  in.name(),
                  plain(rate),
                  plain(s.rate()),
                  rate < s.rate() ? "more than once" : "not all")));
      return rate;
    }
    return s.rate();
  }

  private static String plain(double v) {
    return v == Math.rint(v) ? Long.toString((long) v) : String.format(Locale.ROOT, "%.3f", v);
  }

  private Ready drawn(Stack s, Input in, int frame, int w, int h) {
    double t = frame / s.rate(), part = w / (double) s.width();
    List<Said> said = new ArrayList<>();
    Picture p =
        corrected(in, null, 0, new Shelf.Loaded(in.source().drawn(w, h), true), t, part, 1, said);
    Picture placed = Place.put(p, w, h, 1, in.corrections(), t, part, workers);
    return new Ready(placed, true, mask(s, in, frame, placed, said), said);
  }

  private Ready loaded(Stack s, Input in, Shelf.Facts facts, int of, int frame, int w, int h) {
    double t = frame / s.rate(), part = w / (double) s.width();
    List<Said> said = new ArrayList<>();
    int shrink = shrink(facts, w, h);
    try {
      Source src = in.source();
      Shelf.Loaded raw = shelf.picture(src.footage(), src.pass(), of, in.reading(), shrink);
      Picture p = numbers(in, frame, raw, said);
      double fit = Math.min(w / (double) p.width(), h / (double) p.height());
      Picture c =
          corrected(in, src.footage(), of, new Shelf.Loaded(p, raw.alpha()), t, part, fit, said);
      Picture placed = Place.put(c, w, h, fit, in.corrections(), t, part, workers);
      // Where nothing of it lies there is nothing, even if it has no alpha.
      boolean alpha = raw.alpha() || placed != c && !covers(placed);
      return new Ready(placed, alpha, mask(s, in, frame, placed, said), said);
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static boolean covers(Picture p) {
    for (float a : p.c()[3]) {
      if (a < 0.999f) {
        return false;
      }
    }
    return true;
  }

  /** Returns a picture in which everything is a number, and says what was not. */
  private static Picture numbers(Input in, int frame, Shelf.Loaded l, List<Said> said) {
    int bad = 0;
    Picture p = l.picture();
    Picture out = p;
    for (int j = 0; j < 4; j++) {
      for (int i = 0; i < p.pixels(); i++) {
        if (!Float.isFinite(p.c()[j][i])) {
          if (bad++ == 0) {
            out = p.copy();
          }
          out.c()[j][i] = 0;
        }
      }
    }
    if (bad > 0) {
      said.add(
          new Said(
              in.id(),
              "%s has %d values at frame %d that are no numbers; they count as 0. Render the frame again."
                  .formatted(in.name(), bad, frame)));
    }
    if (l.alpha() && in.reading().alpha() != Reading.Alpha.STRAIGHT && looksStraight(out)) {
      said.add(
          new Said(
              in.id(),
              "%s is read as premultiplied at frame %d, but is as bright at its edges as inside: it looks straight. Read it as straight."
                  .formatted(in.name(), frame)));
    }
    return out;
  }

  /**
   * Returns true if colour does not fade with alpha as premultiplied colour must: where alpha is
   * below a third it is more than 3 times as bright for its alpha as where it is above two thirds.
   * A picture that has light where nothing is, such as a sky, does not tell.
   */
  private static boolean looksStraight(Picture p) {
    double thin = 0, thinAlpha = 0, full = 0, fullAlpha = 0, empty = 0;
    int n = 0, holes = 0;
    for (int i = 0; i < p.pixels(); i++) {
      float a = p.c()[3][i];
      float v = p.c()[0][i] + p.c()[1][i] + p.c()[2][i];
      if (a > 0.01f && a < 1 / 3f) {
        thin += v;
        thinAlpha += a;
        n++;
      } else if (a > 2 / 3f) {
        full += v;
        fullAlpha += a;
      } else if (a <= 0.01f) {
        empty += v;
        holes++;
      }
    }
    boolean sky = holes > 0 && empty / holes > SKY * full / fullAlpha;
    return !sky && n >= 16 && fullAlpha > 0 && full > 0 && thin / thinAlpha > 3 * full / fullAlpha;
  }

  /** Applies what comes before a picture is put in its place. */
  private Picture corrected(
      Input in,
      String footage,
      int of,
      Shelf.Loaded l,
      double t,
      double part,
      double fit,
      List<Said> said) {
    Corrections c = in.corrections();
    // Lengths are of the stack's full size.
    double pixel = part / fit;
    Picture p = l.picture();
    Colours colours = new Colours(c, t);
    if (!colours.same()) {
      p = p.copy();
      colours.apply(p, l.alpha(), workers);
    }
    if (c.denoise().at(t) > 0) {
      p = NoiseFilter.clean(p, c.denoise().at(t), workers);
    }
    if (c.blur().at(t) > 0) {
      p = Gaussian.blur(p, l.alpha(), c.blur().at(t) * pixel, workers);
    }
    if (!c.glow().rings().isEmpty()) {
      p = glowing(p, c.glow(), t, pixel);
    }
    if (footage != null) {
      p = spread(in, footage, of, p, t, said);
    }
    if (c.vignette().at(t) > 0) {
      p = p.copy();
      Colours.vignette(p, c.vignette().at(t), workers);
    }
    return p;
  }

  /** Adds blurs of what is brighter than a threshold; alpha stays. */
  private Picture glowing(Picture p, Corrections.Halo g, double t, double pixel) {
    float threshold = (float) g.threshold().at(t);
    Picture out = g.alone() ? new Picture(p.width(), p.height()) : p.copy();
    for (int j = 0; j < 3; j++) {
      float[] bright = new float[p.pixels()];
      for (int i = 0; i < bright.length; i++) {
        bright[i] = Math.max(0, p.c()[j][i] - threshold);
      }
      for (Corrections.Ring r : g.rings()) {
        float k = (float) r.strength().at(t);
        if (k > 0) {
          double sigma = r.radius().at(t) * pixel;
          float[] soft = Gaussian.blur(bright, p.width(), p.height(), sigma, workers);
          for (int i = 0; i < soft.length; i++) {
            out.c()[j][i] += k * soft[i];
          }
        }
      }
    }
    return out;
  }

  private Picture spread(
      Input in, String footage, int of, Picture picture, double t, List<Said> said) {
    Corrections c = in.corrections();
    Picture p = picture;
    double motion = c.motionBlur().at(t);
    if (c.defocus() == null && motion == 0) {
      return p;
    }
    try {
      Shelf.Facts facts = shelf.facts(footage);
      int shrink = Math.max(1, facts.width() / p.width());
      Shelf.Plane depth = fitting(shelf.values(footage, DEPTH, 0, of, shrink), p);
      if (c.defocus() != null && depth == null) {
        said.add(lacks(in, "depth", "defocus"));
      } else if (c.defocus() != null) {
        p = Spread.byDepth(p, depth.values(), c.defocus(), t, workers);
      }
      if (motion > 0) {
        Shelf.Plane x = fitting(shelf.values(footage, MOTION, 0, of, shrink), p);
        Shelf.Plane y = fitting(shelf.values(footage, MOTION, 1, of, shrink), p);
        if (x == null || y == null) {
          said.add(lacks(in, MOTION, "motion blur"));
        } else {
          float k = (float) motion / shrink;
          float[] d = depth == null ? null : depth.values();
          p = Spread.byMotion(p, times(x.values(), k), times(y.values(), k), d, workers);
        }
      }
      return p;
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    }
  }

  private static Shelf.Plane fitting(Shelf.Plane plane, Picture p) {
    return plane != null && plane.width() == p.width() && plane.height() == p.height()
        ? plane
        : null;
  }

  private static Said lacks(Input in, String pass, String what) {
    return new Said(
        in.id(),
        "%s has no pass %s, which its %s needs; it is left as it is. Render the pass, or switch it off."
            .formatted(in.name(), pass, what));
  }

  private static float[] times(float[] v, float k) {
    float[] out = new float[v.length];
    for (int i = 0; i < v.length; i++) {
      out[i] = Float.isFinite(v[i]) ? v[i] * k : 0;
    }
    return out;
  }

  /** Returns where an input acts; null for everywhere. */
  private float[] mask(Stack s, Input in, int frame, Picture placed, List<Said> said) {
    Mask m = in.mask();
    if (m.kind() == Mask.Kind.NONE) {
      return null;
    }
    int w = placed.width(), h = placed.height();
    float[] out;
    boolean own = m.footage() == null || m.footage().equals(in.source().footage());
    if (m.shape()) {
      out = m.drawn(w, h, w / (double) s.width(), frame / s.rate());
    } else if (m.kind() == Mask.Kind.ALPHA && own && m.pass().equals(in.source().pass())) {
      out = placed.c()[3].clone();
    } else {
      try {
        out = fromFootage(s, in, frame, own, w, h, said);
      } catch (IOException e) {
        throw new UncheckedIOException(e);
      }
    }
    for (int i = 0; out != null && m.invert() && i < out.length; i++) {
      out[i] = 1 - out[i];
    }
    return out;
  }

  private float[] fromFootage(
      Stack s, Input in, int frame, boolean own, int w, int h, List<Said> said) throws IOException {
    Mask m = in.mask();
    double t = frame / s.rate();
    String footage = m.footage() == null ? in.source().footage() : m.footage();
    if (footage == null) {
      said.add(new Said(in.id(), in.name() + " has a mask of no footage; choose one."));
      return null;
    }
    Shelf.Facts facts = shelf.facts(footage);
    int of = at(s, in, facts, frame, own, new ArrayList<>()).orElse(facts.frames().get(0));
    int shrink = shrink(facts, w, h);
    Shelf.Plane plane;
    switch (m.kind()) {
      case MATTE -> {
        List<String> known = shelf.names(footage, m.pass(), of);
        List<String> gone =
            m.names().stream()
                .filter(n -> !known.isEmpty() && !known.contains(n))
                .limit(MOST_NAMED)
                .toList();
        if (!gone.isEmpty()) {
          said.add(
              new Said(
                  in.id(),
                  "The mask of %s names %s, which %s of %s does not know at frame %d. Choose it again."
                      .formatted(
                          in.name(), String.join(", ", gone), m.pass(), facts.name(), frame)));
        }
        plane = shelf.coverage(footage, m.pass(), m.names(), of, shrink);
      }
      case PASS -> {
        plane = shelf.values(footage, m.pass(), 0, of, shrink);
        if (plane == null) {
          throw new IllegalArgumentException(
              "%s has no pass %s for the mask".formatted(facts.name(), m.pass()));
        }
        plane = new Shelf.Plane(plane.width(), plane.height(), m.ramp(plane.values(), t));
      }
      default -> {
        Picture p = shelf.picture(footage, m.pass(), of, Reading.AS_FILE, shrink).picture();
        plane = new Shelf.Plane(p.width(), p.height(), p.c()[3]);
      }
    }
    float[] v = plane.values();
    Picture p = new Picture(plane.width(), plane.height(), new float[][] {v, v, v, v});
    double fit = Math.min(w / (double) plane.width(), h / (double) plane.height());
    Corrections c = own ? in.corrections() : Corrections.NONE;
    return Place.put(p, w, h, fit, c, t, w / (double) s.width(), workers).c()[3].clone();
  }
}
