/**
 * Evaluating a scene at a time: animation keys after glTF 2.0 and the world transform of each node.
 * Uses {@code scene} and {@code geometry}.
 */
package posada.core.motion;
