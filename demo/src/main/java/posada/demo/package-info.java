/**
 * Builds the scenes of the demo production <em>Larkspur Line</em> as GLB files. May use {@code
 * core} and {@code formats}; nothing depends on it.
 */
package posada.demo;
