package posada.formats.gltf;

/**
 * A scene cannot be loaded; the message is one sentence naming the file, the element, the reason.
 */
public final class ImportException extends Exception {
  public ImportException(String message) {
    super(message);
  }
}
