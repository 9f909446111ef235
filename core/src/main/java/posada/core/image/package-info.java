/**
 * Float pictures by named channel, colour encodings and view transforms. Knows nothing above it.
 */
package posada.core.image;
