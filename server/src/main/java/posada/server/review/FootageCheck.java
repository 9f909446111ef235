package posada.server.review;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.ArrayList;
import java.util.List;
import posada.core.review.Fault;
import posada.core.review.FrameLook.Box;
import posada.core.review.SequenceChecks;
import posada.formats.review.SequenceCheck;

/**
 * What checks found in a sequence.
 *
 * @param frames numbers of those that were read, in order
 * @param light mean luminance of each of them
 * @param noise of each of them, share of the light
 * @param flicker of each of them, share of the light
 * @param bright single bright pixels of each of them
 * @param change of each of them from the one before, share of the light
 * @param parts how far the parts of the light are from the beauty in the worst frame, share of the
 *     light; -1 if not all are in the files
 * @param faults what somebody should look at, by frame
 */
record FootageCheck(
    List<Integer> frames,
    double[] light,
    double[] noise,
    double[] flicker,
    double[] bright,
    double[] change,
    double parts,
    List<FootageFault> faults) {
  /** What somebody said of a finding. */
  enum Word {
    FINE,
    WRONG
  }

  /**
   * What somebody said of a finding.
   *
   * @param reason in their words; may be empty
   */
  record FaultVerdict(Word word, String reason, String who) {}

  /**
   * Something to look at.
   *
   * @param text a sentence
   * @param x share of the picture's width from its left where it is; y, width and height likewise;
   *     a width of 0 if it is all of the picture, or nowhere
   * @param word what somebody said of it; null if nobody did
   * @param reason why, in their words; empty if nobody said
   * @param who said it
   */
  record FootageFault(
      Fault.Kind kind,
      List<Integer> frames,
      String text,
      double x,
      double y,
      double width,
      double height,
      @Schema(types = {"string", "null"}) Word word,
      String reason,
      String who) {
    private FootageFault with(FaultVerdict v) {
      return v == null
          ? new FootageFault(kind, frames, text, x, y, width, height, null, "", "")
          : new FootageFault(kind, frames, text, x, y, width, height, v.word, v.reason, v.who);
    }
  }

  /** Returns how many findings nobody has called fine. */
  int open() {
    return (int) faults.stream().filter(f -> f.word != Word.FINE).count();
  }

  /**
   * @param more findings beside those of the pictures
   */
  static FootageCheck of(SequenceCheck c, List<Fault> more) {
    List<FootageFault> all = new ArrayList<>();
    List<Fault> faults = new ArrayList<>(c.faults());
    faults.addAll(more);
    faults.sort(java.util.Comparator.comparing(f -> f.frames().get(0)));
    double w = Math.max(1, c.width()), h = Math.max(1, c.height());
    for (Fault f : faults) {
      Box b = f.box() == null ? new Box(0, 0, 0, 0) : f.box();
      all.add(
          new FootageFault(
              f.kind(),
              f.frames(),
              f.text(),
              b.x() / w,
              b.y() / h,
              b.width() / w,
              b.height() / h,
              null,
              "",
              ""));
    }
    SequenceChecks.Curves k = c.curves();
    return new FootageCheck(
        c.frames(), k.light(), k.noise(), k.flicker(), k.bright(), k.change(), k.parts(), all);
  }

  /** Returns the same with what was said of the findings. */
  FootageCheck with(List<CheckRepository.Said> said) {
    List<FootageFault> all = new ArrayList<>();
    for (FootageFault f : faults) {
      FaultVerdict v =
          said.stream()
              .filter(s -> s.kind() == f.kind && s.frame() == f.frames.get(0))
              .map(CheckRepository.Said::verdict)
              .findFirst()
              .orElse(null);
      all.add(f.with(v));
    }
    return new FootageCheck(frames, light, noise, flicker, bright, change, parts, all);
  }
}
