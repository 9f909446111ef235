package posada.core.review;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import posada.core.review.Fault.Kind;
import posada.core.review.FrameLook.Box;
import posada.core.review.FrameLook.Bright;

/**
 * Holds the frames of a sequence against each other. What is the same in most of them is taken to
 * be as it should; what stands out is told.
 */
public final class SequenceChecks {
  /** Luminance below which all of a picture is black. */
  private static final double BLACK = 1e-4;

  /** Share of white pixels from which a picture is white. */
  private static final double WHITE = 0.995;

  /** How many times as bright as what is around it a firefly is, and how bright. */
  private static final float FIREFLY = 8, FIREFLY_LIGHT = 1;

  /** Pixels that a bright spot may move from frame to frame, and still be the same. */
  private static final int NEAR = 8;

  /** How far a field may be from all that was around it before and is after, over its light. */
  private static final double FLICKER = 0.08;

  /** Fields next to each other that flicker together: fewer are noise. */
  private static final int FIELDS = 16;

  /** How many times as much as usual a whole picture changes where it jumps. */
  private static final double JUMP = 8;

  /** What it changes at least: mean difference of fields over their light. */
  private static final double JUMP_LEAST = 0.05;

  private static final double PARTS = 0.01;

  /** Share of clipped pixels, and how many times the usual it is. */
  private static final double CLIPPED = 0.02, CLIPPED_TIMES = 3;

  /** How many times as noisy as usual a frame is that stands out, and how noisy at least. */
  private static final double NOISY = 1.8, NOISY_LEAST = 0.02;

  /** Share of pixels on bands from which they are told. */
  private static final double BANDED = 0.05;

  /** How far the depth of a field may be from where it was, and still be the same surface. */
  private static final double SAME_DEPTH = 0.1;

  private SequenceChecks() {}

  /**
   * A figure of each frame, in order.
   *
   * @param light mean luminance
   * @param noise share of the light
   * @param flicker how far a field is on average from all that was around it before and is after,
   *     over its light; 0 for the first and the last
   * @param bright single bright pixels
   * @param change mean difference of fields from the frame before, over their light
   * @param parts how far the parts of the light are from the beauty in the worst frame, see {@link
   *     FrameLook#apart}; -1 if not all are there
   */
  public record Curves(
      double[] light,
      double[] noise,
      double[] flicker,
      double[] bright,
      double[] change,
      double parts) {}

  /** Returns the figures of frames. */
  public static Curves curves(List<FrameLook> looks) {
    int n = looks.size();
    double parts =
        looks.stream().mapToDouble(FrameLook::apart).filter(a -> !Double.isNaN(a)).max().orElse(-1);
    Curves c =
        new Curves(
            new double[n], new double[n], new double[n], new double[n], new double[n], parts);
    for (int i = 0; i < n; i++) {
      FrameLook l = looks.get(i);
      c.light[i] = l.light();
      c.noise[i] = l.noise();
      c.bright[i] = fireflies(looks, i).size();
      c.change[i] = i == 0 ? 0 : change(looks.get(i - 1), l);
      if (i > 0 && i + 1 < n && alike(looks.get(i - 1), l) && alike(l, looks.get(i + 1))) {
        double sum = 0;
        double[] off = off(looks.get(i - 1), l, looks.get(i + 1));
        for (double v : off) {
          sum += Math.abs(v);
        }
        c.flicker[i] = sum / off.length;
      }
    }
    return c;
  }

  /** Returns true if two frames can be held against each other: of one size, and not black. */
  private static boolean alike(FrameLook a, FrameLook b) {
    return a.columns() == b.columns()
        && a.rows() == b.rows()
        && a.light() >= BLACK
        && b.light() >= BLACK;
  }

  /**
   * Returns what stands out, by kind and frame.
   *
   * @param looks of the frames, in order
   */
  public static List<Fault> of(List<FrameLook> looks) {
    List<Fault> all = new ArrayList<>();
    if (looks.isEmpty()) {
      return all;
    }
    all.addAll(missing(looks.stream().map(FrameLook::frame).toList(), null));
    unlike(looks, all);
    single(looks, all);
    fireflies(looks, all);
    banding(looks, all);
    unchanged(looks, all);
    moving(looks, all);
    return all;
  }

  private static Fault one(Kind kind, FrameLook l, String text, Box box, double value) {
    return new Fault(kind, List.of(l.frame()), text, box, value);
  }

  private static String pixels(int n, String one, String more) {
    return n == 1 ? "1 pixel " + one : n + " pixels " + more;
  }

  private static String say(String text, Object... values) {
    return String.format(Locale.ROOT, text, values);
  }

  /**
   * Returns the frames that are not there, one fault for each gap.
   *
   * @param there numbers that are, rising
   * @param wanted those that should be, rising; null if all steps are as the smallest there is
   */
  public static List<Fault> missing(List<Integer> there, List<Integer> wanted) {
    List<Integer> should = wanted;
    if (should == null) {
      should = new ArrayList<>();
      int step = 0;
      for (int i = 1; i < there.size(); i++) {
        int d = there.get(i) - there.get(i - 1);
        step = step == 0 ? d : Math.min(step, d);
      }
      for (int f = there.get(0); step > 0 && f <= there.get(there.size() - 1); f += step) {
        should.add(f);
      }
    }
    Set<Integer> known = Set.copyOf(there);
    List<Fault> all = new ArrayList<>();
    List<Integer> gap = new ArrayList<>();
    for (int i = 0; i <= should.size(); i++) {
      if (i < should.size() && !known.contains(should.get(i))) {
        gap.add(should.get(i));
      } else if (!gap.isEmpty()) {
        String which = gap.size() == 1 ? "Frame %d is" : "Frames %d to %d are";
        String text = say(which + " not there.", gap.get(0), gap.get(gap.size() - 1));
        all.add(new Fault(Kind.MISSING, gap, text, null, gap.size()));
        gap.clear();
      }
    }
    return all;
  }

  /** Sizes and channels that are not those of most frames. */
  private static void unlike(List<FrameLook> looks, List<Fault> all) {
    String size = most(looks, l -> l.width() + " x " + l.height());
    String channels = most(looks, l -> String.join(" ", l.channels()));
    for (FrameLook l : looks) {
      String own = l.width() + " x " + l.height();
      if (!own.equals(size)) {
        all.add(one(Kind.SIZE, l, say("%s px, the others %s.", own, size), null, l.width()));
      }
      if (!String.join(" ", l.channels()).equals(channels)) {
        List<String> gone = new ArrayList<>(Arrays.asList(channels.split(" ")));
        gone.removeAll(l.channels());
        List<String> more = new ArrayList<>(l.channels());
        more.removeAll(Arrays.asList(channels.split(" ")));
        String text =
            (gone.isEmpty() ? "" : "Without " + String.join(", ", gone) + ". ")
                + (more.isEmpty() ? "" : "With " + String.join(", ", more) + " on top.");
        all.add(one(Kind.CHANNELS, l, text.strip(), null, gone.size() + more.size()));
      }
    }
  }

  private static String most(List<FrameLook> looks, Function<FrameLook, String> of) {
    Map<String, Integer> counts = new TreeMap<>();
    looks.forEach(l -> counts.merge(of.apply(l), 1, Integer::sum));
    return counts.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
  }

  /** What a frame shows by itself. */
  private static void single(List<FrameLook> looks, List<Fault> all) {
    boolean allBlack = looks.stream().allMatch(l -> l.light() < BLACK);
    double usual = median(looks.stream().mapToDouble(FrameLook::clipped).toArray());
    double usualHoles = median(looks.stream().mapToDouble(FrameLook::holes).toArray());
    double usualFringe = median(looks.stream().mapToDouble(FrameLook::fringe).toArray());
    double usualNoise = median(looks.stream().mapToDouble(FrameLook::noise).toArray());
    for (FrameLook l : looks) {
      if (l.light() < BLACK && !allBlack) {
        all.add(one(Kind.BLACK, l, "The picture is black.", null, l.light()));
      }
      if (l.white() > WHITE) {
        all.add(one(Kind.WHITE, l, "The picture is white.", null, l.white()));
      }
      if (l.notNumbers() > 0) {
        String text = say("%s no number.", pixels(l.notNumbers(), "holds", "hold"));
        all.add(one(Kind.NOT_A_NUMBER, l, text, l.notNumbersAt(), l.notNumbers()));
      }
      if (l.negative() > 0) {
        String text = say("%s less than no light.", pixels(l.negative(), "has", "have"));
        all.add(one(Kind.NEGATIVE, l, text, l.negativeAt(), l.negative()));
      }
      if (l.apart() > PARTS) {
        String text =
            say("The parts of the light are %.1f %% away from the beauty.", 100 * l.apart());
        all.add(one(Kind.PARTS, l, text, null, l.apart()));
      }
      if (l.clipped() > CLIPPED && l.clipped() > CLIPPED_TIMES * usual) {
        String text =
            say(
                "%.1f %% of the pixels are clipped, elsewhere %.1f %%.",
                100 * l.clipped(), 100 * usual);
        all.add(one(Kind.CLIPPED, l, text, null, l.clipped()));
      }
      if (l.holes() > 0 && l.holes() > 2 * usualHoles) {
        String text = say("%s without alpha inside of objects.", pixels(l.holes(), "is", "are"));
        all.add(one(Kind.HOLES, l, text, l.holesAt(), l.holes()));
      }
      if (l.fringe() > 2 + 2 * usualFringe) {
        String text =
            say("%s brighter than the opaque part beside.", pixels(l.fringe(), "is", "are"));
        all.add(one(Kind.FRINGE, l, text, l.fringeAt(), l.fringe()));
      }
      if (l.noise() > NOISY_LEAST && l.noise() > NOISY * usualNoise && looks.size() > 2) {
        String text =
            say("The noise is %.1f %%, elsewhere %.1f %%.", 100 * l.noise(), 100 * usualNoise);
        all.add(one(Kind.NOISE, l, text, null, l.noise()));
      }
    }
  }

  /** Steps that are seen where a picture of 8 bits should be smooth: told once for all frames. */
  private static void banding(List<FrameLook> looks, List<Fault> all) {
    List<FrameLook> some = looks.stream().filter(l -> l.banding() > BANDED).toList();
    if (!some.isEmpty()) {
      FrameLook worst =
          some.stream().max(Comparator.comparingDouble(FrameLook::banding)).orElseThrow();
      String text =
          say(
              "%.0f %% of frame %d are bands of one value of 8 bits; a little noise or 16 bits help.",
              100 * worst.banding(), worst.frame());
      List<Integer> frames = some.stream().map(FrameLook::frame).toList();
      all.add(new Fault(Kind.BANDING, frames, text, null, worst.banding()));
    }
  }

  /** Single bright pixels that are not there before and after. */
  private static void fireflies(List<FrameLook> looks, List<Fault> all) {
    for (int i = 0; i < looks.size(); i++) {
      List<Bright> some = fireflies(looks, i);
      if (!some.isEmpty()) {
        Box box = null;
        float most = 0;
        for (Bright b : some) {
          box = Box.of(box, b.x(), b.y());
          most = Math.max(most, b.times());
        }
        String text =
            say(
                "%d %s, up to %.0f times as bright as what is around.",
                some.size(), some.size() == 1 ? "firefly" : "fireflies", most);
        all.add(one(Kind.FIREFLY, looks.get(i), text, box, some.size()));
      }
    }
  }

  private static List<Bright> fireflies(List<FrameLook> looks, int i) {
    return looks.get(i).bright().stream()
        .filter(
            b ->
                b.times() > FIREFLY
                    && b.luminance() > FIREFLY_LIGHT
                    && !(i > 0 && there(looks.get(i - 1), b))
                    && !(i + 1 < looks.size() && there(looks.get(i + 1), b)))
        .toList();
  }

  private static boolean there(FrameLook l, Bright b) {
    return l.bright().stream()
        .anyMatch(o -> Math.abs(o.x() - b.x()) <= NEAR && Math.abs(o.y() - b.y()) <= NEAR);
  }

  /** Frames that are the same as the one before, in a sequence that otherwise changes. */
  private static void unchanged(List<FrameLook> looks, List<Fault> all) {
    int same = 0;
    for (int i = 1; i < looks.size(); i++) {
      same += looks.get(i).digest() == looks.get(i - 1).digest() ? 1 : 0;
    }
    if (2 * same >= looks.size() - 1) {
      return;
    }
    for (int i = 1; i < looks.size(); i++) {
      if (looks.get(i).digest() == looks.get(i - 1).digest()) {
        String text = say("The same picture as frame %d.", looks.get(i - 1).frame());
        all.add(one(Kind.UNCHANGED, looks.get(i), text, null, 0));
      }
    }
  }

  /** What comes and goes within one frame, and whole pictures that change at once. */
  private static void moving(List<FrameLook> looks, List<Fault> all) {
    int n = looks.size();
    double[] change = new double[n];
    for (int i = 1; i < n; i++) {
      change[i] = change(looks.get(i - 1), looks.get(i));
    }
    double usual = n < 3 ? Double.NaN : median(Arrays.copyOfRange(change, 1, n));
    boolean[] jumps = new boolean[n + 1];
    for (int i = 1; i < n; i++) {
      jumps[i] = change[i] > JUMP_LEAST && change[i] > JUMP * usual;
    }
    for (int i = 1; i < n; i++) {
      // One odd picture jumps twice, and flickers.
      if (jumps[i] && !jumps[i + 1] && !jumps[i - 1]) {
        String text =
            say(
                "The picture jumps from frame %d: it changes %.0f times as much as usual.",
                looks.get(i - 1).frame(), change[i] / Math.max(1e-6, usual));
        all.add(one(Kind.JUMP, looks.get(i), text, null, change[i]));
      }
    }
    Fault[] flicker = new Fault[n + 1];
    for (int i = 1; i + 1 < n; i++) {
      // Next to a cut there is nothing to hold a picture against.
      flicker[i] =
          jumps[i] == jumps[i + 1]
              ? flicker(looks.get(i - 1), looks.get(i), looks.get(i + 1))
              : null;
    }
    for (int i = 1; i + 1 < n; i++) {
      // What is held against a frame that flickers seems to do so, less.
      if (flicker[i] != null
          && !outdone(flicker[i], flicker[i - 1])
          && !outdone(flicker[i], flicker[i + 1])) {
        all.add(flicker[i]);
      }
    }
  }

  private static boolean outdone(Fault f, Fault next) {
    return next != null && next.value() > 2 * f.value();
  }

  private static double change(FrameLook a, FrameLook b) {
    if (!alike(a, b)) {
      return 0;
    }
    double sum = 0;
    for (int i = 0; i < a.grid().length; i++) {
      sum += Math.abs(a.grid()[i] - b.grid()[i]) / (a.grid()[i] + FrameLook.DARK);
    }
    return sum / a.grid().length;
  }

  /** Fields that are neither as anything around them before nor as anything after. */
  private static Fault flicker(FrameLook before, FrameLook now, FrameLook after) {
    if (!alike(before, now) || !alike(now, after)) {
      return null;
    }
    int w = now.columns(), h = now.rows();
    double[] off = off(before, now, after);
    boolean[] seen = new boolean[w * h];
    Box box = null;
    int fields = 0;
    double most = 0;
    for (int i = 0; i < off.length; i++) {
      List<Integer> group = group(off, seen, i, w, h);
      if (group.size() >= FIELDS) {
        fields += group.size();
        for (int k : group) {
          box = Box.of(box, k % w, k / w);
          most = Math.abs(off[k]) > Math.abs(most) ? off[k] : most;
        }
      }
    }
    if (fields == 0) {
      return null;
    }
    int x0 = box.x() * now.width() / w, y0 = box.y() * now.height() / h;
    int x1 = (box.x() + box.width()) * now.width() / w;
    int y1 = (box.y() + box.height()) * now.height() / h;
    String text =
        say(
            "%.0f %% of the picture is %s for this frame alone, by up to %.0f %%.",
            100.0 * fields / off.length, most > 0 ? "brighter" : "darker", 100 * Math.abs(most));
    return one(Kind.FLICKER, now, text, new Box(x0, y0, x1 - x0, y1 - y0), Math.abs(most));
  }

  /** How far each field is from all that was around it before, and is after, over its light. */
  private static double[] off(FrameLook before, FrameLook now, FrameLook after) {
    int w = now.columns(), h = now.rows();
    double[] off = new double[w * h];
    for (int i = 0; i < off.length; i++) {
      double v = now.grid()[i];
      double a = outside(before, moved(now, i, -1, before), v);
      double b = outside(after, moved(now, i, 1, after), v);
      if (a * b > 0) {
        double least = Math.min(Math.abs(a), Math.abs(b));
        double around = v - Math.signum(a) * least;
        off[i] = Math.signum(a) * least / (around + FrameLook.DARK);
      }
    }
    return off;
  }

  /**
   * Returns the field that a field was in the frame before, or will be in the next if it goes on as
   * it does; -1 if it is hidden there. By what the passes say, where there are some; else it stays.
   *
   * @param way -1 for the frame before, 1 for the next
   */
  private static int moved(FrameLook now, int i, int way, FrameLook other) {
    FrameLook.Traces t = now.before();
    if (t == null || !Float.isFinite(t.right()[i]) || !Float.isFinite(t.down()[i])) {
      return i;
    }
    int w = now.columns(), h = now.rows();
    long x = i % w + way * Math.round(t.right()[i] * w / (double) now.width());
    long y = i / w + way * Math.round(t.down()[i] * h / (double) now.height());
    if (x < 0 || y < 0 || x >= w || y >= h) {
      return -1;
    }
    int k = (int) (y * w + x);
    FrameLook.Traces b = other.before();
    boolean hidden =
        b != null
            && (apart(t.depth(), i, b.depth(), k)
                || t.object() != null
                    && b.object() != null
                    && Float.floatToRawIntBits(t.object()[i])
                        != Float.floatToRawIntBits(b.object()[k]));
    return hidden ? -1 : k;
  }

  private static boolean apart(float[] a, int i, float[] b, int k) {
    return a != null
        && b != null
        && a[i] != b[k]
        && !(Math.abs(a[i] - b[k]) < SAME_DEPTH * Math.max(a[i], b[k]));
  }

  /** How far a value is above or below all fields around a place; 0 if there is no such place. */
  private static double outside(FrameLook l, int at, double v) {
    if (at < 0) {
      return 0;
    }
    int x = at % l.columns(), y = at / l.columns();
    double least = Double.POSITIVE_INFINITY, most = Double.NEGATIVE_INFINITY;
    for (int j = Math.max(0, y - 1); j <= Math.min(l.rows() - 1, y + 1); j++) {
      for (int i = Math.max(0, x - 1); i <= Math.min(l.columns() - 1, x + 1); i++) {
        double o = l.grid()[j * l.columns() + i];
        least = Math.min(least, o);
        most = Math.max(most, o);
      }
    }
    return v > most ? v - most : v < least ? v - least : 0;
  }

  /** Fields around a first one that flicker the same way. */
  private static List<Integer> group(double[] off, boolean[] seen, int first, int w, int h) {
    List<Integer> all = new ArrayList<>();
    if (seen[first] || Math.abs(off[first]) < FLICKER) {
      return all;
    }
    seen[first] = true;
    all.add(first);
    for (int k = 0; k < all.size(); k++) {
      int x = all.get(k) % w, y = all.get(k) / w;
      for (int j = Math.max(0, y - 1); j <= Math.min(h - 1, y + 1); j++) {
        for (int i = Math.max(0, x - 1); i <= Math.min(w - 1, x + 1); i++) {
          int o = j * w + i;
          if (!seen[o] && Math.abs(off[o]) >= FLICKER && off[o] * off[first] > 0) {
            seen[o] = true;
            all.add(o);
          }
        }
      }
    }
    return all;
  }

  private static double median(double[] v) {
    double[] sorted = v.clone();
    Arrays.sort(sorted);
    return sorted.length == 0 ? 0 : sorted[sorted.length / 2];
  }
}
