/** How pictures of layers are put together. */
package posada.core.assembly;
