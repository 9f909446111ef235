package posada.server.proofs;

import io.swagger.v3.oas.annotations.media.Schema;
import java.util.List;
import posada.formats.ledger.Standing;

/**
 * The proof of a strand.
 *
 * @param outcome of all its frames together
 * @param frames that were chosen for it, in order; none if there is no proof
 */
public record StrandProof(
    long productionId, long shotId, long layerId, Outcome outcome, List<Frame> frames) {
  /** How a proof stands. */
  public enum Outcome {
    NONE,
    /** Frames are missing. */
    RENDERING,
    /** Frames are there that nobody has judged. */
    TO_JUDGE,
    APPROVED,
    REJECTED,
    /** What the frames are made from has changed since. */
    STALE
  }

  /** Why a frame was chosen. */
  public enum Why {
    FIRST,
    MIDDLE,
    LAST,
    /** The one that takes longest. */
    DEAREST
  }

  /** What somebody thinks of a frame. */
  public enum Verdict {
    APPROVED,
    REJECTED
  }

  /**
   * A frame of a proof.
   *
   * @param standing of the picture against the settings
   * @param strandId of the run that wrote the picture; null if there is none
   * @param fingerprint of the picture; null likewise
   * @param seconds that it took; null if that is not known
   * @param noise of it; null likewise
   * @param verdict on this picture; null for none
   * @param note in somebody's words; null for none
   */
  public record Frame(
      int frame,
      Why why,
      Standing standing,
      @Schema(types = {"integer", "null"}) Long strandId,
      @Schema(types = {"string", "null"}) String fingerprint,
      @Schema(types = {"number", "null"}) Double seconds,
      @Schema(types = {"number", "null"}) Double noise,
      @Schema(types = {"string", "null"}) Verdict verdict,
      @Schema(types = {"string", "null"}) String note) {}

  static Outcome outcome(List<Frame> frames, boolean running) {
    if (frames.isEmpty()) {
      return Outcome.NONE;
    }
    if (frames.stream().anyMatch(f -> !f.standing.good())) {
      return running
          ? Outcome.RENDERING
          : frames.stream().allMatch(f -> f.standing == Standing.MISSING)
              ? Outcome.NONE
              : Outcome.STALE;
    }
    if (frames.stream().anyMatch(f -> f.verdict == Verdict.REJECTED)) {
      return Outcome.REJECTED;
    }
    return frames.stream().allMatch(f -> f.verdict == Verdict.APPROVED)
        ? Outcome.APPROVED
        : Outcome.TO_JUDGE;
  }
}
