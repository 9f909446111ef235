package posada.server.scenes;

import java.util.List;

/**
 * A revision that was imported.
 *
 * @param unfit shots that could not follow it, each with the reason
 */
public record Imported(Revision revision, List<String> unfit) {}
