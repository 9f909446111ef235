/**
 * The scene placed for one frame: meshes and their hierarchies, instances, lights, looks, the view.
 * Built once for a frame, read by all threads.
 */
package posada.core.trace.stage;
