package posada.server.assembly;

import java.time.Instant;
import java.util.List;
import posada.formats.assembly.FilmDocument;

/**
 * A film, or a sequence, that is put together.
 *
 * @param done tasks that are done; one more than frames when the whole is made
 * @param failed tasks that were set aside
 * @param failure why it is not there; null if that is not so
 * @param seconds that its frames took together
 * @param said what there is to say about its inputs
 */
record Film(
    long id,
    long productionId,
    String name,
    int version,
    State state,
    FilmDocument document,
    String folder,
    int total,
    int done,
    int failed,
    String failure,
    double seconds,
    List<String> said,
    Instant startedAt) {
  /** How it stands. */
  enum State {
    RUNNING,
    FINISHED,
    FAILED,
    CANCELLED
  }

  String title() {
    return "film \"%s\" v%03d".formatted(name, version);
  }
}
