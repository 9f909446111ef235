/**
 * The Run station: batches that were let go, their frozen settings, the ledger of frames and their
 * states.
 */
package posada.server.runs;
