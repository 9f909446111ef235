/** Pictures that move, written with the libav libraries. */
package posada.formats.video;
