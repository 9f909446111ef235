/** The station where a lead decides how well strands are rendered. */
package posada.server.quality;
