/** The Shots station: shots and the live picture through a shot's camera. */
package posada.server.shots;
