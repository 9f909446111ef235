package posada.core.material;

import posada.core.geometry.FastMath;
import posada.core.geometry.Trig;

/**
 * How much light the fibres of a white sheen send back, over roughness and angle, and the
 * scattering function itself.
 *
 * <p>Source: A. Estevez and C. Kulla, "Production Friendly Microfacet Sheen BRDF", 2017, as glTF's
 * KHR_materials_sheen writes it down (distribution and visibility).
 */
final class SheenTable {
  /**
   * Below this perceptual roughness the model sends back more than it gets: it is taken as this.
   */
  static final float MIN_ROUGHNESS = 0.25f;

  private static final int COSINES = 64;
  private static final int ROUGHNESSES = 37;
  static final SheenTable INSTANCE = new SheenTable();

  private final Grid sent = new Grid(ROUGHNESSES, COSINES);
  private final Grid mean = new Grid(ROUGHNESSES);

  private SheenTable() {
    for (int j = 0; j < ROUGHNESSES; j++) {
      float roughness = MIN_ROUGHNESS + (1 - MIN_ROUGHNESS) * Grid.place(j, ROUGHNESSES);
      for (int i = 0; i < COSINES; i++) {
        float root = Math.max(0.2f, i) / (COSINES - 1);
        sent.set(j * COSINES + i, entry(root * root, roughness * roughness));
      }
    }
    for (int j = 0; j < ROUGHNESSES; j++) {
      float roughness = MIN_ROUGHNESS + (1 - MIN_ROUGHNESS) * Grid.place(j, ROUGHNESSES);
      double sum = 0;
      int steps = 512;
      for (int k = 0; k < steps; k++) {
        float mu = (k + 0.5f) / steps;
        sum += 2 * mu * sent(mu, roughness) / steps;
      }
      mean.set(j, sum);
    }
  }

  /** Integral over the hemisphere by facets: half vectors of the distribution times cosine. */
  private static double entry(float mu, float alpha) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - mu * mu));
    float out = lambda(mu, alpha);
    double sum = 0;
    for (int k = 0; k < Lattice.POINTS; k++) {
      float s = FastMath.pow(Lattice.v(k), 1 / (1 / alpha + 2));
      float hz = (float) Math.sqrt(Math.max(0, 1 - s * s));
      float t = Lattice.u(k);
      float oh = sin * s * Trig.cosTurns(t) + mu * hz;
      float iz = 2 * oh * hz - mu;
      if (oh > 0 && iz > 0 && hz > 0) {
        // The density of i is D hz / (4 oh).
        sum += visibility(mu, iz, out, lambda(iz, alpha)) * iz * 4 * oh / hz;
      }
    }
    return sum / Lattice.POINTS;
  }

  /** Returns D, from the sine of the angle between normal and half vector. */
  static float distribution(float sin, float exponent) {
    return (2 + exponent) / (2 * (float) Math.PI) * FastMath.pow(sin, exponent);
  }

  /** Returns the visibility term for two cosines and their {@link #lambda}. */
  static float visibility(float o, float i, float lambdaO, float lambdaI) {
    return 1 / ((1 + lambdaO + lambdaI) * 4 * o * i);
  }

  /** Returns how much fibres shadow each other at a cosine. */
  static float lambda(float cos, float alpha) {
    float t = (1 - alpha) * (1 - alpha);
    return cos < 0.5f
        ? FastMath.exp(fit(cos, t))
        : FastMath.exp(2 * fit(0.5f, t) - fit(1 - cos, t));
  }

  private static float fit(float x, float t) {
    float a = 21.5473f + (25.3245f - 21.5473f) * t;
    float b = 3.82987f + (3.32435f - 3.82987f) * t;
    float c = 0.19823f + (0.16801f - 0.19823f) * t;
    float d = -1.97760f + (-1.27393f + 1.97760f) * t;
    float e = -4.32054f + (-4.85967f + 4.32054f) * t;
    return a / (1 + b * FastMath.pow(x, c)) + d * x + e;
  }

  float sent(float mu, float roughness) {
    return sent.at(row(roughness), (float) Math.sqrt(Math.max(0, mu)));
  }

  float mean(float roughness) {
    return mean.at(row(roughness));
  }

  private static float row(float roughness) {
    return (roughness - MIN_ROUGHNESS) / (1 - MIN_ROUGHNESS);
  }
}
