package posada.server.ledger;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import posada.core.plan.FrameRange;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.Standing;
import posada.formats.ledger.Standings;
import posada.server.app.Pushed;

/**
 * How the frames of a strand stand, in few words, since there may be very many.
 *
 * @param frames as the shot asks for them
 * @param states a letter for each frame: F fresh, S stale, M missing, U suspect, K stale but kept,
 *     ? still being compared
 * @param seconds that each frame took; 0 where that is not known
 * @param bytes of all its files
 * @param reasons why frames are not fresh
 */
@Pushed("ledger")
public record StrandLedger(
    long productionId,
    long shotId,
    long layerId,
    String frames,
    String states,
    double[] seconds,
    long bytes,
    List<Reason> reasons) {
  /**
   * Why frames are not fresh.
   *
   * @param frames for which it is so, as a range
   * @param kept true if they are good enough all the same, as somebody said
   */
  public record Reason(String text, String frames, boolean kept) {}

  static StrandLedger of(long production, long shot, long layer, Standings s) {
    StringBuilder letters = new StringBuilder();
    double[] seconds = new double[s.of().length];
    long bytes = 0;
    Map<Reason, List<Integer>> why = new LinkedHashMap<>();
    for (int i = 0; i < seconds.length; i++) {
      Standing standing = s.of()[i];
      letters.append(standing.letter());
      LedgerRow row = s.rows()[i];
      if (row != null) {
        seconds[i] = row.seconds() == null ? 0 : Math.round(row.seconds() * 1e3) / 1e3;
        bytes += row.bytes();
      }
      if (s.reasons()[i] != null) {
        Reason r = new Reason(s.reasons()[i], "", standing == Standing.KEPT);
        why.computeIfAbsent(r, x -> new ArrayList<>()).add(s.frames().get(i));
      }
    }
    List<Reason> reasons = new ArrayList<>();
    why.forEach((r, f) -> reasons.add(new Reason(r.text, new FrameRange(f).toString(), r.kept)));
    return new StrandLedger(
        production, shot, layer, s.range(), letters.toString(), seconds, bytes, reasons);
  }
}
