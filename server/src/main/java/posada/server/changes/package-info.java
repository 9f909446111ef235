/** What was changed, by which window, and how it is undone and done again. */
package posada.server.changes;
