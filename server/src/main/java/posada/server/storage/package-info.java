/** Where data lives on disk; the generated classes of the database. */
package posada.server.storage;
