package posada.core.material;

import posada.core.geometry.Trig;

/**
 * The GGX distribution of facets in the local frame (+Z is the normal), stretched along x and y by
 * its own width each. Scratch of one thread.
 *
 * <p>Source: B. Walter et al., "Microfacet Models for Refraction through Rough Surfaces", 2007; E.
 * Heitz, "Understanding the Masking-Shadowing Function", JCGT 3(2), 2014, for the stretched form
 * and for shadowing that depends on height.
 */
final class Ggx {
  /**
   * Below this perceptual roughness a surface is treated as this rough, so densities stay finite: a
   * mirror image is then blurred by a twentieth of a degree.
   */
  static final float MIN_ROUGHNESS = 0.03f;

  private static final float MIN_COSINE = 1e-6f;

  /** Widths along x and y: squared perceptual roughness. */
  float ax, ay;

  /** The last chosen facet normal. */
  float hx, hy, hz;

  void set(float ax, float ay) {
    this.ax = ax;
    this.ay = ay;
  }

  /**
   * Chooses a facet normal visible from a direction.
   *
   * <p>Source: J. Dupuy and A. Benyoub, "Sampling Visible GGX Normals with Spherical Caps", 2023.
   *
   * @param oz cosine of the view direction, above 0; likewise ox, oy
   */
  void sampleNormal(float ox, float oy, float oz, float u, float v) {
    float wx = ox * ax, wy = oy * ay, wz = oz;
    float l = 1 / (float) Math.sqrt(wx * wx + wy * wy + wz * wz);
    wx *= l;
    wy *= l;
    wz *= l;
    float z = (1 - v) * (1 + wz) - wz;
    float s = (float) Math.sqrt(Math.max(0, 1 - z * z));
    float x = (s * Trig.cosTurns(u) + wx) * ax;
    float y = (s * Trig.sinTurns(u) + wy) * ay;
    float up = Math.max(1e-7f, z + wz);
    float n = 1 / (float) Math.sqrt(x * x + y * y + up * up);
    hx = x * n;
    hy = y * n;
    hz = up * n;
  }

  /** Returns D, the share of facets for each steradian around a normal of unit length. */
  float distribution(float hx, float hy, float hz) {
    float x = hx / ax, y = hy / ay;
    float d = x * x + y * y + hz * hz;
    return 1 / ((float) Math.PI * ax * ay * d * d);
  }

  /** Returns Smith's Lambda of a unit direction, either side. */
  float lambda(float x, float y, float z) {
    float c = Math.max(MIN_COSINE, z * z);
    float px = ax * x, py = ay * y;
    return 0.5f * ((float) Math.sqrt(1 + (px * px + py * py) / c) - 1);
  }

  /** Returns the angle part of Schlick's Fresnel approximation, {@code (1 - cos)^5}. */
  static float schlick(float cos) {
    float m = Math.max(0, 1 - cos);
    float m2 = m * m;
    return m2 * m2 * m;
  }
}
