package posada.core.plan;

import java.util.ArrayList;
import java.util.List;
import java.util.TreeSet;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * The frames of a shot, written {@code 1-48}, {@code 1-96x4} or {@code 1,10,20-30}: whole numbers
 * of 0 or more, in rising order, each once.
 */
public record FrameRange(List<Integer> frames) {
  /** Most frames that one range may hold. */
  public static final int MAX_FRAMES = 100_000;

  /** Highest frame number. */
  public static final int MAX_FRAME = 9_999_999;

  private static final Pattern PART =
      Pattern.compile("(\\d{1,7})(?:\\s*[-–]\\s*(\\d{1,7})(?:\\s*[x×]\\s*(\\d{1,7}))?)?");

  public FrameRange {
    if (frames.isEmpty()) {
      throw new IllegalArgumentException("a range needs at least one frame");
    }
    frames = List.copyOf(frames);
  }

  /**
   * Refuses what {@link #parse} refuses, without listing the frames where that can be told so.
   *
   * @throws IllegalArgumentException as it does
   */
  public static void check(String text) {
    long most = 0;
    for (String part : text.split(",", -1)) {
      Matcher m = PART.matcher(part.strip());
      if (!m.matches() || m.group(2) != null && Integer.parseInt(m.group(2)) < number(m, 1)) {
        most = Long.MAX_VALUE;
        break;
      }
      int step = m.group(3) == null ? 1 : Integer.parseInt(m.group(3));
      most +=
          step < 1
              ? MAX_FRAMES + 1
              : m.group(2) == null ? 1 : (number(m, 2) - number(m, 1)) / step + 1;
    }
    if (most > MAX_FRAMES) {
      parse(text);
    }
  }

  private static int number(Matcher m, int group) {
    return Integer.parseInt(m.group(group));
  }

  /**
   * Reads a range.
   *
   * @throws IllegalArgumentException if a part cannot be read, runs backwards or steps by 0, naming
   *     the part
   */
  public static FrameRange parse(String text) {
    TreeSet<Integer> frames = new TreeSet<>();
    for (String part : text.split(",", -1)) {
      Matcher m = PART.matcher(part.strip());
      if (!m.matches()) {
        throw new IllegalArgumentException(
            "frames \""
                + (part.isBlank() ? text : part.strip())
                + "\" cannot be read; write 1-48, 1-96x4 or 1,10,20-30");
      }
      int from = Integer.parseInt(m.group(1));
      int to = m.group(2) == null ? from : Integer.parseInt(m.group(2));
      int step = m.group(3) == null ? 1 : Integer.parseInt(m.group(3));
      if (to < from) {
        throw new IllegalArgumentException(
            "frames \"" + part.strip() + "\" run backwards; write " + to + "-" + from);
      }
      if (step < 1) {
        throw new IllegalArgumentException(
            "frames \"" + part.strip() + "\" need a step of 1 or more");
      }
      for (int f = from; f <= to; f += step) {
        frames.add(f);
        if (frames.size() > MAX_FRAMES) {
          throw new IllegalArgumentException(
              "frames \"" + text + "\" are more than " + MAX_FRAMES + "; split them over shots");
        }
      }
    }
    return new FrameRange(new ArrayList<>(frames));
  }

  public int first() {
    return frames.get(0);
  }

  public int last() {
    return frames.get(frames.size() - 1);
  }

  public int size() {
    return frames.size();
  }

  /** Returns the shortest way to write the range. */
  @Override
  public String toString() {
    StringBuilder s = new StringBuilder();
    int i = 0;
    while (i < frames.size()) {
      int j = i;
      int step = i + 1 < frames.size() ? frames.get(i + 1) - frames.get(i) : 1;
      while (j + 1 < frames.size() && frames.get(j + 1) - frames.get(j) == step) {
        j++;
      }
      boolean run = j - i >= 2 || (step == 1 && j > i);
      s.append(s.length() == 0 ? "" : ",").append(frames.get(i));
      if (run) {
        s.append('-').append(frames.get(j));
        if (step > 1) {
          s.append('x').append(step);
        }
        i = j + 1;
      } else {
        i++;
      }
    }
    return s.toString();
  }

  /**
   * Returns the frames that an animation covers: from the first frame at or after its start to the
   * last at or before its end. Keys that miss a frame by less than a thousandth of one count as on
   * it.
   *
   * @param start seconds
   * @param end seconds, not before start
   * @param rate frames per second
   */
  public static FrameRange ofAnimation(double start, double end, double rate) {
    int first = (int) Math.max(0, Math.ceil(start * rate - 1e-3));
    int last = (int) Math.min((double) first + MAX_FRAMES - 1, Math.floor(end * rate + 1e-3));
    List<Integer> frames = new ArrayList<>();
    for (int f = first; f <= Math.max(first, last); f++) {
      frames.add(f);
    }
    return new FrameRange(frames);
  }
}
