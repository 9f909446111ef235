package posada.core.trace.stage;

import java.util.Map;
import posada.core.geometry.FastMath;
import posada.core.scene.AlphaMode;
import posada.core.scene.Material;
import posada.core.scene.Material.NormalMap;
import posada.core.scene.TextureUse;
import posada.core.settings.Layer;

/** A material ready to be read: its textures found, what it can do worked out. Immutable. */
public final class Look {
  public final Material material;
  final Input base, metallicRoughness, normal, emission;
  final Input specular, specularColor, transmission, coat, coatRoughness, coatNormal;
  final Input sheen, sheenRoughness, brushed;

  /** What dielectrics reflect at normal incidence, from the index of refraction. */
  final float reflection;

  /** True if it stands for another material: colours of vertices do not count. */
  final boolean plain;

  /** False if the base texture is only read for its alpha. */
  final boolean dyed;

  public final boolean opaque;
  public final boolean emits;
  public final boolean transmits;

  /** True if light goes straight through, so that it casts no full shadow. */
  public final boolean pane;

  /** Logarithm of what a metre of the volume absorbs, for each colour; null if it is clear. */
  public final float[] absorption;

  /** A texture with the coordinates that one input reads it by. */
  static final class Input {
    final TextureMap map;
    final int uvSet;
    private final float[] m;

    /** Levels for a footprint of one texture width. */
    final float detail;

    Input(TextureMap map, TextureUse use) {
      this.map = map;
      uvSet = use.uvSet();
      m = use.placement() == null ? null : use.placement().matrix();
      double scale = m == null ? 1 : Math.abs(m[0] * m[4] - m[1] * m[3]);
      detail = map.detail() + (float) (0.5 * FastMath.log2(Math.max(1e-30, scale)));
    }

    float u(float s, float t) {
      return m == null ? s : m[0] * s + m[1] * t + m[2];
    }

    float v(float s, float t) {
      return m == null ? t : m[3] * s + m[4] * t + m[5];
    }
  }

  /**
   * @param colors textures read as colour, by number
   * @param numbers textures read as plain numbers, by number
   */
  Look(Material m, Map<Integer, TextureMap> colors, Map<Integer, TextureMap> numbers) {
    this(m, false, true, colors, numbers);
  }

  private Look(
      Material m,
      boolean plain,
      boolean dyed,
      Map<Integer, TextureMap> colors,
      Map<Integer, TextureMap> numbers) {
    material = m;
    this.plain = plain;
    this.dyed = dyed;
    base = input(m.baseTexture(), colors);
    metallicRoughness = input(m.metallicRoughnessTexture(), numbers);
    normal = input(m.normal(), numbers);
    emission = input(m.emissionTexture(), colors);
    specular = input(m.specular().texture(), numbers);
    specularColor = input(m.specular().colorTexture(), colors);
    transmission = input(m.transmission().texture(), numbers);
    coat = input(m.coat().texture(), numbers);
    coatRoughness = input(m.coat().roughnessTexture(), numbers);
    coatNormal = input(m.coat().normal(), numbers);
    sheen = input(m.sheen().texture(), colors);
    sheenRoughness = input(m.sheen().roughnessTexture(), numbers);
    brushed = input(m.anisotropy().texture(), numbers);
    float ior = m.specular().ior();
    float r = (ior - 1) / (ior + 1);
    reflection = ior == 0 ? 1 : r * r;
    opaque = m.alphaMode() == AlphaMode.OPAQUE;
    emits = m.emits() && !m.unlit();
    transmits = m.transmits();
    pane = transmits && !m.encloses() && m.roughness() <= PANE_ROUGHNESS && normal == null;
    absorption = absorption(m.transmission());
  }

  /** Returns a material's look without textures; its cut-outs stay. */
  static Look bare(Material m, Map<Integer, TextureMap> colors) {
    boolean cut = m.alphaMode() != AlphaMode.OPAQUE;
    return new Look(m, false, false, cut ? base(m, colors) : Map.of(), Map.of());
  }

  /** Returns the look of a plain material that takes cut-outs and glow over from another. */
  static Look plain(
      Layer.Plain with, Material m, boolean textures, Map<Integer, TextureMap> colors) {
    float g = (float) with.grey();
    float metal = with.kind() == Layer.Plain.Kind.METAL ? 1 : 0;
    float rough =
        switch (with.kind()) {
          case CLAY -> 1;
          case PLASTIC -> 0.25f;
          case METAL -> 0.15f;
        };
    boolean clay = with.kind() == Layer.Plain.Kind.CLAY;
    float[] white = {1, 1, 1};
    float[] e = m.unlit() ? new float[3] : m.emission();
    Material.Specular s = new Material.Specular(1.5f, clay ? 0 : 1, null, white, null);
    Material p =
        Material.named(m.name())
            .base(g, g, g, m.baseColor()[3])
            .base(m.baseTexture())
            .metallic(metal)
            .roughness(rough)
            .specular(s)
            .alpha(m.alphaMode(), m.alphaCutoff())
            .doubleSided(m.doubleSided())
            .emission(e[0], e[1], e[2])
            .emission(textures ? m.emissionTexture() : null)
            .build();
    return new Look(p, true, false, colors, Map.of());
  }

  /** Only the base texture's map, whatever else is read from the same textures. */
  private static Map<Integer, TextureMap> base(Material m, Map<Integer, TextureMap> colors) {
    if (m.baseTexture() == null || !colors.containsKey(m.baseTexture().texture())) {
      return Map.of();
    }
    int t = m.baseTexture().texture();
    return Map.of(t, colors.get(t));
  }

  /** Up to this roughness a thin wall is a window pane. */
  private static final float PANE_ROUGHNESS = 0.05f;

  private static float[] absorption(Material.Transmission t) {
    if (!(t.thickness() > 0) || t.distance() == Float.POSITIVE_INFINITY) {
      return null;
    }
    float[] a = new float[3];
    for (int k = 0; k < 3; k++) {
      a[k] = (float) (-StrictMath.log(Math.max(1e-6, t.color()[k])) / t.distance());
    }
    return a;
  }

  private static Input input(TextureUse use, Map<Integer, TextureMap> from) {
    return use == null || from.get(use.texture()) == null
        ? null
        : new Input(from.get(use.texture()), use);
  }

  private static Input input(NormalMap n, Map<Integer, TextureMap> from) {
    return n == null ? null : input(n.texture(), from);
  }

  /** Texture numbers that a material reads as colour, and as plain numbers. */
  public static void uses(
      Material m, java.util.Set<Integer> colors, java.util.Set<Integer> numbers) {
    for (TextureUse t :
        new TextureUse[] {
          m.baseTexture(), m.emissionTexture(), m.specular().colorTexture(), m.sheen().texture()
        }) {
      add(t, colors);
    }
    for (TextureUse t :
        new TextureUse[] {
          m.metallicRoughnessTexture(),
          m.normal() == null ? null : m.normal().texture(),
          m.specular().texture(),
          m.transmission().texture(),
          m.coat().texture(),
          m.coat().roughnessTexture(),
          m.coat().normal() == null ? null : m.coat().normal().texture(),
          m.sheen().roughnessTexture(),
          m.anisotropy().texture()
        }) {
      add(t, numbers);
    }
  }

  private static void add(TextureUse t, java.util.Set<Integer> to) {
    if (t != null) {
      to.add(t.texture());
    }
  }
}
