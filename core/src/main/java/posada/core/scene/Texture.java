package posada.core.scene;

import posada.core.image.TexelImage;

/**
 * An image with its way of repeating.
 *
 * @param image texels; shared between textures of the same image
 */
public record Texture(String name, TexelImage image, Wrap wrapU, Wrap wrapV, boolean nearest) {
  /** What happens outside 0 .. 1. */
  public enum Wrap {
    REPEAT,
    MIRROR,
    CLAMP
  }
}
