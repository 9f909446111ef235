package posada.core.material;

import posada.core.geometry.FastMath;
import posada.core.geometry.Trig;

/**
 * What one bounce of a perfect stretched GGX reflector sends back, over strength, roughness, the
 * azimuth of the view and its angle. Made when the first brushed material is met.
 */
final class BrushedTable {
  private static final int STRENGTHS = 13;
  private static final int ROUGHNESSES = 12;
  private static final int AZIMUTHS = 5;
  private static final int COSINES = 32;

  private static final class Holder {
    static final BrushedTable INSTANCE = new BrushedTable();
  }

  private final Grid sent = new Grid(STRENGTHS, ROUGHNESSES, AZIMUTHS, COSINES);
  private final Grid mean = new Grid(STRENGTHS, ROUGHNESSES);

  static BrushedTable instance() {
    return Holder.INSTANCE;
  }

  private BrushedTable() {
    Ggx g = new Ggx();
    int at = 0;
    for (int s = 0; s < STRENGTHS; s++) {
      for (int r = 0; r < ROUGHNESSES; r++) {
        float roughness = Math.max(Ggx.MIN_ROUGHNESS, Grid.place(r, ROUGHNESSES));
        widths(g, roughness, Grid.place(s, STRENGTHS));
        for (int a = 0; a < AZIMUTHS; a++) {
          for (int c = 0; c < COSINES; c++) {
            float root = Math.max(0.25f, c) / (COSINES - 1);
            sent.set(at++, entry(g, root * root, Grid.place(a, AZIMUTHS) * 0.25f));
          }
        }
      }
    }
    for (int s = 0; s < STRENGTHS; s++) {
      for (int r = 0; r < ROUGHNESSES; r++) {
        mean.set(
            s * ROUGHNESSES + r, average(Grid.place(s, STRENGTHS), Grid.place(r, ROUGHNESSES)));
      }
    }
  }

  /** Widths along tangent and bitangent (KHR_materials_anisotropy, "Implementation"). */
  static void widths(Ggx g, float roughness, float strength) {
    float alpha = roughness * roughness;
    g.set(alpha + (1 - alpha) * strength * strength, alpha);
  }

  private static double entry(Ggx g, float mu, float turns) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - mu * mu));
    float ox = sin * Trig.cosTurns(turns), oy = sin * Trig.sinTurns(turns);
    float lambda = g.lambda(ox, oy, mu);
    double sum = 0;
    for (int s = 0; s < Lattice.POINTS; s++) {
      g.sampleNormal(ox, oy, mu, Lattice.u(s), Lattice.v(s));
      float oh = ox * g.hx + oy * g.hy + mu * g.hz;
      float ix = 2 * oh * g.hx - ox, iy = 2 * oh * g.hy - oy, iz = 2 * oh * g.hz - mu;
      if (iz > 0) {
        sum += (1 + lambda) / (1 + lambda + g.lambda(ix, iy, iz));
      }
    }
    return sum / (Lattice.POINTS);
  }

  private double average(float strength, float roughness) {
    double sum = 0;
    int steps = 64;
    for (int k = 0; k < steps; k++) {
      float mu = (k + 0.5f) / steps;
      for (int a = 0; a < 8; a++) {
        float t = (a + 0.5f) / 8 * 0.25f;
        sum += 2 * mu * sent(Trig.cosTurns(t), Trig.sinTurns(t), mu, roughness, strength);
      }
    }
    return sum / (steps * 8);
  }

  /**
   * @param x part of the view along the tangent, y along the bitangent, at any length; mu its
   *     cosine
   */
  float sent(float x, float y, float mu, float roughness, float strength) {
    float quarter = 4 * FastMath.turns(Math.abs(y), Math.abs(x));
    return sent.at(strength, roughness, quarter, (float) Math.sqrt(Math.max(0, mu)));
  }

  float mean(float roughness, float strength) {
    return mean.at(strength, roughness);
  }
}
