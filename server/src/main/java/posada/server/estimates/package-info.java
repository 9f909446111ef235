/** What strands will take, from trials of some of their frames. */
package posada.server.estimates;
