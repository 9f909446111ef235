package posada.server.app;

/** What was asked for does not go with how things stand; the message says how and the way out. */
public class ConflictException extends RuntimeException {
  public ConflictException(String message) {
    super(message);
  }
}
