/** The strands of a production as they would be rendered now, and what is wrong with them. */
package posada.server.board;
