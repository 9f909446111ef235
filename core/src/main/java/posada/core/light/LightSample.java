package posada.core.light;

import posada.core.geometry.ShadingFrame;

/** One chosen direction towards light: scratch of one worker thread. */
public final class LightSample {
  /** Unit direction from the lit point to the light, world space. */
  public float x, y, z;

  /** Metres to the light; infinite for what is infinitely far away. */
  public float distance;

  /** Radiance over the density; for emissive triangles 1 over it, to be times the emission. */
  public float r, g, b;

  /** Density per steradian of this direction; 0 if no ray can hit the light. */
  public float density;

  /** The emissive triangle that was chosen and the weights of two corners; -1 for other lights. */
  public int triangle;

  public float u, v;

  /**
   * Node of the punctual light that was chosen, or {@link PunctualLight#SUN}, or {@link
   * #SURROUNDINGS}; says nothing for emissive triangles.
   */
  public int node;

  public static final int ENVIRONMENT = -2;

  final ShadingFrame frame = new ShadingFrame();
  final float[] scratch = new float[3];

  /** Multiplies the density by the odds of the light's choice. */
  void chosen(float odds) {
    density *= odds;
    float k = 1 / odds;
    r *= k;
    g *= k;
    b *= k;
  }
}
