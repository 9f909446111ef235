package posada.core.scene;

/** What keys may change besides the places of nodes. */
public enum Property {
  /** Vertical angle of view of a perspective camera, radians. */
  VIEW_ANGLE(Owner.CAMERA, 1),
  /** Half the height of the view of an orthographic camera, metres. */
  VIEW_HEIGHT(Owner.CAMERA, 1),

  LIGHT_COLOR(Owner.LIGHT, 3),
  LIGHT_INTENSITY(Owner.LIGHT, 1),
  LIGHT_RANGE(Owner.LIGHT, 1),
  SPOT_INNER_ANGLE(Owner.LIGHT, 1),
  SPOT_OUTER_ANGLE(Owner.LIGHT, 1),

  BASE_COLOR(Owner.MATERIAL, 4),
  METALLIC(Owner.MATERIAL, 1),
  ROUGHNESS(Owner.MATERIAL, 1),
  NORMAL_SCALE(Owner.MATERIAL, 1),
  EMISSION(Owner.MATERIAL, 3),
  ALPHA_CUTOFF(Owner.MATERIAL, 1),
  IOR(Owner.MATERIAL, 1),
  SPECULAR(Owner.MATERIAL, 1),
  SPECULAR_COLOR(Owner.MATERIAL, 3),
  TRANSMISSION(Owner.MATERIAL, 1),
  THICKNESS(Owner.MATERIAL, 1),
  ATTENUATION_COLOR(Owner.MATERIAL, 3),
  ATTENUATION_DISTANCE(Owner.MATERIAL, 1),
  COAT(Owner.MATERIAL, 1),
  COAT_ROUGHNESS(Owner.MATERIAL, 1),
  COAT_NORMAL_SCALE(Owner.MATERIAL, 1),
  SHEEN_COLOR(Owner.MATERIAL, 3),
  SHEEN_ROUGHNESS(Owner.MATERIAL, 1),
  ANISOTROPY(Owner.MATERIAL, 1),
  ANISOTROPY_ROTATION(Owner.MATERIAL, 1),

  TEXTURE_OFFSET(Owner.TEXTURE, 2),
  TEXTURE_ROTATION(Owner.TEXTURE, 1),
  TEXTURE_SCALE(Owner.TEXTURE, 2);

  /** What has the property; textures as one slot of a material uses them. */
  public enum Owner {
    CAMERA,
    LIGHT,
    MATERIAL,
    TEXTURE
  }

  private final Owner owner;
  private final int width;

  Property(Owner owner, int width) {
    this.owner = owner;
    this.width = width;
  }

  public Owner owner() {
    return owner;
  }

  /** Returns how many numbers one value has. */
  public int width() {
    return width;
  }
}
