package posada.core.material;

import posada.core.geometry.Trig;

/** The GGX distribution of facets in the local frame (+Z is the normal). Scratch of one thread. */
final class Ggx {
  /**
   * Below this perceptual roughness a surface is treated as this rough, so densities stay finite.
   */
  static final float MIN_ROUGHNESS = 0.03f;

  /** The last chosen facet normal. */
  float hx, hy, hz;

  /**
   * Chooses a facet normal visible from a direction.
   *
   * <p>Source: J. Dupuy and A. Benyoub, "Sampling Visible GGX Normals with Spherical Caps", 2023.
   *
   * @param oz cosine of the view direction, above 0; likewise ox, oy
   * @param alpha squared perceptual roughness
   */
  void sampleNormal(float ox, float oy, float oz, float alpha, float u, float v) {
    float wx = ox * alpha, wy = oy * alpha, wz = oz;
    float l = 1 / (float) Math.sqrt(wx * wx + wy * wy + wz * wz);
    wx *= l;
    wy *= l;
    wz *= l;
    float z = (1 - v) * (1 + wz) - wz;
    float s = (float) Math.sqrt(Math.max(0, 1 - z * z));
    float x = (s * Trig.cosTurns(u) + wx) * alpha;
    float y = (s * Trig.sinTurns(u) + wy) * alpha;
    float up = Math.max(1e-7f, z + wz);
    float n = 1 / (float) Math.sqrt(x * x + y * y + up * up);
    hx = x * n;
    hy = y * n;
    hz = up * n;
  }

  /** Returns D, the share of facets for each steradian around a normal of cosine {@code hz}. */
  static float distribution(float hz, float alpha) {
    float a2 = alpha * alpha;
    float d = hz * hz * (a2 - 1) + 1;
    return a2 / ((float) Math.PI * d * d);
  }

  private static float lambda(float cos, float alpha) {
    float c2 = cos * cos;
    return 0.5f * ((float) Math.sqrt(1 + alpha * alpha * Math.max(0, 1 - c2) / c2) - 1);
  }

  /** Returns Smith's height-correlated G2 over G1: the weight of a sampled visible normal. */
  static float shadowing(float oz, float iz, float alpha) {
    float o = lambda(oz, alpha);
    return (1 + o) / (1 + o + lambda(iz, alpha));
  }

  /** Returns Smith's G1 of one direction. */
  static float masking(float oz, float alpha) {
    return 1 / (1 + lambda(oz, alpha));
  }

  /** Returns the angle part of Schlick's Fresnel approximation, {@code (1 - cos)^5}. */
  static float schlick(float cos) {
    float m = Math.max(0, 1 - cos);
    float m2 = m * m;
    return m2 * m2 * m;
  }
}
