/** A few frames of strands, rendered with their final settings and judged before the batch. */
package posada.server.proofs;
