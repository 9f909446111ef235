package posada.core.trace;

/** A frame that cannot be rendered, with a sentence that says why and what to do. */
public final class FrameFailure extends RuntimeException {
  private static final long serialVersionUID = 1;

  private FrameFailure(String message, Throwable cause) {
    super(message, cause);
  }

  static FrameFailure memory(OutOfMemoryError e) {
    return new FrameFailure(
        "the frame needs more memory than there is; render a smaller picture or region, or give"
            + " Posada more memory",
        e);
  }

  /**
   * @param needed bytes
   * @param free bytes
   */
  static FrameFailure estimate(long needed, long free) {
    return new FrameFailure(
        String.format(
            "the frame needs about %s of memory and %s are free; render a smaller picture or"
                + " region, or give Posada more memory",
            megabytes(needed), megabytes(free)),
        null);
  }

  private static String megabytes(long bytes) {
    return Math.max(1, Math.round(bytes / 1048576.0)) + " MiB";
  }
}
