/**
 * The scene as a room to look around in: plain shapes in plain colours, and where everything is.
 * Uses {@code scene}, {@code motion}, {@code geometry} and {@code image}.
 */
package posada.core.space;
