/**
 * A production as one readable file, its strands, and rendering them without a server: what is
 * fresh is left alone.
 */
package posada.formats.batch;
