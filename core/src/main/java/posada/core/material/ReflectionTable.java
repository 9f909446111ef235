package posada.core.material;

/**
 * How much light a GGX surface sends back in one bounce, over the view angle and the roughness,
 * split into the part that goes with F0 and the part that goes with F90: {@code E = F0 * a + F90 *
 * b} for Schlick's Fresnel. With it the light that bounces on between facets is made up for.
 *
 * <p>Source: C. Kulla and A. Conty, "Revisiting Physically Based Shading at Imageworks", 2017 (the
 * lobe of what is lost, which keeps reciprocity). Computed once, from 987 visible normals for each
 * of 64 by 33 entries.
 */
final class ReflectionTable {
  private static final int COSINES = 64;
  private static final int ROUGHNESSES = 33;

  /** Below this mean loss between facets rounding would be made up for. */
  static final float LEAST_LOST = 2e-6f;

  static final ReflectionTable INSTANCE = new ReflectionTable();

  private final Grid a = new Grid(ROUGHNESSES, COSINES);
  private final Grid b = new Grid(ROUGHNESSES, COSINES);
  private final Grid meanA = new Grid(ROUGHNESSES);
  private final Grid meanB = new Grid(ROUGHNESSES);

  private ReflectionTable() {
    Ggx g = new Ggx();
    for (int j = 0; j < ROUGHNESSES; j++) {
      float r = Math.max(Ggx.MIN_ROUGHNESS, Grid.place(j, ROUGHNESSES));
      g.set(r * r, r * r);
      for (int i = 0; i < COSINES; i++) {
        entry(g, j * COSINES + i, cosineOf(i));
      }
      double sumA = 0;
      double sumB = 0;
      int steps = 2048;
      for (int k = 0; k < steps; k++) {
        float mu = (k + 0.5f) / steps;
        sumA += 2 * mu * a(mu, Grid.place(j, ROUGHNESSES)) / steps;
        sumB += 2 * mu * b(mu, Grid.place(j, ROUGHNESSES)) / steps;
      }
      meanA.set(j, sumA);
      meanB.set(j, sumB);
    }
  }

  /** Entries lie closer at grazing angles, where the albedo bends. */
  private static float cosineOf(int i) {
    float s = Math.max(0.25f, i) / (COSINES - 1);
    return s * s;
  }

  private void entry(Ggx g, int at, float mu) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - mu * mu));
    float lambda = g.lambda(sin, 0, mu);
    double withF0 = 0;
    double withF90 = 0;
    for (int s = 0; s < Lattice.POINTS; s++) {
      g.sampleNormal(sin, 0, mu, Lattice.u(s), Lattice.v(s));
      float oh = sin * g.hx + mu * g.hz;
      float ix = 2 * oh * g.hx - sin, iy = 2 * oh * g.hy, iz = 2 * oh * g.hz - mu;
      if (iz > 0) {
        float w = (1 + lambda) / (1 + lambda + g.lambda(ix, iy, iz));
        float f = Ggx.schlick(oh);
        withF0 += (1 - f) * w;
        withF90 += f * w;
      }
    }
    a.set(at, withF0 / (Lattice.POINTS));
    b.set(at, withF90 / (Lattice.POINTS));
  }

  float a(float mu, float roughness) {
    return a.at(roughness, (float) Math.sqrt(Math.max(0, mu)));
  }

  float b(float mu, float roughness) {
    return b.at(roughness, (float) Math.sqrt(Math.max(0, mu)));
  }

  float meanA(float roughness) {
    return meanA.at(roughness);
  }

  float meanB(float roughness) {
    return meanB.at(roughness);
  }

  /**
   * Returns how much of the light that is lost in one bounce comes back in further ones.
   *
   * @param f0 reflection at normal incidence, f90 at grazing incidence
   * @param mean of what one bounce of a perfect reflector sends back
   */
  static float regained(float f0, float f90, float mean) {
    float f = f0 + (f90 - f0) / 21;
    return f * f * mean / (1 - f * (1 - mean));
  }

  /** Returns all that a reflector sends back, further bounces included. */
  float albedo(float mu, float roughness, float f0, float f90) {
    float x = a(mu, roughness), y = b(mu, roughness);
    float mean = meanA(roughness) + meanB(roughness);
    return f0 * x + f90 * y + regained(f0, f90, mean) * (1 - x - y);
  }

  /** Returns the mean of {@link #albedo} over cosine-weighted directions. */
  float meanAlbedo(float roughness, float f0, float f90) {
    float x = meanA(roughness), y = meanB(roughness);
    return f0 * x + f90 * y + regained(f0, f90, x + y) * (1 - x - y);
  }
}
