package posada.server.ledger;

import java.util.List;
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
}
