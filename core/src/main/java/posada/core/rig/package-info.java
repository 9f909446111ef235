/**
 * What a production adds to a scene without touching its file: cameras and their moves, lights,
 * changes of objects and materials. All of it becomes nodes, keys and materials of the scene, so
 * that it is rendered exactly like what came in the file. Uses {@code scene}, {@code motion} and
 * {@code geometry}.
 */
package posada.core.rig;
