package posada.core.scene;

import java.util.function.Function;
import posada.core.scene.Material.Anisotropy;
import posada.core.scene.Material.Coat;
import posada.core.scene.Material.NormalMap;
import posada.core.scene.Material.Sheen;
import posada.core.scene.Material.Specular;
import posada.core.scene.Material.Transmission;

/** The places where a material may have a texture. */
public enum TextureSlot {
  BASE(Material::baseTexture, (m, t) -> m.changed().base(t)),
  METALLIC_ROUGHNESS(
      Material::metallicRoughnessTexture, (m, t) -> m.changed().metallicRoughness(t)),
  NORMAL(m -> of(m.normal()), (m, t) -> m.changed().normal(with(m.normal(), t))),
  EMISSION(Material::emissionTexture, (m, t) -> m.changed().emission(t)),
  SPECULAR(
      m -> m.specular().texture(),
      (m, t) -> {
        Specular s = m.specular();
        return m.changed()
            .specular(new Specular(s.ior(), s.factor(), t, s.color(), s.colorTexture()));
      }),
  SPECULAR_COLOR(
      m -> m.specular().colorTexture(),
      (m, t) -> {
        Specular s = m.specular();
        return m.changed().specular(new Specular(s.ior(), s.factor(), s.texture(), s.color(), t));
      }),
  TRANSMISSION(
      m -> m.transmission().texture(),
      (m, t) -> {
        Transmission x = m.transmission();
        return m.changed()
            .transmission(new Transmission(x.factor(), t, x.thickness(), x.color(), x.distance()));
      }),
  COAT(
      m -> m.coat().texture(),
      (m, t) -> {
        Coat c = m.coat();
        return m.changed()
            .coat(new Coat(c.factor(), t, c.roughness(), c.roughnessTexture(), c.normal()));
      }),
  COAT_ROUGHNESS(
      m -> m.coat().roughnessTexture(),
      (m, t) -> {
        Coat c = m.coat();
        return m.changed().coat(new Coat(c.factor(), c.texture(), c.roughness(), t, c.normal()));
      }),
  COAT_NORMAL(
      m -> of(m.coat().normal()),
      (m, t) -> {
        Coat c = m.coat();
        NormalMap n = with(c.normal(), t);
        return m.changed()
            .coat(new Coat(c.factor(), c.texture(), c.roughness(), c.roughnessTexture(), n));
      }),
  SHEEN(
      m -> m.sheen().texture(),
      (m, t) -> {
        Sheen s = m.sheen();
        return m.changed().sheen(new Sheen(s.color(), t, s.roughness(), s.roughnessTexture()));
      }),
  SHEEN_ROUGHNESS(
      m -> m.sheen().roughnessTexture(),
      (m, t) -> {
        Sheen s = m.sheen();
        return m.changed().sheen(new Sheen(s.color(), s.texture(), s.roughness(), t));
      }),
  ANISOTROPY(
      m -> m.anisotropy().texture(),
      (m, t) -> {
        Anisotropy a = m.anisotropy();
        return m.changed().anisotropy(new Anisotropy(a.strength(), a.rotation(), t));
      });

  private interface Change {
    MaterialBuilder with(Material m, TextureUse t);
  }

  private final Function<Material, TextureUse> use;
  private final Change change;

  TextureSlot(Function<Material, TextureUse> use, Change change) {
    this.use = use;
    this.change = change;
  }

  /** Returns how a material uses a texture here; null if it does not. */
  public TextureUse of(Material m) {
    return use.apply(m);
  }

  /** Returns a material with another texture here. */
  public Material with(Material m, TextureUse t) {
    return change.with(m, t).build();
  }

  private static TextureUse of(NormalMap n) {
    return n == null ? null : n.texture();
  }

  private static NormalMap with(NormalMap n, TextureUse t) {
    return new NormalMap(t, n == null ? 1 : n.scale());
  }
}
