/**
 * Light that reaches a point: punctual lights, emissive triangles and the sky, each with sampling
 * and density. Uses {@code scene} and {@code geometry}.
 */
package posada.core.light;
