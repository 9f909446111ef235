/**
 * What is asked for: sampling, bounces, lens, shutter, layer, passes, clean-up, limits; records
 * that refuse nonsense. Uses {@code scene}, {@code geometry} and {@code image} alone.
 */
package posada.core.settings;
