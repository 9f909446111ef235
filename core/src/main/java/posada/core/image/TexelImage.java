package posada.core.image;

/**
 * An 8-bit image as textures read it, top row first.
 *
 * @param rgba one int for each texel: alpha, red, green, blue from the highest byte down
 */
public record TexelImage(String name, int width, int height, int[] rgba) {
  public TexelImage {
    if (width < 1 || height < 1 || rgba.length != width * height) {
      throw new IllegalArgumentException(
          "image "
              + name
              + " needs "
              + width
              + " x "
              + height
              + " texels (got "
              + rgba.length
              + ")");
    }
  }

  public long bytes() {
    return 4L * rgba.length;
  }
}
