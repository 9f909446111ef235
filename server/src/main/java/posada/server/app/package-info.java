/**
 * The server's frame: start-up, guarding of requests, errors as problem documents, pushed events,
 * the demo production.
 */
package posada.server.app;
