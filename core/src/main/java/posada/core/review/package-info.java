/** Looks at finished sequences for what tired eyes miss: each check a figure for each frame. */
package posada.core.review;
