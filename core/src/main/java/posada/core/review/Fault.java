package posada.core.review;

import java.util.List;
import posada.core.review.FrameLook.Box;

/**
 * Something in a sequence that somebody should look at.
 *
 * @param frames where it is
 * @param text a sentence
 * @param box where in the picture it is; null if it is all of it, or nowhere
 * @param value the figure that was found
 */
public record Fault(Kind kind, List<Integer> frames, String text, Box box, double value) {
  /** What it is. */
  public enum Kind {
    MISSING,
    DAMAGED,
    SIZE,
    CHANNELS,
    BLACK,
    WHITE,
    UNCHANGED,
    NOT_A_NUMBER,
    NEGATIVE,
    FIREFLY,
    FLICKER,
    JUMP,
    CLIPPED,
    PARTS,
    HOLES,
    FRINGE,
    NOISE,
    BANDING,
    RATE,
    PADDING,
    LEDGER
  }

  public Fault {
    frames = List.copyOf(frames);
  }
}
