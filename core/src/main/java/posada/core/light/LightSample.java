package posada.core.light;

import posada.core.geometry.ShadingFrame;

/** One chosen direction towards light: scratch of one worker thread. */
public final class LightSample {
  /** Unit direction from the lit point to the light, world space. */
  public float x, y, z;

  /** Metres to the light; infinite for the sky and directional lights. */
  public float distance;

  /** Radiance over density. */
  public float r, g, b;

  /** Density per steradian of this direction among all lights; 0 if no ray can hit the light. */
  public float density;

  final ShadingFrame frame = new ShadingFrame();
  final float[] scratch = new float[3];
}
