/** OpenEXR 2 scanline files in plain Java: writing and bounded reading. Uses {@code core.image}. */
package posada.formats.exr;
