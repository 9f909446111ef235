/**
 * What is to be rendered: frame ranges, names of files, time code and fingerprints. No input or
 * output.
 */
package posada.core.plan;
