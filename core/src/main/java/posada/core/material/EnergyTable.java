package posada.core.material;

/**
 * How much light a GGX surface sends back in one bounce, over the cosine of the view angle and the
 * roughness, split into the part that grows with F0 and the rest: {@code E = F0 * scale + bias} for
 * Schlick's Fresnel.
 *
 * <p>Source: E. Turquin, "Practical multiple scattering compensation for microfacet models", 2019.
 * Computed once, from 1024 visible normals for each of 64 by 33 entries.
 */
final class EnergyTable {
  static final int COSINES = 64;
  static final int ROUGHNESSES = 33;
  private static final int GRID = 32;
  static final EnergyTable INSTANCE = new EnergyTable();

  private final float[] scale = new float[COSINES * ROUGHNESSES];
  private final float[] bias = new float[COSINES * ROUGHNESSES];
  private final float[] dielectricMean = new float[ROUGHNESSES];

  private EnergyTable() {
    for (int j = 0; j < ROUGHNESSES; j++) {
      float roughness = Math.max(Ggx.MIN_ROUGHNESS, j / (float) (ROUGHNESSES - 1));
      for (int i = 0; i < COSINES; i++) {
        entry(i, j, cosineOf(i), roughness * roughness);
      }
    }
    for (int j = 0; j < ROUGHNESSES; j++) {
      double sum = 0;
      int steps = 2048;
      float r = j / (float) (ROUGHNESSES - 1);
      for (int k = 0; k < steps; k++) {
        float mu = (k + 0.5f) / steps;
        sum += 2 * mu * albedo(mu, r, 0.04f) / steps;
      }
      dielectricMean[j] = (float) sum;
    }
  }

  /** Entries lie closer at grazing angles, where the albedo bends. */
  private static float cosineOf(int i) {
    float s = Math.max(0.5f, i) / (COSINES - 1);
    return s * s;
  }

  private void entry(int i, int j, float mu, float alpha) {
    Ggx g = new Ggx();
    float sin = (float) Math.sqrt(Math.max(0, 1 - mu * mu));
    double a = 0;
    double b = 0;
    for (int s = 0; s < GRID * GRID; s++) {
      float u = (s % GRID + 0.5f) / GRID;
      float v = (s / GRID + 0.5f) / GRID;
      g.sampleNormal(sin, 0, mu, alpha, u, v);
      float oh = sin * g.hx + mu * g.hz;
      float iz = 2 * oh * g.hz - mu;
      if (iz <= 0) {
        continue;
      }
      float w = Ggx.shadowing(mu, iz, alpha);
      float f = Ggx.schlick(oh);
      a += (1 - f) * w;
      b += f * w;
    }
    scale[j * COSINES + i] = (float) (a / (GRID * GRID));
    bias[j * COSINES + i] = (float) (b / (GRID * GRID));
  }

  private static float read(float[] t, float mu, float roughness) {
    float x = (float) Math.sqrt(Math.max(0, Math.min(1, mu))) * (COSINES - 1);
    float y = Math.max(0, Math.min(1, roughness)) * (ROUGHNESSES - 1);
    int i = Math.min(COSINES - 2, (int) x);
    int j = Math.min(ROUGHNESSES - 2, (int) y);
    float fx = x - i, fy = y - j;
    int o = j * COSINES + i;
    float low = t[o] + (t[o + 1] - t[o]) * fx;
    float high = t[o + COSINES] + (t[o + COSINES + 1] - t[o + COSINES]) * fx;
    return low + (high - low) * fy;
  }

  float scale(float mu, float roughness) {
    return read(scale, mu, roughness);
  }

  float bias(float mu, float roughness) {
    return read(bias, mu, roughness);
  }

  /** Returns what a surface of this F0 sends back, bounces among its facets included. */
  float albedo(float mu, float roughness, float f0) {
    float a = scale(mu, roughness);
    float b = bias(mu, roughness);
    float single = a + b;
    return (f0 * a + b) * (1 + f0 * (1 - single) / single);
  }

  /** Returns the mean of {@link #albedo} of F0 = 0.04 over cosine-weighted directions. */
  float dielectricMean(float roughness) {
    float y = Math.max(0, Math.min(1, roughness)) * (ROUGHNESSES - 1);
    int j = Math.min(ROUGHNESSES - 2, (int) y);
    return dielectricMean[j] + (dielectricMean[j + 1] - dielectricMean[j]) * (y - j);
  }
}
