package posada.core.scene;

import posada.core.image.TexelImage;

/**
 * An image with its way of repeating and of filling in between texels.
 *
 * <p>What lies further away than its texels can show is always read from prefiltered levels, so
 * that it does not boil; the modes choose how a level is read.
 *
 * @param image texels; shared between textures of the same image
 * @param nearest true if a magnified texel keeps its edges, else neighbours are blended
 * @param nearestFar the same for texels that are smaller than a pixel
 * @param nearestLevel true if one prefiltered level is read, else the two around the footprint
 */
public record Texture(
    String name,
    TexelImage image,
    Wrap wrapU,
    Wrap wrapV,
    boolean nearest,
    boolean nearestFar,
    boolean nearestLevel) {
  /** What happens outside 0 .. 1. */
  public enum Wrap {
    REPEAT,
    MIRROR,
    CLAMP
  }
}
