package posada.formats.ledger;

import java.util.List;
import java.util.Set;
import posada.core.plan.FrameRange;

/**
 * How the frames of a strand stand against settings. Each frame's part is replaced as a whole.
 *
 * @param basis of the settings
 * @param range the frames as written
 * @param frames that are asked for, in order
 * @param of how each stands
 * @param rows what is written of it; null for nothing
 * @param reasons why it is not fresh; null for none
 */
public record Standings(
    String basis,
    String range,
    List<Integer> frames,
    Standing[] of,
    LedgerRow[] rows,
    String[] reasons) {
  /** Frames that nothing is known of yet. */
  public static Standings empty(String basis, String range) {
    List<Integer> frames = FrameRange.parse(range).frames();
    int n = frames.size();
    Standing[] all = new Standing[n];
    java.util.Arrays.fill(all, Standing.MISSING);
    return new Standings(basis, range, frames, all, new LedgerRow[n], new String[n]);
  }

  /** Returns whether what was found holds for other settings too. */
  public boolean holds(String otherBasis, String otherRange) {
    return basis.equals(otherBasis) && range.equals(otherRange);
  }

  /** Returns how many frames a run leaves as they are. */
  public int good() {
    int n = 0;
    for (Standing x : of) {
      n += x.good() ? 1 : 0;
    }
    return n;
  }

  /** Returns how many frames stand so. */
  public int count(Standing s) {
    int n = 0;
    for (Standing x : of) {
      n += x == s ? 1 : 0;
    }
    return n;
  }

  /** Returns the same with some frames sent back: they are rendered again, however they stand. */
  public Standings without(Set<Integer> some) {
    Standings s = new Standings(basis, range, frames, of.clone(), rows.clone(), reasons.clone());
    for (int i = 0; i < of.length; i++) {
      if (some.contains(frames.get(i)) && rows[i] != null) {
        s.of[i] = Standing.SUSPECT;
        s.reasons[i] = "sent back";
      }
    }
    return s;
  }

  /**
   * Takes over that a frame was written.
   *
   * @return false if that cannot be told from these
   */
  public boolean written(LedgerRow row) {
    int i = java.util.Collections.binarySearch(frames, row.frame());
    if (i < 0 || !row.basis().equals(basis)) {
      return false;
    }
    of[i] = Standing.FRESH;
    rows[i] = row.slim();
    reasons[i] = null;
    return true;
  }
}
