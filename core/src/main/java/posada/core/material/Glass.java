package posada.core.material;

/**
 * The border of a clear medium, or of a thin pane of it: facets mirror a part of the light and let
 * the rest through, bent or straight on. What is lost between facets is sent on on both sides.
 *
 * <p>Source: B. Walter et al., "Microfacet Models for Refraction through Rough Surfaces", 2007
 * (radiance is not scaled by the squared index, which cancels at the exit).
 *
 * <p>Scratch of one worker thread.
 */
final class Glass {
  private static final float INV_PI = (float) (1 / Math.PI);

  /** Share of the light lost between facets that is sent on, of what reciprocity allows. */
  private static final float LOST_SENT_ON = 0.7f;

  private final ReflectionTable table = ReflectionTable.INSTANCE;
  private final Ggx ggx;

  /** How much of the surface is glass, 0 .. 1. */
  float weight;

  /** 1 if it may mirror, else 0; likewise whether it may let through. */
  float reflectGain, transmitGain;

  /** What the view direction loses between facets; what of it comes back and what goes on. */
  float lost, back, on;

  /** Of the direction evaluated last: scattering times cosine without colour, and density. */
  float scattered, density;

  /** Direction that was sampled last. */
  float x, y, z;

  /** True if that direction is on the viewer's side. */
  boolean mirrored;

  private SurfaceValues v;
  private float ox, oy, oz;
  private float roughness, lambda;

  /** Index beyond the surface over the index on this side. */
  private float eta;

  private boolean outside;
  private GlassTable lostTable;

  /**
   * @param ggx facets, as they are set for each surface
   */
  Glass(Ggx ggx) {
    this.ggx = ggx;
  }

  /**
   * @param weight how much of the surface is glass, 0 .. 1
   * @param front true if the viewer is on the outer side
   * @param lambda of the facets towards the viewer
   */
  void set(
      SurfaceValues v,
      float weight,
      Surface.Allowed allowed,
      boolean front,
      float roughness,
      float lambda,
      float ox,
      float oy,
      float oz) {
    reflectGain = allowed.specular ? 1 : 0;
    transmitGain = allowed.transmission ? 1 : 0;
    this.weight = weight > 0 && reflectGain + transmitGain > 0 ? weight : 0;
    if (this.weight == 0) {
      return;
    }
    this.v = v;
    this.roughness = roughness;
    this.lambda = lambda;
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    outside = front || v.thin;
    eta = outside ? v.ior : 1 / v.ior;
    lostTable = v.thin ? null : GlassTable.of(v.ior);
    lost = lost(outside, oz);
    if (v.thin) {
      float mean = 1 - (table.meanA(roughness) + table.meanB(roughness));
      back = mean > ReflectionTable.LEAST_LOST ? 0.5f * lost * INV_PI / mean : 0;
      on = back;
      return;
    }
    float here = 1 - lostTable.mean(outside, roughness);
    float there = 1 - lostTable.mean(!outside, roughness);
    float n2 = eta * eta;
    // Sent on in both directions alike: f / (index on the light's side)^2 is symmetric.
    float share = LOST_SENT_ON * there * n2 / Math.max(there * n2, here);
    boolean enough = here > ReflectionTable.LEAST_LOST && there > ReflectionTable.LEAST_LOST;
    back = enough ? (1 - share) * lost * INV_PI / here : 0;
    on = enough ? share * lost * INV_PI / there : 0;
  }

  /** Returns what a direction on one side loses between facets. */
  private float lost(boolean outside, float cosine) {
    return v.thin
        ? 1 - (table.a(cosine, roughness) + table.b(cosine, roughness))
        : 1 - lostTable.sent(outside, cosine, roughness);
  }

  /**
   * Evaluates a direction on the viewer's side.
   *
   * @param oh cosine between the view direction and the half vector
   * @param facets that mirror there, of all the light
   * @param d density of mirroring at all facets
   * @param through what layers above let through to what is spread evenly
   */
  void reflect(float iz, float oh, float facets, float d, float through) {
    float f = fresnel(oh);
    float even = back * Math.max(0, lost(outside, iz)) * iz * through;
    scattered = weight * reflectGain * (f * facets + even);
    density = reflectOdds(f) * d;
  }

  private float fresnel(float oh) {
    float f = Fresnel.dielectric(oh, eta);
    return f < 1 ? f * v.f90 : 1;
  }

  /** How often a facet met by a sample reflects. */
  private float reflectOdds(float f) {
    float r = f * reflectGain, t = (1 - f) * transmitGain;
    return r + t > 0 ? r / (r + t) : 0;
  }

  /**
   * Evaluates a direction beyond the surface.
   *
   * @param iz below 0
   * @param above what layers above let through
   */
  void transmit(float ix, float iy, float iz, float above) {
    density = 0;
    float facets = v.thin ? straightOn(ix, iy, iz) : bent(ix, iy, iz);
    float even = on * Math.max(0, lost(!outside, -iz)) * -iz;
    scattered = weight * transmitGain * above * (facets + even);
  }

  private float straightOn(float ix, float iy, float iz) {
    float hx = ox + ix, hy = oy + iy, hz = oz - iz;
    float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    float oh = (ox * hx + oy * hy + oz * hz) * l;
    float d = ggx.distribution(hx * l, hy * l, hz * l) / (4 * oz);
    float f = fresnel(oh);
    density = (1 - reflectOdds(f)) * d / (1 + lambda);
    return (1 - f) * d / (1 + lambda + ggx.lambda(ix, iy, iz));
  }

  private float bent(float ix, float iy, float iz) {
    float hx = ox + eta * ix, hy = oy + eta * iy, hz = oz + eta * iz;
    float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    l = hz < 0 ? -l : l;
    hx *= l;
    hy *= l;
    hz *= l;
    float oh = ox * hx + oy * hy + oz * hz;
    float ih = ix * hx + iy * hy + iz * hz;
    if (!(l < Float.POSITIVE_INFINITY && oh > 0 && ih < 0)) {
      return 0;
    }
    float sum = oh + eta * ih;
    float d = ggx.distribution(hx, hy, hz) * oh / oz * eta * eta * -ih / (sum * sum);
    float f = fresnel(oh);
    density = (1 - reflectOdds(f)) * d / (1 + lambda);
    return (1 - f) * d / ((1 + lambda) * (1 + ggx.lambda(ix, iy, iz)));
  }

  /**
   * Chooses a direction.
   *
   * @param u in [0, 1), likewise v; w chooses between both sides
   * @return false if there is none
   */
  boolean sample(float u, float v, float w) {
    ggx.sampleNormal(ox, oy, oz, u, v);
    float oh = ox * ggx.hx + oy * ggx.hy + oz * ggx.hz;
    mirrored = w < reflectOdds(fresnel(oh));
    if (mirrored || this.v.thin) {
      x = 2 * oh * ggx.hx - ox;
      y = 2 * oh * ggx.hy - oy;
      z = 2 * oh * ggx.hz - oz;
      boolean above = z > 0;
      z = mirrored ? z : -z;
      return above;
    }
    float cos2 = 1 - (1 - oh * oh) / (eta * eta);
    if (!(cos2 > 0)) {
      return false;
    }
    float k = oh / eta - (float) Math.sqrt(cos2);
    x = k * ggx.hx - ox / eta;
    y = k * ggx.hy - oy / eta;
    z = k * ggx.hz - oz / eta;
    return z < 0;
  }
}
