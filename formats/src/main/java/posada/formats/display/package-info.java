/** Display files (PNG) through the JDK's ImageIO. */
package posada.formats.display;
