/** Filling the points of baked light, and finding out what would make them wrong. */
package posada.core.trace.bake;
