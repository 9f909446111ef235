package posada.formats.gltf;

import java.util.List;
import java.util.Map;
import java.util.function.Function;
import posada.core.scene.Material.Anisotropy;
import posada.core.scene.Material.Coat;
import posada.core.scene.Material.NormalMap;
import posada.core.scene.Material.Sheen;
import posada.core.scene.Material.Specular;
import posada.core.scene.Material.Transmission;
import posada.core.scene.MaterialBuilder;
import posada.core.scene.TextureUse;

/** Reads the ratified extensions of one material; numbers outside their range are clamped. */
final class ExtensionReader {
  private final Map<String, Object> extensions;
  private final Function<Map<?, ?>, TextureUse> textures;

  ExtensionReader(Map<String, Object> extensions, Function<Map<?, ?>, TextureUse> textures) {
    this.extensions = extensions == null ? Map.of() : extensions;
    this.textures = textures;
  }

  void fill(MaterialBuilder b) {
    b.unlit(extensions.containsKey("KHR_materials_unlit"));
    specular(b);
    transmission(b);
    Map<?, ?> c = extension("KHR_materials_clearcoat");
    b.coat(
        new Coat(
            unit(c, "clearcoatFactor", 0),
            texture(c, "clearcoatTexture"),
            unit(c, "clearcoatRoughnessFactor", 0),
            texture(c, "clearcoatRoughnessTexture"),
            normal(c.get("clearcoatNormalTexture"))));
    Map<?, ?> s = extension("KHR_materials_sheen");
    b.sheen(
        new Sheen(
            color(s, "sheenColorFactor", 0, 1),
            texture(s, "sheenColorTexture"),
            unit(s, "sheenRoughnessFactor", 0),
            texture(s, "sheenRoughnessTexture")));
    Map<?, ?> a = extension("KHR_materials_anisotropy");
    b.anisotropy(
        new Anisotropy(
            unit(a, "anisotropyStrength", 0),
            (float) NodeReader.number(a.get("anisotropyRotation"), 0),
            texture(a, "anisotropyTexture")));
  }

  private void specular(MaterialBuilder b) {
    double ior = NodeReader.number(extension("KHR_materials_ior").get("ior"), 1.5);
    Map<?, ?> s = extension("KHR_materials_specular");
    b.specular(
        new Specular(
            ior == 0 ? 0 : (float) Math.max(1, Math.min(100, ior)),
            unit(s, "specularFactor", 1),
            texture(s, "specularTexture"),
            color(s, "specularColorFactor", 1, 1e6f),
            texture(s, "specularColorTexture")));
  }

  private void transmission(MaterialBuilder b) {
    Map<?, ?> t = extension("KHR_materials_transmission");
    Map<?, ?> v = extension("KHR_materials_volume");
    double distance = NodeReader.number(v.get("attenuationDistance"), Double.POSITIVE_INFINITY);
    b.transmission(
        new Transmission(
            unit(t, "transmissionFactor", 0),
            texture(t, "transmissionTexture"),
            (float) Math.max(0, NodeReader.number(v.get("thicknessFactor"), 0)),
            color(v, "attenuationColor", 1, 1),
            distance > 0 ? (float) distance : Float.POSITIVE_INFINITY));
  }

  private Map<?, ?> extension(String name) {
    return extensions.get(name) instanceof Map<?, ?> m ? m : Map.of();
  }

  private static float unit(Map<?, ?> m, String key, double otherwise) {
    return (float) Math.max(0, Math.min(1, NodeReader.number(m.get(key), otherwise)));
  }

  private static float[] color(Map<?, ?> m, String key, float otherwise, float most) {
    float[] c = {otherwise, otherwise, otherwise};
    if (m.get(key) instanceof List<?> l && l.size() >= 3) {
      for (int k = 0; k < 3; k++) {
        c[k] = (float) Math.max(0, Math.min(most, NodeReader.number(l.get(k), otherwise)));
      }
    }
    return c;
  }

  private TextureUse texture(Map<?, ?> m, String key) {
    return m.get(key) instanceof Map<?, ?> t ? textures.apply(t) : null;
  }

  private NormalMap normal(Object o) {
    if (!(o instanceof Map<?, ?> t)) {
      return null;
    }
    TextureUse use = textures.apply(t);
    return use == null ? null : new NormalMap(use, (float) NodeReader.number(t.get("scale"), 1));
  }
}
