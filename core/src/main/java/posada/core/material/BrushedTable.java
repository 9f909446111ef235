package posada.core.material;

import java.util.concurrent.atomic.AtomicReference;
import posada.core.geometry.FastMath;
import posada.core.geometry.Trig;
import posada.core.parallel.Workers;

/**
 * What one bounce of a perfect stretched GGX reflector sends back, over strength, roughness, the
 * azimuth of the view and its angle. Made once a scene with a brushed material is opened.
 */
final class BrushedTable {
  private static final int STRENGTHS = 13;
  private static final int ROUGHNESSES = 12;
  private static final int AZIMUTHS = 5;
  private static final int COSINES = 32;

  private static final AtomicReference<BrushedTable> MADE = new AtomicReference<>();

  private final Grid sent = new Grid(STRENGTHS, ROUGHNESSES, AZIMUTHS, COSINES);
  private final Grid mean = new Grid(STRENGTHS, ROUGHNESSES);

  static BrushedTable instance() {
    BrushedTable t = MADE.get();
    return t == null ? prepare(Workers.CALLER) : t;
  }

  /** Makes the table unless it is there; a check of the workers that throws leaves it unmade. */
  static BrushedTable prepare(Workers workers) {
    if (MADE.get() == null) {
      MADE.compareAndSet(null, new BrushedTable(workers));
    }
    return MADE.get();
  }

  private BrushedTable(Workers workers) {
    workers.each(STRENGTHS * ROUGHNESSES * AZIMUTHS, this::row);
    workers.each(
        STRENGTHS * ROUGHNESSES,
        i ->
            mean.set(
                i,
                average(
                    Grid.place(i / ROUGHNESSES, STRENGTHS),
                    Grid.place(i % ROUGHNESSES, ROUGHNESSES))));
  }

  private void row(int row) {
    Ggx g = new Ggx();
    int r = row / AZIMUTHS % ROUGHNESSES;
    float roughness = Math.max(Ggx.MIN_ROUGHNESS, Grid.place(r, ROUGHNESSES));
    widths(g, roughness, Grid.place(row / AZIMUTHS / ROUGHNESSES, STRENGTHS));
    float turns = Grid.place(row % AZIMUTHS, AZIMUTHS) * 0.25f;
    for (int c = 0; c < COSINES; c++) {
      float root = Math.max(0.25f, c) / (COSINES - 1);
      sent.set(row * COSINES + c, entry(g, root * root, turns));
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
