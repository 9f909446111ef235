/** How work is spread over threads that were handed in. Uses nothing of Posada. */
package posada.core.parallel;
