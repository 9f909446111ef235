package posada.core.scene;

/**
 * A texture as one material input reads it.
 *
 * @param texture number of the texture
 * @param uvSet 0 or 1
 * @param transform rows of the 2 by 3 matrix applied to the coordinates; null for none (glTF
 *     extension KHR_texture_transform)
 */
public record TextureUse(int texture, int uvSet, float[] transform) {}
