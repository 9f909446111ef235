/**
 * Scattering functions in the local shading frame, with sampling, density and the energy tables
 * they need. Uses {@code geometry}.
 */
package posada.core.material;
