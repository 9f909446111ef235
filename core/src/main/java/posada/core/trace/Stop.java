package posada.core.trace;

/** Asks a render to stop, from any thread. */
public interface Stop {
  Stop NEVER = () -> false;

  boolean asked();
}
