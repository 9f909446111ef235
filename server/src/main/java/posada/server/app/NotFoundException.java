package posada.server.app;

/** What was asked for is not there; the message names it. */
public class NotFoundException extends RuntimeException {
  public NotFoundException(String message) {
    super(message);
  }
}
