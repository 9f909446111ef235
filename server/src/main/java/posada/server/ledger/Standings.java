package posada.server.ledger;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
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
  static Standings empty(String basis, String range) {
    List<Integer> frames = FrameRange.parse(range).frames();
    int n = frames.size();
    Standing[] all = new Standing[n];
    java.util.Arrays.fill(all, Standing.MISSING);
    return new Standings(basis, range, frames, all, new LedgerRow[n], new String[n]);
  }

  /** Returns whether what was found holds for other settings too. */
  boolean holds(String otherBasis, String otherRange) {
    return basis.equals(otherBasis) && range.equals(otherRange);
  }

  /** Returns how many frames stand so. */
  public int count(Standing s) {
    int n = 0;
    for (Standing x : of) {
      n += x == s ? 1 : 0;
    }
    return n;
  }

  /**
   * Takes over that a frame was written.
   *
   * @return false if that cannot be told from these
   */
  boolean written(LedgerRow row) {
    int i = java.util.Collections.binarySearch(frames, row.frame());
    if (i < 0 || !row.basis().equals(basis)) {
      return false;
    }
    of[i] = Standing.FRESH;
    rows[i] = row.slim();
    reasons[i] = null;
    return true;
  }

  StrandLedger told(long production, long shot, long layer) {
    StringBuilder letters = new StringBuilder();
    double[] seconds = new double[of.length];
    long bytes = 0;
    Map<List<Object>, List<Integer>> why = new LinkedHashMap<>();
    for (int i = 0; i < of.length; i++) {
      letters.append(of[i].letter());
      if (rows[i] != null) {
        seconds[i] = rows[i].seconds() == null ? 0 : Math.round(rows[i].seconds() * 1e3) / 1e3;
        bytes += rows[i].bytes();
      }
      if (reasons[i] != null) {
        why.computeIfAbsent(List.of(reasons[i], of[i] == Standing.KEPT), x -> new ArrayList<>())
            .add(frames.get(i));
      }
    }
    List<StrandLedger.Reason> told = new ArrayList<>();
    why.forEach(
        (r, f) ->
            told.add(
                new StrandLedger.Reason(
                    (String) r.get(0), new FrameRange(f).toString(), (boolean) r.get(1))));
    return new StrandLedger(
        production, shot, layer, range, letters.toString(), seconds, bytes, told);
  }
}
