package posada.core.material;

import java.util.concurrent.ConcurrentHashMap;
import posada.core.parallel.Workers;

/**
 * What one bounce at a rough border of two clear media reflects and lets through together, over
 * roughness and angle, seen from outside and from inside. Made once for each index of refraction.
 */
final class GlassTable {
  private static final int COSINES = 64;
  private static final int ROUGHNESSES = 33;
  private static final int MOST = 64;
  private static final ConcurrentHashMap<Integer, GlassTable> MADE = new ConcurrentHashMap<>();

  private final Grid[] sent = new Grid[2];
  private final Grid[] mean = new Grid[2];

  /** Returns the table of an index, to a thousandth. */
  static GlassTable of(float ior) {
    GlassTable t = MADE.get(key(ior));
    return t == null ? prepare(ior, Workers.CALLER) : t;
  }

  /** Makes the table unless it is there; a check of the workers that throws leaves it unmade. */
  static GlassTable prepare(float ior, Workers workers) {
    int key = key(ior);
    GlassTable t = MADE.get(key);
    if (t != null) {
      return t;
    }
    t = new GlassTable(key / 1000f, workers);
    if (MADE.size() > MOST) {
      MADE.clear();
    }
    GlassTable other = MADE.putIfAbsent(key, t);
    return other == null ? t : other;
  }

  private static int key(float ior) {
    return Math.round(ior * 1000);
  }

  private GlassTable(float ior, Workers workers) {
    for (int side = 0; side < 2; side++) {
      sent[side] = new Grid(ROUGHNESSES, COSINES);
      mean[side] = new Grid(ROUGHNESSES);
    }
    workers.each(2 * ROUGHNESSES, i -> row(i % 2, i / 2, i % 2 == 0 ? ior : 1 / ior));
    workers.each(2 * ROUGHNESSES, i -> mean[i % 2].set(i / 2, average(i % 2 == 0, i / 2)));
  }

  private void row(int side, int j, float eta) {
    Ggx g = new Ggx();
    float r = Math.max(Ggx.MIN_ROUGHNESS, Grid.place(j, ROUGHNESSES));
    g.set(r * r, r * r);
    for (int i = 0; i < COSINES; i++) {
      float root = Math.max(0.25f, i) / (COSINES - 1);
      sent[side].set(j * COSINES + i, entry(g, root * root, eta));
    }
  }

  private double average(boolean outside, int j) {
    double sum = 0;
    int steps = 512;
    for (int k = 0; k < steps; k++) {
      float mu = (k + 0.5f) / steps;
      sum += 2 * mu * sent(outside, mu, Grid.place(j, ROUGHNESSES)) / steps;
    }
    return sum;
  }

  private static double entry(Ggx g, float mu, float eta) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - mu * mu));
    float lambda = g.lambda(sin, 0, mu);
    double sum = 0;
    for (int s = 0; s < Lattice.POINTS; s++) {
      g.sampleNormal(sin, 0, mu, Lattice.u(s), Lattice.v(s));
      float oh = sin * g.hx + mu * g.hz;
      float f = Fresnel.dielectric(oh, eta);
      float iz = 2 * oh * g.hz - mu;
      if (iz > 0) {
        float ix = 2 * oh * g.hx - sin, iy = 2 * oh * g.hy;
        sum += f * (1 + lambda) / (1 + lambda + g.lambda(ix, iy, iz));
      }
      float cos2 = 1 - (1 - oh * oh) / (eta * eta);
      if (f < 1 && cos2 > 0) {
        float k = oh / eta - (float) Math.sqrt(cos2);
        float tx = k * g.hx - sin / eta, ty = k * g.hy, tz = k * g.hz - mu / eta;
        if (tz < 0) {
          sum += (1 - f) / (1 + g.lambda(tx, ty, tz));
        }
      }
    }
    return sum / (Lattice.POINTS);
  }

  float sent(boolean outside, float mu, float roughness) {
    return sent[outside ? 0 : 1].at(roughness, (float) Math.sqrt(Math.max(0, mu)));
  }

  float mean(boolean outside, float roughness) {
    return mean[outside ? 0 : 1].at(roughness);
  }
}
