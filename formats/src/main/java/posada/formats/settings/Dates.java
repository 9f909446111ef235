package posada.formats.settings;

import posada.core.scene.Track;

/**
 * A day, or days over time.
 *
 * @param days since 1 January 2000
 */
public record Dates(Track days) {}
