/** The command line over {@code core} and {@code formats}: works without the server. */
package posada.cli;
