package posada.server.runs;

import java.util.List;

/**
 * The frames of a strand of a run in few words, since there may be very many: those that are
 * planned by now.
 *
 * @param frames as a range; empty if there is none
 * @param states a letter for each frame: W waiting, R rendering, F fresh, X failed, - left out
 * @param seconds that each took; 0 where it was not rendered
 * @param failures why frames failed, or failed before and are tried again; the first of them
 * @param newest frames that were finished last, the newest first
 */
public record StrandFrames(
    String frames, String states, double[] seconds, List<Failure> failures, List<Integer> newest) {
  /** Why a frame failed last. */
  public record Failure(int frame, int attempts, boolean setAside, String text) {}
}
