package posada.formats.ledger;

import java.util.BitSet;
import java.util.Map;
import posada.core.trace.FrameContent.Input;
import posada.core.trace.FrameContent.Part;
import posada.formats.job.FrameJob;

/**
 * A frame of a strand in the ledger.
 *
 * @param writer number of who wrote its files, see {@link LedgerRows#written}
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
    int frame,
    long writer,
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
  /**
   * Returns the row of a frame that was written, without what it was made from.
   *
   * @param done null if its files were there
   * @param rendered false if it got the picture of another
   */
  public static LedgerRow written(
      int frame,
      long writer,
      int source,
      String fingerprint,
      String basis,
      FrameJob.Done done,
      boolean rendered,
      long bytes) {
    double noise = done == null ? Double.NaN : done.report().noise();
    return new LedgerRow(
        frame,
        writer,
        source,
        Map.of(),
        null,
        null,
        done == null ? null : done.met(),
        fingerprint,
        basis,
        done == null || !rendered ? null : done.seconds(),
        done == null ? 0 : done.samples(),
        Double.isFinite(noise) ? noise : null,
        bytes,
        null,
        null);
  }

  /** Returns the same without what it was made from. */
  public LedgerRow slim() {
    return with(writer, Map.of(), null, null, null, basis);
  }

  /** Returns the same made from an input, whose things are kept under a key. */
  public LedgerRow of(Input input, String key) {
    return with(writer, input.parts(), key, input.places(), met, basis);
  }

  /** Returns the same found fresh with other settings. */
  public LedgerRow rebased(String other) {
    return with(writer, parts, things, places, met, other);
  }

  /** Returns the same with its files elsewhere. */
  public LedgerRow writtenBy(long other) {
    return with(other, parts, things, places, met, basis);
  }

  /** Returns the same with what somebody said about it. */
  public LedgerRow marked(Mark m, String why) {
    return new LedgerRow(
        frame,
        writer,
        source,
        parts,
        things,
        places,
        met,
        fingerprint,
        basis,
        seconds,
        samples,
        noise,
        bytes,
        m,
        why);
  }

  private LedgerRow with(
      long who, Map<Part, String> p, String key, long[] at, BitSet rays, String with) {
    return new LedgerRow(
        frame,
        who,
        source,
        p,
        key,
        at,
        rays,
        fingerprint,
        with,
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
    KEPT,
    /** Rendered again with another recipe: good while nothing else differs. */
    AGAIN
  }
}
