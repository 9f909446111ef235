/** Pictures put together from what was rendered, films of them, and what is handed over. */
package posada.server.assembly;
