package posada.formats.gltf;

import java.util.HashMap;
import java.util.Map;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import posada.core.scene.Property;
import posada.core.scene.TextureSlot;

/**
 * Where the pointers of KHR_animation_pointer lead.
 *
 * <p>Source: glTF 2.0 Object Model (Khronos), "Core pointers" and the extensions' own.
 */
final class Pointers {
  /** A part of the file that has numbered entries of one kind. */
  enum Part {
    NODE("/nodes/", "node"),
    CAMERA("/cameras/", "camera"),
    LIGHT("/extensions/KHR_lights_punctual/lights/", "light"),
    MATERIAL("/materials/", "material");

    private final Pattern pattern;

    /** What one is called. */
    final String name;

    Part(String prefix, String name) {
      pattern = Pattern.compile(Pattern.quote(prefix) + "(\\d{1,9})/(.+)");
      this.name = name;
    }
  }

  /**
   * A pointer taken apart.
   *
   * @param index number of the node, camera, light or material in the file
   * @param rest what follows: names between slashes
   */
  record Place(Part part, int index, String rest) {
    /** Returns what a pointer leads to; null if it leads to no part that may be animated. */
    static Place of(String pointer) {
      for (Part p : Part.values()) {
        Matcher m = p.pattern.matcher(pointer);
        if (m.matches()) {
          return new Place(p, Integer.parseInt(m.group(1)), m.group(2));
        }
      }
      return null;
    }

    /** Returns the property of a camera, light or material; null if it is none that is read. */
    Target target() {
      return switch (part) {
        case NODE -> null;
        case CAMERA -> CAMERAS.get(rest);
        case LIGHT -> LIGHTS.get(rest);
        case MATERIAL -> MATERIALS.get(rest);
      };
    }
  }

  /**
   * @param slot for a property of textures; else null
   * @param factor true if the keys hold a factor on the property's value
   */
  record Target(Property property, TextureSlot slot, boolean factor) {
    /** Returns how many numbers a key has. */
    int width() {
      return factor ? 1 : property.width();
    }
  }

  private static final Map<String, Target> CAMERAS =
      Map.of(
          "perspective/yfov", to(Property.VIEW_ANGLE),
          "orthographic/ymag", to(Property.VIEW_HEIGHT));

  private static final Map<String, Target> LIGHTS =
      Map.of(
          "color", to(Property.LIGHT_COLOR),
          "intensity", to(Property.LIGHT_INTENSITY),
          "range", to(Property.LIGHT_RANGE),
          "spot/innerConeAngle", to(Property.SPOT_INNER_ANGLE),
          "spot/outerConeAngle", to(Property.SPOT_OUTER_ANGLE));

  private static final String EXTENSION = "extensions/KHR_materials_";

  private static final Map<String, Target> MATERIALS = materials();

  private Pointers() {}

  private static Target to(Property p) {
    return new Target(p, null, false);
  }

  private static Map<String, Target> materials() {
    Map<String, Target> all = new HashMap<>();
    all.put("pbrMetallicRoughness/baseColorFactor", to(Property.BASE_COLOR));
    all.put("pbrMetallicRoughness/metallicFactor", to(Property.METALLIC));
    all.put("pbrMetallicRoughness/roughnessFactor", to(Property.ROUGHNESS));
    all.put("normalTexture/scale", to(Property.NORMAL_SCALE));
    all.put("emissiveFactor", to(Property.EMISSION));
    all.put("alphaCutoff", to(Property.ALPHA_CUTOFF));
    all.put(
        EXTENSION + "emissive_strength/emissiveStrength",
        new Target(Property.EMISSION, null, true));
    all.put(EXTENSION + "ior/ior", to(Property.IOR));
    all.put(EXTENSION + "specular/specularFactor", to(Property.SPECULAR));
    all.put(EXTENSION + "specular/specularColorFactor", to(Property.SPECULAR_COLOR));
    all.put(EXTENSION + "transmission/transmissionFactor", to(Property.TRANSMISSION));
    all.put(EXTENSION + "volume/thicknessFactor", to(Property.THICKNESS));
    all.put(EXTENSION + "volume/attenuationColor", to(Property.ATTENUATION_COLOR));
    all.put(EXTENSION + "volume/attenuationDistance", to(Property.ATTENUATION_DISTANCE));
    all.put(EXTENSION + "clearcoat/clearcoatFactor", to(Property.COAT));
    all.put(EXTENSION + "clearcoat/clearcoatRoughnessFactor", to(Property.COAT_ROUGHNESS));
    all.put(EXTENSION + "clearcoat/clearcoatNormalTexture/scale", to(Property.COAT_NORMAL_SCALE));
    all.put(EXTENSION + "sheen/sheenColorFactor", to(Property.SHEEN_COLOR));
    all.put(EXTENSION + "sheen/sheenRoughnessFactor", to(Property.SHEEN_ROUGHNESS));
    all.put(EXTENSION + "anisotropy/anisotropyStrength", to(Property.ANISOTROPY));
    all.put(EXTENSION + "anisotropy/anisotropyRotation", to(Property.ANISOTROPY_ROTATION));
    for (TextureSlot slot : TextureSlot.values()) {
      String at = texture(slot) + "/extensions/KHR_texture_transform/";
      all.put(at + "offset", new Target(Property.TEXTURE_OFFSET, slot, false));
      all.put(at + "rotation", new Target(Property.TEXTURE_ROTATION, slot, false));
      all.put(at + "scale", new Target(Property.TEXTURE_SCALE, slot, false));
    }
    return all;
  }

  private static String texture(TextureSlot slot) {
    return switch (slot) {
      case BASE -> "pbrMetallicRoughness/baseColorTexture";
      case METALLIC_ROUGHNESS -> "pbrMetallicRoughness/metallicRoughnessTexture";
      case NORMAL -> "normalTexture";
      case EMISSION -> "emissiveTexture";
      case SPECULAR -> EXTENSION + "specular/specularTexture";
      case SPECULAR_COLOR -> EXTENSION + "specular/specularColorTexture";
      case TRANSMISSION -> EXTENSION + "transmission/transmissionTexture";
      case COAT -> EXTENSION + "clearcoat/clearcoatTexture";
      case COAT_ROUGHNESS -> EXTENSION + "clearcoat/clearcoatRoughnessTexture";
      case COAT_NORMAL -> EXTENSION + "clearcoat/clearcoatNormalTexture";
      case SHEEN -> EXTENSION + "sheen/sheenColorTexture";
      case SHEEN_ROUGHNESS -> EXTENSION + "sheen/sheenRoughnessTexture";
      case ANISOTROPY -> EXTENSION + "anisotropy/anisotropyTexture";
    };
  }
}
