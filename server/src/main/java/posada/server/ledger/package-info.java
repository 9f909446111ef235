/**
 * The record, per frame of a strand, of what it was made from and what was written; it outlives
 * runs, and says which frames are fresh.
 */
package posada.server.ledger;
