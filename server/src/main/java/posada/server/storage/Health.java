package posada.server.storage;

import io.swagger.v3.oas.annotations.media.Schema;
import posada.server.app.Pushed;

/**
 * Whether data can be kept.
 *
 * @param message a sentence that names what is wrong and the way out; null if nothing is
 * @param freeBytes on the disk of the data folder
 * @param reserveBytes of it that are kept free for the database
 */
@Pushed("health")
public record Health(
    State state,
    @Schema(types = {"string", "null"}) String message,
    long freeBytes,
    long reserveBytes) {
  /** How it stands. */
  public enum State {
    READY,
    DISK_FULL,
    DATABASE_FAILED
  }
}
