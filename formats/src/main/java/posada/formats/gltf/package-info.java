/**
 * Reading glTF 2.0 and GLB into {@code core.scene}: lenient where a file can be mended, one clear
 * sentence where it cannot.
 */
package posada.formats.gltf;
