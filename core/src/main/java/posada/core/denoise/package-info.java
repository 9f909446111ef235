/**
 * Taking noise out of a picture, guided by what is known about its surfaces. Knows pictures and
 * threads, not how they were rendered.
 */
package posada.core.denoise;
