/**
 * What of a strand is fresh, where the rest is written and what of it is made from the same: the
 * rules of the ledger over frozen documents, whoever keeps the rows.
 */
package posada.formats.ledger;
