package posada.server.changes;

import java.time.Instant;

/**
 * A change of one thing.
 *
 * @param step number that all changes of one request share
 * @param window that made it
 * @param before state before it; null if the thing was not there
 * @param after state after it; null if it is removed
 * @param sentence what was changed, such as {@code frames of shot valley-wide}
 */
record Change(
    long id,
    long step,
    String window,
    Instant at,
    String kind,
    long entityId,
    String before,
    String after,
    String sentence) {}
