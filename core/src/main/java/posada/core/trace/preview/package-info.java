/** Quick pictures without light transport: shaded, clay, outlined, depth. */
package posada.core.trace.preview;
