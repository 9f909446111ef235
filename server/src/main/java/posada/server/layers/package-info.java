/** The station where a lead decides what is rendered apart. */
package posada.server.layers;
