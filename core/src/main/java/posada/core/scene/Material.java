package posada.core.scene;

/**
 * A metallic-roughness material after glTF 2.0, section 3.9, with the layers that its ratified
 * extensions add. Built with {@link #named}.
 *
 * @param baseColor scene-linear red, green, blue and alpha, 0 .. 1
 * @param metallic 0 .. 1
 * @param roughness perceptual, 0 .. 1
 * @param normal null for none
 * @param emission radiance, red, green, blue, 0 or more
 * @param unlit true if the base colour is shown as it is, without light (KHR_materials_unlit)
 */
public record Material(
    String name,
    float[] baseColor,
    TextureUse baseTexture,
    float metallic,
    float roughness,
    TextureUse metallicRoughnessTexture,
    NormalMap normal,
    float[] emission,
    TextureUse emissionTexture,
    AlphaMode alphaMode,
    float alphaCutoff,
    boolean doubleSided,
    boolean unlit,
    Specular specular,
    Transmission transmission,
    Coat coat,
    Sheen sheen,
    Anisotropy anisotropy) {

  /**
   * A tangent-space normal map.
   *
   * @param scale strength of its x and y
   */
  public record NormalMap(TextureUse texture, float scale) {}

  /**
   * How a dielectric reflects (KHR_materials_ior, KHR_materials_specular).
   *
   * @param ior index of refraction, 1 or more; 0 for a surface that reflects everything
   * @param factor strength, 0 .. 1, times the texture's alpha
   * @param color of the reflection at normal incidence, 0 or more, times the texture's colour
   */
  public record Specular(
      float ior, float factor, TextureUse texture, float[] color, TextureUse colorTexture) {
    public static final Specular PLAIN = new Specular(1.5f, 1, null, new float[] {1, 1, 1}, null);
  }

  /**
   * Light that passes (KHR_materials_transmission, KHR_materials_volume).
   *
   * @param factor share of the light that enters and is not scattered back, 0 .. 1
   * @param thickness metres; 0 for a thin wall, else the mesh encloses a volume
   * @param color what white light becomes after {@code distance}
   * @param distance metres; infinite for a clear volume
   */
  public record Transmission(
      float factor, TextureUse texture, float thickness, float[] color, float distance) {
    public static final Transmission NONE =
        new Transmission(0, null, 0, new float[] {1, 1, 1}, Float.POSITIVE_INFINITY);
  }

  /**
   * A clear varnish of index 1.5 (KHR_materials_clearcoat).
   *
   * @param factor 0 .. 1
   * @param roughness perceptual, 0 .. 1
   * @param normal null for the bare surface
   */
  public record Coat(
      float factor,
      TextureUse texture,
      float roughness,
      TextureUse roughnessTexture,
      NormalMap normal) {
    public static final Coat NONE = new Coat(0, null, 0, null, null);
  }

  /**
   * Fibres that stand off a cloth (KHR_materials_sheen).
   *
   * @param color 0 .. 1
   * @param roughness perceptual, 0 .. 1
   */
  public record Sheen(
      float[] color, TextureUse texture, float roughness, TextureUse roughnessTexture) {
    public static final Sheen NONE = new Sheen(new float[3], null, 0, null);
  }

  /**
   * Brushed surfaces (KHR_materials_anisotropy).
   *
   * @param strength 0 .. 1
   * @param rotation radians from the tangent, counter-clockwise
   */
  public record Anisotropy(float strength, float rotation, TextureUse texture) {
    public static final Anisotropy NONE = new Anisotropy(0, 0, null);
  }

  /** Returns a builder of a white, opaque, rough dielectric. */
  public static MaterialBuilder named(String name) {
    return new MaterialBuilder(name);
  }

  /** Returns a plain opaque material. */
  public static Material plain(
      String name, float r, float g, float b, float metallic, float roughness) {
    return named(name).base(r, g, b, 1).metallic(metallic).roughness(roughness).build();
  }

  /** Returns a builder of this material, to change parts of it. */
  public MaterialBuilder changed() {
    return new MaterialBuilder(this);
  }

  /** Returns this material giving off {@code r, g, b} of radiance. */
  public Material emitting(float r, float g, float b) {
    return changed().emission(r, g, b).build();
  }

  public boolean emits() {
    return emission[0] > 0 || emission[1] > 0 || emission[2] > 0;
  }

  /** Returns true if some rays may pass because of alpha: it is not ignored. */
  public boolean seeThrough() {
    return alphaMode != AlphaMode.OPAQUE;
  }

  /** Returns true if some light passes through the surface itself. */
  public boolean transmits() {
    return transmission.factor() > 0 && metallic < 1;
  }

  /** Returns true if the mesh encloses a volume in which light is bent and absorbed. */
  public boolean encloses() {
    return transmission.thickness() > 0;
  }
}
