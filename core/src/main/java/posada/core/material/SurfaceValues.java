package posada.core.material;

/**
 * A material's values at one point, textures read and mixed in. Scratch of one worker thread.
 *
 * <p>Colours are scene-linear red, green, blue.
 */
public final class SurfaceValues {
  /** Base colour, 0 .. 1. */
  public final float[] base = new float[3];

  public float metallic;

  /** Perceptual, 0 .. 1. */
  public float roughness;

  /** Index of refraction, 1 or more. */
  public float ior;

  /** Reflection of the dielectric at normal incidence for each colour, and at grazing incidence. */
  public final float[] f0 = new float[3];

  public float f90;

  /** Share of the light entering a dielectric that goes through, 0 .. 1. */
  public float transmission;

  /** True if the surface is a thin wall, false if it encloses a volume. */
  public boolean thin;

  /** Varnish: strength and perceptual roughness, 0 .. 1. */
  public float coat, coatRoughness;

  /** Normal of the varnish in the shading frame, unit length. */
  public float coatX, coatY, coatZ;

  /** Sheen colour, 0 .. 1, and perceptual roughness. */
  public final float[] sheen = new float[3];

  public float sheenRoughness;

  /** Strength of brushing along the shading frame's x axis, 0 .. 1. */
  public float brushed;

  /** Sets a plain dielectric of index 1.5 that is all base. */
  public void plain() {
    metallic = 0;
    roughness = 1;
    ior = 1.5f;
    f0[0] = f0[1] = f0[2] = 0.04f;
    f90 = 1;
    transmission = 0;
    thin = true;
    coat = 0;
    coatRoughness = 0;
    coatX = coatY = 0;
    coatZ = 1;
    sheen[0] = sheen[1] = sheen[2] = 0;
    sheenRoughness = 0;
    brushed = 0;
  }
}
