/**
 * Taking frames from the queue and rendering them; sees a run's frozen settings and the scene's
 * files and nothing else.
 */
package posada.server.workers;
