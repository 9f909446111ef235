package posada.server.runs;

/**
 * One thing to do for a strand of a run.
 *
 * @param frame null for what is done once for the strand
 * @param source the frame that is rendered for it; null likewise
 */
public record Task(long id, long strandId, Kind kind, Integer frame, Integer source, int attempts) {
  /** What is done. */
  public enum Kind {
    /** Light that the frames of the strand wait for. */
    BAKE,
    FRAME
  }
}
