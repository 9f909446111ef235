/**
 * The path tracer: samplers, the compiled stage, the integrator, the film and passes. Knows nothing
 * of {@code plan}.
 */
package posada.core.trace;
