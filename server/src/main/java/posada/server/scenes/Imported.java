package posada.server.scenes;

import java.util.List;

/**
 * A revision that was imported or taken.
 *
 * @param unfit what could not follow it, each with the reason
 * @param waiting true if it is still to be looked at and taken
 */
public record Imported(Revision revision, List<String> unfit, boolean waiting) {}
