package posada.server.runs;

import posada.formats.files.Extra;

/**
 * One thing to do for a strand of a run.
 *
 * @param extra what finishing makes; null for other kinds
 * @param frame null for what is done once for the strand
 * @param source the frame that is rendered for it; null likewise
 */
public record Task(
    long id, long strandId, Kind kind, Extra extra, Integer frame, Integer source, int attempts) {
  /** What is done. */
  public enum Kind {
    /** Light that the frames of the strand wait for. */
    BAKE,
    FRAME,
    /** What is made of the frames when all are there. */
    FINISH
  }
}
