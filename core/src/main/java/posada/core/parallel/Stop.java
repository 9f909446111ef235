package posada.core.parallel;

/** Asks a render to stop, from any thread. */
public interface Stop {
  Stop NEVER = () -> false;

  boolean asked();

  /** Ends what is going on if a stop was asked for; whoever began it catches the exception. */
  default void check() {
    if (asked()) {
      throw new Stopped();
    }
  }

  /** Carries a stop out of the preparation of a frame. */
  final class Stopped extends RuntimeException {
    private static final long serialVersionUID = 1;

    Stopped() {
      super("stopped", null, false, false);
    }
  }
}
