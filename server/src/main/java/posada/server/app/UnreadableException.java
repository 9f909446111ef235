package posada.server.app;

/** Files that somebody asked for are there but cannot be read; the message is fit to be shown. */
public class UnreadableException extends RuntimeException {
  private static final long serialVersionUID = 1;

  public UnreadableException(String message) {
    super(message);
  }
}
