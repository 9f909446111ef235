/**
 * What a scene holds: nodes, meshes, materials, textures, lights, cameras and animations, as plain
 * immutable records in metres, radians and scene-linear colour. Uses {@code geometry} and {@code
 * image} only.
 */
package posada.core.scene;
