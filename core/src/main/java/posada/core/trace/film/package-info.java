/**
 * What samples add up to: sums of the passes, guides of the clean-up, mattes and deep samples, and
 * the pictures made of them.
 */
package posada.core.trace.film;
