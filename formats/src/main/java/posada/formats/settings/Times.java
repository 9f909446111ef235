package posada.formats.settings;

import posada.core.scene.Track;

/**
 * A time of day, or times over time.
 *
 * @param hours since midnight
 */
public record Times(Track hours) {}
