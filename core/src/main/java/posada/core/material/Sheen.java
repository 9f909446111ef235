package posada.core.material;

import posada.core.geometry.FastMath;
import posada.core.geometry.Trig;

/**
 * Fibres on top of a surface, in the frame of its shading normal. They let through what they do not
 * send back.
 *
 * <p>Source: glTF's KHR_materials_sheen, section on implementation; see {@link SheenTable}.
 *
 * <p>Scratch of one worker thread.
 */
final class Sheen {
  private static final float INV_PI = (float) (1 / Math.PI);

  private final SheenTable table = SheenTable.INSTANCE;

  /** Strongest colour; 0 if there are no fibres. */
  float strength;

  /** What gets through from the view direction, and in the mean. */
  float through, mean;

  /** Density of the direction evaluated last, per steradian. */
  float density;

  /** Direction that was sampled last, or the half vector if {@link #half} is true. */
  float x, y, z;

  /** True if the direction is the one mirrored at what was sampled last. */
  boolean half;

  private float[] color;
  private float oz;
  private float roughness, alpha, exponent, lambda;

  /**
   * @param allowed false leaves them out
   * @param oz cosine of the view direction, above 0
   */
  void set(SurfaceValues v, boolean allowed, float oz) {
    this.oz = oz;
    color = v.sheen;
    strength = allowed ? Math.max(color[0], Math.max(color[1], color[2])) : 0;
    through = 1;
    if (strength > 0) {
      roughness = Math.max(SheenTable.MIN_ROUGHNESS, v.sheenRoughness);
      alpha = roughness * roughness;
      exponent = 1 / alpha;
      lambda = SheenTable.lambda(oz, alpha);
      through = through(oz);
      mean = 1 - strength * table.mean(roughness);
    }
  }

  /** Returns what gets through along a direction, where there are fibres. */
  float through(float cosine) {
    return 1 - strength * table.sent(cosine, roughness);
  }

  /**
   * Stores scattering times cosine of each colour, and the density.
   *
   * @param hz cosine of the half vector
   * @param iz cosine of the direction to the light, above 0
   */
  void evaluate(float hz, float iz, float[] out) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - hz * hz));
    float d = SheenTable.distribution(sin, exponent);
    float s = d * SheenTable.visibility(oz, iz, lambda, SheenTable.lambda(iz, alpha)) * iz;
    for (int k = 0; k < 3; k++) {
      out[k] = color[k] * s;
    }
    // Half of the samples follow the fibres, half are spread evenly.
    float oh = (oz + iz) / (2 * hz);
    density = 0.5f * (d * hz / (4 * oh) + 0.5f * INV_PI);
  }

  /**
   * Chooses a direction, or a half vector.
   *
   * @param u in [0, 1), likewise v; w chooses which
   */
  void sample(float u, float v, float w) {
    half = w >= 0.5f;
    float sin, cos;
    if (half) {
      sin = FastMath.pow(v, 1 / (exponent + 2));
      cos = (float) Math.sqrt(Math.max(0, 1 - sin * sin));
    } else {
      cos = v;
      sin = (float) Math.sqrt(Math.max(0, 1 - v * v));
    }
    x = sin * Trig.cosTurns(u);
    y = sin * Trig.sinTurns(u);
    z = cos;
  }
}
