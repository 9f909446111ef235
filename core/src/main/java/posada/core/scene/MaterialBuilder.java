package posada.core.scene;

import posada.core.scene.Material.Anisotropy;
import posada.core.scene.Material.Coat;
import posada.core.scene.Material.NormalMap;
import posada.core.scene.Material.Sheen;
import posada.core.scene.Material.Specular;
import posada.core.scene.Material.Transmission;

/** Puts a {@link Material} together part by part; what is not said stays plain. */
public final class MaterialBuilder {
  private final String name;
  private float[] base = {1, 1, 1, 1};
  private TextureUse baseTexture;
  private float metallic;
  private float roughness = 1;
  private TextureUse metallicRoughnessTexture;
  private NormalMap normal;
  private float[] emission = new float[3];
  private TextureUse emissionTexture;
  private AlphaMode alphaMode = AlphaMode.OPAQUE;
  private float alphaCutoff = 0.5f;
  private boolean doubleSided;
  private boolean unlit;
  private Specular specular = Specular.PLAIN;
  private Transmission transmission = Transmission.NONE;
  private Coat coat = Coat.NONE;
  private Sheen sheen = Sheen.NONE;
  private Anisotropy anisotropy = Anisotropy.NONE;

  MaterialBuilder(String name) {
    this.name = name;
  }

  MaterialBuilder(Material m) {
    name = m.name();
    base = m.baseColor();
    baseTexture = m.baseTexture();
    metallic = m.metallic();
    roughness = m.roughness();
    metallicRoughnessTexture = m.metallicRoughnessTexture();
    normal = m.normal();
    emission = m.emission();
    emissionTexture = m.emissionTexture();
    alphaMode = m.alphaMode();
    alphaCutoff = m.alphaCutoff();
    doubleSided = m.doubleSided();
    unlit = m.unlit();
    specular = m.specular();
    transmission = m.transmission();
    coat = m.coat();
    sheen = m.sheen();
    anisotropy = m.anisotropy();
  }

  public MaterialBuilder base(float r, float g, float b, float a) {
    base = new float[] {r, g, b, a};
    return this;
  }

  public MaterialBuilder base(TextureUse t) {
    baseTexture = t;
    return this;
  }

  public MaterialBuilder metallic(float v) {
    metallic = v;
    return this;
  }

  public MaterialBuilder roughness(float v) {
    roughness = v;
    return this;
  }

  public MaterialBuilder metallicRoughness(TextureUse t) {
    metallicRoughnessTexture = t;
    return this;
  }

  public MaterialBuilder normal(NormalMap n) {
    normal = n;
    return this;
  }

  public MaterialBuilder emission(float r, float g, float b) {
    emission = new float[] {r, g, b};
    return this;
  }

  public MaterialBuilder emission(TextureUse t) {
    emissionTexture = t;
    return this;
  }

  public MaterialBuilder alpha(AlphaMode mode, float cutoff) {
    alphaMode = mode;
    alphaCutoff = cutoff;
    return this;
  }

  public MaterialBuilder doubleSided(boolean v) {
    doubleSided = v;
    return this;
  }

  public MaterialBuilder unlit(boolean v) {
    unlit = v;
    return this;
  }

  public MaterialBuilder specular(Specular s) {
    specular = s;
    return this;
  }

  public MaterialBuilder transmission(Transmission t) {
    transmission = t;
    return this;
  }

  public MaterialBuilder coat(Coat c) {
    coat = c;
    return this;
  }

  public MaterialBuilder sheen(Sheen s) {
    sheen = s;
    return this;
  }

  public MaterialBuilder anisotropy(Anisotropy a) {
    anisotropy = a;
    return this;
  }

  public Material build() {
    return new Material(
        name,
        base,
        baseTexture,
        metallic,
        roughness,
        metallicRoughnessTexture,
        normal,
        emission,
        emissionTexture,
        alphaMode,
        alphaCutoff,
        doubleSided,
        unlit,
        specular,
        transmission,
        coat,
        sheen,
        anisotropy);
  }
}
