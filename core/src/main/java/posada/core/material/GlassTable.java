package posada.core.material;

import java.util.concurrent.ConcurrentHashMap;

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
    int key = Math.round(ior * 1000);
    GlassTable t = MADE.get(key);
    if (t == null) {
      if (MADE.size() > MOST) {
        MADE.clear();
      }
      t = MADE.computeIfAbsent(key, k -> new GlassTable(k / 1000f));
    }
    return t;
  }

  private GlassTable(float ior) {
    for (int side = 0; side < 2; side++) {
      sent[side] = new Grid(ROUGHNESSES, COSINES);
      mean[side] = new Grid(ROUGHNESSES);
      float eta = side == 0 ? ior : 1 / ior;
      Ggx g = new Ggx();
      for (int j = 0; j < ROUGHNESSES; j++) {
        float r = Math.max(Ggx.MIN_ROUGHNESS, Grid.place(j, ROUGHNESSES));
        g.set(r * r, r * r);
        for (int i = 0; i < COSINES; i++) {
          float root = Math.max(0.25f, i) / (COSINES - 1);
          sent[side].set(j * COSINES + i, entry(g, root * root, eta));
        }
        double sum = 0;
        int steps = 512;
        for (int k = 0; k < steps; k++) {
          float mu = (k + 0.5f) / steps;
          sum += 2 * mu * sent(side == 0, mu, Grid.place(j, ROUGHNESSES)) / steps;
        }
        mean[side].set(j, sum);
      }
    }
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
