/** Changes of stored documents between versions, run by Flyway beside the SQL scripts. */
package db.migration;
