/** Vectors, affine transforms, bounds and bounding volume hierarchies. Knows nothing above it. */
package posada.core.geometry;
