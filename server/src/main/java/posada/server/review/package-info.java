/** The Review station: pictures of written frames and the sequence as a zip. */
package posada.server.review;
