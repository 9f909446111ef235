package posada.core.scene;

/**
 * A texture as one material input reads it.
 *
 * @param texture number of the texture
 * @param uvSet number of the set of coordinates, 0 or more
 * @param transform rows of the 2 by 3 matrix applied to the coordinates; null for none (glTF
 *     extension KHR_texture_transform)
 */
public record TextureUse(int texture, int uvSet, float[] transform) {}
