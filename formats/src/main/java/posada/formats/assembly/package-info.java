/** Files of pictures that are put together, and films of them. */
package posada.formats.assembly;
