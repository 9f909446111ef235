/** What a production makes under names and uses in many places: layers, recipes, deliveries. */
package posada.server.definitions;
