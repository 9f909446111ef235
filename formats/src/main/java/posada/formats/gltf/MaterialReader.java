package posada.formats.gltf;

import de.javagl.jgltf.impl.v2.Image;
import de.javagl.jgltf.impl.v2.MaterialPbrMetallicRoughness;
import de.javagl.jgltf.impl.v2.Sampler;
import java.nio.ByteBuffer;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Set;
import javax.imageio.ImageIO;
import posada.core.image.TexelImage;
import posada.core.scene.AlphaMode;
import posada.core.scene.Material;
import posada.core.scene.Material.NormalMap;
import posada.core.scene.MaterialBuilder;
import posada.core.scene.Texture;
import posada.core.scene.Texture.Wrap;
import posada.core.scene.TextureUse;
import posada.core.scene.TextureUse.Placement;

/** Reads images, textures and metallic-roughness materials. */
final class MaterialReader {
  static final String WEBP = "EXT_texture_webp";

  private static final int NEAREST = 9728;

  /** Filters that keep a level's texels apart, and filters that read one level only. */
  private static final Set<Integer> FAR_NEAREST = Set.of(9728, 9984, 9986);

  private static final Set<Integer> LEVEL_NEAREST = Set.of(9984, 9985);

  private final GltfFile file;
  final List<Texture> textures = new ArrayList<>();

  /** What each material of the file gives off. */
  final List<Emission> emissions = new ArrayList<>();

  /**
   * What a material gives off, as the file has it.
   *
   * @param color red, green and blue
   * @param strength what the colour is multiplied by
   */
  record Emission(String material, float[] color, float strength) {}

  /** glTF texture number to the number in {@link #textures}, -1 if it could not be had. */
  private final int[] textureAt;

  MaterialReader(GltfFile file) throws ImportException {
    this.file = file;
    ImageIO.setUseCache(false);
    List<de.javagl.jgltf.impl.v2.Texture> given =
        file.gltf.getTextures() == null ? List.of() : file.gltf.getTextures();
    TexelImage[] images =
        new TexelImage[file.gltf.getImages() == null ? 0 : file.gltf.getImages().size()];
    for (int i = 0; i < images.length; i++) {
      images[i] = image(i, file.gltf.getImages().get(i));
    }
    textureAt = new int[given.size()];
    for (int i = 0; i < textureAt.length; i++) {
      TexelImage image = source(given.get(i), images);
      textureAt[i] = image != null ? textures.size() : -1;
      if (image != null) {
        textures.add(texture(given.get(i), image));
      }
    }
  }

  /** Returns a texture's image, its better packed one if there are two; null if there is none. */
  private static TexelImage source(de.javagl.jgltf.impl.v2.Texture t, TexelImage[] images) {
    Map<String, Object> extensions = t.getExtensions() == null ? Map.of() : t.getExtensions();
    if (extensions.get(WEBP) instanceof Map<?, ?> e
        && e.get("source") instanceof Integer packed
        && packed >= 0
        && packed < images.length
        && images[packed] != null) {
      return images[packed];
    }
    Integer s = t.getSource();
    return s != null && s >= 0 && s < images.length ? images[s] : null;
  }

  private Texture texture(de.javagl.jgltf.impl.v2.Texture t, TexelImage image) {
    List<Sampler> samplers = file.gltf.getSamplers();
    Integer s = t.getSampler();
    Sampler sampler =
        s == null || samplers == null || s < 0 || s >= samplers.size() ? null : samplers.get(s);
    return new Texture(
        image.name(),
        image,
        wrap(sampler == null ? null : sampler.getWrapS()),
        wrap(sampler == null ? null : sampler.getWrapT()),
        sampler != null && Integer.valueOf(NEAREST).equals(sampler.getMagFilter()),
        FAR_NEAREST.contains(far(sampler)),
        LEVEL_NEAREST.contains(far(sampler)));
  }

  private static int far(Sampler s) {
    return s == null || s.getMinFilter() == null ? 0 : s.getMinFilter();
  }

  private static Wrap wrap(Integer mode) {
    return switch (mode == null ? 10497 : mode) {
      case 33071 -> Wrap.CLAMP;
      case 33648 -> Wrap.MIRROR;
      default -> Wrap.REPEAT;
    };
  }

  private TexelImage image(int i, Image image) throws ImportException {
    String name = image.getName() != null ? image.getName() : image.getUri();
    name = name == null || name.startsWith("data:") ? "image " + i : name;
    byte[] bytes;
    if (image.getBufferView() != null) {
      ByteBuffer b = file.view(image.getBufferView(), "image " + i);
      bytes = new byte[b.limit()];
      b.get(bytes);
    } else if (image.getUri() != null) {
      bytes = file.resource(image.getUri());
      if (bytes == null) {
        return without(name, "is missing");
      }
    } else {
      return without(name, "has no data");
    }
    try {
      return TexelReader.read(name, bytes);
    } catch (TexelReader.UnreadableException e) {
      return without(name, e.getMessage());
    }
  }

  private TexelImage without(String image, String why) {
    file.remark("Image \"" + image + "\" " + why + "; materials go without it.");
    return null;
  }

  /** Returns all materials, with the standard's default one added at the end. */
  List<Material> materials() {
    List<Material> all = new ArrayList<>();
    List<de.javagl.jgltf.impl.v2.Material> given =
        file.gltf.getMaterials() == null ? List.of() : file.gltf.getMaterials();
    for (int i = 0; i < given.size(); i++) {
      all.add(material(i, given.get(i)));
    }
    all.add(Material.plain("default", 1, 1, 1, 1, 1));
    return all;
  }

  private Material material(int i, de.javagl.jgltf.impl.v2.Material m) {
    String name = m.getName() == null ? "material " + i : m.getName();
    MaterialPbrMetallicRoughness p =
        m.getPbrMetallicRoughness() == null
            ? new MaterialPbrMetallicRoughness()
            : m.getPbrMetallicRoughness();
    float[] base = {1, 1, 1, 1};
    copy(p.getBaseColorFactor(), base);
    float[] emission = new float[3];
    copy(m.getEmissiveFactor(), emission);
    float strength = emissiveStrength(m, name);
    emissions.add(new Emission(name, emission.clone(), strength));
    for (int k = 0; k < 3; k++) {
      emission[k] = Math.max(0, emission[k] * strength);
    }
    var normal = m.getNormalTexture();
    AlphaMode mode =
        switch (m.getAlphaMode() == null ? "OPAQUE" : m.getAlphaMode()) {
          case "MASK" -> AlphaMode.MASK;
          case "BLEND" -> AlphaMode.BLEND;
          default -> AlphaMode.OPAQUE;
        };
    MaterialBuilder b =
        Material.named(name)
            .base(unit(base[0]), unit(base[1]), unit(base[2]), unit(base[3]))
            .base(p.getBaseColorTexture() == null ? null : use(p.getBaseColorTexture()))
            .metallic(unit(p.getMetallicFactor()))
            .roughness(unit(p.getRoughnessFactor()))
            .metallicRoughness(
                p.getMetallicRoughnessTexture() == null
                    ? null
                    : use(p.getMetallicRoughnessTexture()))
            .emission(emission[0], emission[1], emission[2])
            .emission(m.getEmissiveTexture() == null ? null : use(m.getEmissiveTexture()))
            .alpha(mode, m.getAlphaCutoff() == null ? 0.5f : m.getAlphaCutoff())
            .doubleSided(Boolean.TRUE.equals(m.isDoubleSided()));
    if (normal != null) {
      TextureUse use = use(normal.getIndex(), normal.getTexCoord(), normal.getExtensions());
      float scale = normal.getScale() == null ? 1 : normal.getScale();
      b.normal(use == null ? null : new NormalMap(use, scale));
    }
    new ExtensionReader(m.getExtensions(), this::use).fill(b);
    return b.build();
  }

  private static float unit(Float f) {
    return f == null ? 1 : Math.max(0, Math.min(1, f));
  }

  private static void copy(float[] from, float[] to) {
    if (from != null) {
      System.arraycopy(from, 0, to, 0, Math.min(from.length, to.length));
    }
  }

  private float emissiveStrength(de.javagl.jgltf.impl.v2.Material m, String name) {
    if (m.getExtensions() == null
        || !(m.getExtensions().get("KHR_materials_emissive_strength") instanceof Map<?, ?> e)
        || !(e.get("emissiveStrength") instanceof Number n)) {
      return 1;
    }
    float f = n.floatValue();
    if (f >= 0 && f < Float.POSITIVE_INFINITY) {
      return f;
    }
    file.remark("Material \"" + name + "\" has emissive strength " + n + "; 1 is used.");
    return 1;
  }

  /** Reads a texture's use from an extension's JSON; null if there is none. */
  private TextureUse use(Map<?, ?> t) {
    if (!(t.get("index") instanceof Number index)) {
      return null;
    }
    Map<String, Object> extensions = new java.util.HashMap<>();
    if (t.get("extensions") instanceof Map<?, ?> e) {
      e.forEach((k, v) -> extensions.put(String.valueOf(k), v));
    }
    Integer set = t.get("texCoord") instanceof Number n ? n.intValue() : null;
    return use(index.intValue(), set, extensions);
  }

  private TextureUse use(de.javagl.jgltf.impl.v2.TextureInfo t) {
    return use(t.getIndex(), t.getTexCoord(), t.getExtensions());
  }

  private TextureUse use(Integer index, Integer uvSet, Map<String, Object> extensions) {
    if (index == null || index < 0 || index >= textureAt.length || textureAt[index] < 0) {
      return null;
    }
    int set = uvSet == null ? 0 : uvSet;
    Placement placement = null;
    if (extensions != null && extensions.get("KHR_texture_transform") instanceof Map<?, ?> t) {
      placement = placement(t);
      if (t.get("texCoord") instanceof Number n) {
        set = n.intValue();
      }
    }
    return new TextureUse(textureAt[index], set, placement);
  }

  private static Placement placement(Map<?, ?> t) {
    float[] offset = pair(t.get("offset"), 0);
    float[] scale = pair(t.get("scale"), 1);
    float rotation = (float) NodeReader.number(t.get("rotation"), 0);
    return new Placement(offset[0], offset[1], rotation, scale[0], scale[1]);
  }

  private static float[] pair(Object o, float otherwise) {
    if (o instanceof List<?> l
        && l.size() >= 2
        && l.get(0) instanceof Number a
        && l.get(1) instanceof Number b) {
      return new float[] {a.floatValue(), b.floatValue()};
    }
    return new float[] {otherwise, otherwise};
  }
}
