package posada.core.scene;

/**
 * A metallic-roughness material after glTF 2.0, section 3.9.
 *
 * @param baseColor scene-linear red, green, blue and alpha, 0 .. 1
 * @param metallic 0 .. 1
 * @param roughness perceptual, 0 .. 1
 * @param normalScale strength of the normal map
 * @param emission radiance, red, green, blue, 0 or more
 * @param unlit true if the base colour is shown as it is, without light
 */
public record Material(
    String name,
    float[] baseColor,
    TextureUse baseTexture,
    float metallic,
    float roughness,
    TextureUse metallicRoughnessTexture,
    TextureUse normalTexture,
    float normalScale,
    float[] emission,
    TextureUse emissionTexture,
    AlphaMode alphaMode,
    float alphaCutoff,
    boolean doubleSided,
    boolean unlit) {

  /** Returns a plain opaque material. */
  public static Material plain(
      String name, float r, float g, float b, float metallic, float roughness) {
    return new Material(
        name,
        new float[] {r, g, b, 1},
        null,
        metallic,
        roughness,
        null,
        null,
        1,
        new float[3],
        null,
        AlphaMode.OPAQUE,
        0.5f,
        false,
        false);
  }

  /** Returns this material giving off {@code r, g, b} of radiance. */
  public Material emitting(float r, float g, float b) {
    return new Material(
        name,
        baseColor,
        baseTexture,
        metallic,
        roughness,
        metallicRoughnessTexture,
        normalTexture,
        normalScale,
        new float[] {r, g, b},
        emissionTexture,
        alphaMode,
        alphaCutoff,
        doubleSided,
        unlit);
  }

  public boolean emits() {
    return emission[0] > 0 || emission[1] > 0 || emission[2] > 0;
  }

  /** Returns true if some rays may pass: alpha is not ignored. */
  public boolean seeThrough() {
    return alphaMode != AlphaMode.OPAQUE;
  }
}
