/**
 * Measurements of Posada: ratios taken in one run, since a shared machine makes absolute times
 * worthless. Uses {@code core}, {@code formats} and {@code demo}; nothing uses it.
 */
package posada.bench;
