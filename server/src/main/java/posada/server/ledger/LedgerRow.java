package posada.server.ledger;

import java.util.BitSet;
import java.util.Map;
import posada.core.trace.FrameContent.Part;

/**
 * A frame of a strand in the ledger.
 *
 * @param strandId of the run that wrote its files
 * @param source the frame that was rendered for it: another one if both are made from the same
 * @param parts fingerprints of what it was made from; empty if they are not known
 * @param things key of the list of its objects and lights; null if that is not known
 * @param places of those that may move; null likewise
 * @param met numbers of the things that a ray met; null if that is not known
 * @param fingerprint that its files bear
 * @param basis of the settings with which it was last found fresh
 * @param seconds it took; null for a copy
 * @param samples of each pixel, at the most
 * @param noise of the picture; null if that is not known
 * @param bytes of its files
 * @param mark what somebody said about it; null for nothing
 * @param note why, in their words; null for nothing
 */
public record LedgerRow(
    long shotId,
    long layerId,
    int frame,
    long strandId,
    int source,
    Map<Part, String> parts,
    String things,
    long[] places,
    BitSet met,
    String fingerprint,
    String basis,
    Double seconds,
    int samples,
    Double noise,
    long bytes,
    Mark mark,
    String note) {
  /** Returns the same without what it was made from. */
  LedgerRow slim() {
    return new LedgerRow(
        shotId,
        layerId,
        frame,
        strandId,
        source,
        Map.of(),
        null,
        null,
        null,
        fingerprint,
        basis,
        seconds,
        samples,
        noise,
        bytes,
        mark,
        note);
  }

  /** What somebody said about a frame. */
  public enum Mark {
    SUSPECT,
    KEPT
  }
}
