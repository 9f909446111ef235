package posada.core.scene;

/**
 * A texture as one material input reads it.
 *
 * @param texture number of the texture
 * @param uvSet number of the set of coordinates, 0 or more
 * @param placement what is done to the coordinates; null for nothing
 */
public record TextureUse(int texture, int uvSet, Placement placement) {
  /**
   * Coordinates are scaled, then turned, then moved (glTF extension KHR_texture_transform).
   *
   * @param rotation radians, counter-clockwise
   */
  public record Placement(
      float offsetU, float offsetV, float rotation, float scaleU, float scaleV) {
    public static final Placement NONE = new Placement(0, 0, 0, 1, 1);

    /** Returns the rows of the 2 by 3 matrix that coordinates are multiplied by. */
    public float[] matrix() {
      double c = StrictMath.cos(rotation);
      double s = StrictMath.sin(rotation);
      return new float[] {
        (float) (c * scaleU), (float) (s * scaleV), offsetU,
        (float) (-s * scaleU), (float) (c * scaleV), offsetV
      };
    }
  }

  /** Returns this use with its coordinates placed otherwise. */
  public TextureUse placed(Placement p) {
    return new TextureUse(texture, uvSet, p);
  }
}
