package posada.core.image;

/**
 * A picture ready for a screen or a display file.
 *
 * @param components 1, 3 or 4 values for each pixel, alpha last and straight
 * @param samples values 0 .. 65535, row by row, top row first
 */
public record DisplayImage(int width, int height, int components, short[] samples) {}
