/** Productions: the folders of work, each with a frame rate and a default size. */
package posada.server.productions;
