/**
 * Baked indirect light: points on surfaces, how light between them is found, and what it depends
 * on. Uses geometry and luminance and nothing else of Posada; filling it is the path tracer's.
 */
package posada.core.irradiance;
