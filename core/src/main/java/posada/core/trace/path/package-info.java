/**
 * Light transport: following paths through a stage, the samples they take and what they carry to
 * the film.
 */
package posada.core.trace.path;
