package posada.formats.assembly;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import posada.core.assembly.Stack;
import posada.core.plan.FrameRange;
import posada.core.plan.FrameRate;
import posada.formats.video.FilmWriter;

/**
 * A film, or a sequence: everything that is needed to make it again.
 *
 * @param schema 1
 * @param version counted for each name, from 1
 * @param rate frames for each second
 * @param width pixels before it is scaled; height likewise
 * @param segments one after the other
 */
public record FilmDocument(
    int schema,
    String production,
    String name,
    int version,
    double rate,
    int width,
    int height,
    List<Segment> segments,
    FilmOutput output) {
  public static final int SCHEMA = 1;

  /** Most frames of a film. */
  private static final int MOST = 200_000;

  /**
   * A part of a film.
   *
   * @param title such as the name of a shot
   * @param stackId the stack that it is kept as; null if it is of no stack
   * @param frames of the stack that are shown, as a range
   */
  public record Segment(String title, Long stackId, Stack stack, String frames) {
    public Segment {
      FrameRange.parse(frames);
    }
  }

  /**
   * A frame of a film.
   *
   * @param number by which its file is called: of a film of one segment that of the stack, else
   *     counted from 1
   * @param frame of its segment's stack
   */
  public record Frame(int number, int segment, int frame) {}

  public FilmDocument {
    segments = List.copyOf(segments);
    if (segments.isEmpty()) {
      throw new IllegalArgumentException("a film needs at least one part");
    }
    new FrameRate(rate);
    double made = rate / gap(segments, output.step());
    if (made < 1) {
      throw new IllegalArgumentException(
          "every %d. frame of %s a second would be a film of less than one frame a second; choose a smaller step"
              .formatted(gap(segments, output.step()), rate));
    }
    if (output.kind().film() != null) {
      FilmWriter.check(even(width * output.scale() / 100.0), even(height * output.scale() / 100.0));
    }
  }

  private static int even(double pixels) {
    return FilmWriter.even(pixels + 0.5);
  }

  /** Returns how many frames of the stacks pass for each of the film: it takes as long as they. */
  private static int gap(List<Segment> segments, int step) {
    int gap = 0;
    for (Segment s : segments) {
      List<Integer> frames = FrameRange.parse(s.frames()).frames();
      for (int i = 1; i < frames.size(); i++) {
        int d = frames.get(i) - frames.get(i - 1);
        if (gap != 0 && d != gap) {
          return step; // Not evenly spaced: each stands for one.
        }
        gap = d;
      }
    }
    return Math.max(1, gap) * step;
  }

  /** Returns the frames for each second of what is made. */
  public FrameRate filmRate() {
    return new FrameRate(rate / gap(segments, output.step()));
  }

  /** Returns the width of what is made: even for films. */
  public int madeWidth() {
    return made(width);
  }

  public int madeHeight() {
    return made(height);
  }

  private int made(int side) {
    double scaled = side * output.scale() / 100.0;
    return output.kind().film() != null ? even(scaled) : Math.max(1, (int) Math.round(scaled));
  }

  /** Returns the frames in order. */
  public List<Frame> frames() {
    List<Frame> all = new ArrayList<>();
    Set<Integer> numbers = new HashSet<>();
    boolean one = segments.size() == 1;
    int k = 0;
    for (int s = 0; s < segments.size(); s++) {
      for (int f : FrameRange.parse(segments.get(s).frames()).frames()) {
        if (k++ % output.step() == 0) {
          int number = one ? f : all.size() + 1;
          if (numbers.add(number)) {
            all.add(new Frame(number, s, f));
          }
        }
        if (output.kind() == FilmOutput.Kind.STILL) {
          return all;
        }
        if (all.size() > MOST) {
          throw new IllegalArgumentException("a film has at most " + MOST + " frames");
        }
      }
    }
    return all;
  }

  /** Returns the same with other segments. */
  public FilmDocument with(List<Segment> others) {
    return new FilmDocument(schema, production, name, version, rate, width, height, others, output);
  }
}
