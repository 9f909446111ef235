package posada.core.material;

import posada.core.geometry.FastMath;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Trig;
import posada.core.parallel.Workers;

/**
 * A surface at one point, in the local frame (+Z is the shading normal, on the viewer's side). From
 * top to bottom: sheen, varnish, and a base mixed from metal, opaque dielectric and glass. Each
 * layer lets through what it does not send back, and light that bounces on between facets is made
 * up for, so that a white surface in even light keeps all of it. All lobes are reciprocal.
 *
 * <p>Source: glTF 2.0, appendix B, and the extensions' sections on implementation (the model); C.
 * Kelemen and L. Szirmay-Kalos, "A Microfacet Based Coupled Specular-Matte BRDF Model", 2001 (base
 * under a layer); C. Kulla and A. Conty, 2017 (light lost between facets); B. Walter et al., 2007
 * (rough refraction; radiance is not scaled by the squared index, which cancels at the exit).
 *
 * <p>Scratch of one worker thread.
 */
public final class Surface {
  private static final float INV_PI = (float) (1 / Math.PI);
  private static final float COAT_F0 = 0.04f;

  /** Share of the light lost between glass facets that is sent on, of what reciprocity allows. */
  private static final float LOST_SENT_ON = 0.7f;

  /** Below this mean loss between facets rounding would be made up for. */
  private static final float LEAST_LOST = 2e-6f;

  private final ReflectionTable table = ReflectionTable.INSTANCE;
  private final SheenTable sheens = SheenTable.INSTANCE;
  private final Ggx ggx = new Ggx();
  private final Ggx coatGgx = new Ggx();
  private final ShadingFrame coatFrame = new ShadingFrame();
  private SurfaceValues v;
  private float ox, oy, oz;
  private float roughness;

  /** Weights of the base's parts; those of the opaque parts' reflection for each colour. */
  private float glass;

  private final float[] diffuse = new float[3];
  private final float[] f0 = new float[3];
  private float f90;

  /** Further bounces between facets, for each colour, without the factor that depends on i. */
  private final float[] regained = new float[3];

  private boolean brushed;
  private float lambda;
  private float meanSent;

  /** The dielectric over the diffuse base: strongest F0, and what it lets in on the way out. */
  private float coverF0, coverOut, underMean;

  /** Varnish: what it sends back of the view direction, factor and all. */
  private float coat, coatRoughness, coatThrough, coatMean, coatLambda, coatOx, coatOy, coatOz;

  /** Sheen: strongest colour times what fibres send back. */
  private float sheen, sheenRoughness, sheenAlpha, sheenExponent, sheenLambda;

  private float sheenThrough, sheenMean;

  /** Glass: index beyond the surface over the index on this side, and facets' lost light. */
  private float eta;

  private boolean outside;
  private GlassTable glassTable;
  private float glassLost, glassBack, glassOn;

  /** Odds of the lobes: cosine, specular, glass facets, glass cosine down, coat, sheen. */
  private float pCosine, pSpecular, pGlass, pDown, pCoat, pSheen;

  private float reflectGain, transmitGain;

  /** Scattering times cosine of each kind for each colour; filled by {@link #evaluate}. */
  public final float[] diffuseOut = new float[3];

  public final float[] specularOut = new float[3];
  public final float[] transmissionOut = new float[3];
  public final float[] sheenOut = new float[3];
  public final float[] coatOut = new float[3];

  /** All of them: diffuse, specular, transmission, sheen, coat. */
  public final float[][] out = {diffuseOut, specularOut, transmissionOut, sheenOut, coatOut};

  /** Density per steradian with which {@link #sample} chooses the direction evaluated last. */
  public float density;

  /** Direction chosen by {@link #sample}, and the kind of the lobe that chose it. */
  public float ix, iy, iz;

  public Scatter kind;

  /** What a sample's expected number of rays grows by; see {@link #odds}. */
  public float rays;

  /** What may still be scattered: paths that have used up a kind leave it out. */
  public static final class Allowed {
    public boolean diffuse = true, specular = true, transmission = true;

    public boolean any() {
      return diffuse || specular || transmission;
    }
  }

  /**
   * Sets material and view.
   *
   * @param front true if the viewer is on the outer side
   * @param floor least perceptual roughness, 0 .. 1
   * @param oz cosine of the unit view direction, above 0; likewise ox, oy
   */
  public void set(
      SurfaceValues v, boolean front, float floor, Allowed allowed, float ox, float oy, float oz) {
    this.v = v;
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    roughness = Math.max(Math.max(Ggx.MIN_ROUGHNESS, floor), v.roughness);
    brushed = v.brushed > 0;
    BrushedTable.widths(ggx, roughness, v.brushed);
    lambda = ggx.lambda(ox, oy, oz);
    layers(allowed, floor);
    float through = sheenThrough * coatThrough;
    base(allowed);
    glass(allowed, front);
    odds(through);
  }

  private void layers(Allowed allowed, float floor) {
    sheen = allowed.diffuse ? Math.max(v.sheen[0], Math.max(v.sheen[1], v.sheen[2])) : 0;
    sheenThrough = 1;
    if (sheen > 0) {
      sheenRoughness = Math.max(SheenTable.MIN_ROUGHNESS, v.sheenRoughness);
      sheenAlpha = sheenRoughness * sheenRoughness;
      sheenExponent = 1 / sheenAlpha;
      sheenLambda = SheenTable.lambda(oz, sheenAlpha);
      sheenThrough = 1 - sheen * sheens.sent(oz, sheenRoughness);
      sheenMean = 1 - sheen * sheens.mean(sheenRoughness);
    }
    coat = allowed.specular ? v.coat : 0;
    coatThrough = 1;
    if (coat > 0) {
      coatOz = ox * v.coatX + oy * v.coatY + oz * v.coatZ;
      if (!(coatOz > 1e-4f)) {
        coat = 0;
        return;
      }
      coatFrame.set(v.coatX, v.coatY, v.coatZ);
      coatFrame.toLocal(ox, oy, oz);
      coatOx = coatFrame.rx;
      coatOy = coatFrame.ry;
      coatRoughness = Math.max(Math.max(Ggx.MIN_ROUGHNESS, floor), v.coatRoughness);
      coatGgx.set(coatRoughness * coatRoughness, coatRoughness * coatRoughness);
      coatLambda = coatGgx.lambda(coatOx, coatOy, coatOz);
      coatThrough = 1 - coat * table.albedo(coatOz, coatRoughness, COAT_F0, 1);
      coatMean = 1 - coat * table.meanAlbedo(coatRoughness, COAT_F0, 1);
    }
  }

  private void base(Allowed allowed) {
    float dielectric = 1 - v.metallic;
    glass = dielectric * v.transmission;
    float opaque = dielectric - glass;
    f90 = allowed.specular ? v.metallic + opaque * v.f90 : 0;
    float sentA = table.a(oz, roughness), sentB = table.b(oz, roughness);
    float sent = brushed ? brushed(ox, oy, oz) : sentA + sentB;
    meanSent =
        brushed
            ? BrushedTable.instance().mean(roughness, v.brushed)
            : table.meanA(roughness) + table.meanB(roughness);
    float lost = Math.max(0, 1 - sent);
    float spread = 1 - meanSent > LEAST_LOST ? lost * INV_PI / (1 - meanSent) : 0;
    coverF0 = Math.max(v.f0[0], Math.max(v.f0[1], v.f0[2]));
    underMean = 1;
    boolean body = allowed.diffuse && opaque > 0;
    if (body) {
      coverOut = 1 - table.albedo(oz, roughness, coverF0, v.f90);
      underMean = 1 - table.meanAlbedo(roughness, coverF0, v.f90);
    }
    for (int k = 0; k < 3; k++) {
      diffuse[k] = body ? opaque * v.base[k] * coverOut * INV_PI / underMean : 0;
      f0[k] = allowed.specular ? v.metallic * v.base[k] + opaque * v.f0[k] : 0;
      float all =
          v.metallic * ReflectionTable.regained(v.base[k], 1, meanSent)
              + opaque * ReflectionTable.regained(v.f0[k], v.f90, meanSent);
      regained[k] = allowed.specular ? all * spread : 0;
    }
  }

  private float brushed(float x, float y, float z) {
    return BrushedTable.instance().sent(x, y, z, roughness, v.brushed);
  }

  private void glass(Allowed allowed, boolean front) {
    reflectGain = allowed.specular ? 1 : 0;
    transmitGain = allowed.transmission ? 1 : 0;
    if (!(glass > 0) || reflectGain + transmitGain == 0) {
      glass = 0;
      return;
    }
    outside = front || v.thin;
    eta = outside ? v.ior : 1 / v.ior;
    if (v.thin) {
      glassLost = 1 - (table.a(oz, roughness) + table.b(oz, roughness));
      float mean = 1 - (table.meanA(roughness) + table.meanB(roughness));
      glassBack = mean > LEAST_LOST ? 0.5f * glassLost * INV_PI / mean : 0;
      glassOn = glassBack;
      return;
    }
    glassTable = GlassTable.of(v.ior);
    glassLost = 1 - glassTable.sent(outside, oz, roughness);
    float here = 1 - glassTable.mean(outside, roughness);
    float there = 1 - glassTable.mean(!outside, roughness);
    float n2 = eta * eta;
    // Sent on in both directions alike: f / (index on the light's side)^2 is symmetric.
    float on = LOST_SENT_ON * there * n2 / Math.max(there * n2, here);
    boolean enough = here > LEAST_LOST && there > LEAST_LOST;
    glassBack = enough ? (1 - on) * glassLost * INV_PI / here : 0;
    glassOn = enough ? on * glassLost * INV_PI / there : 0;
  }

  private void odds(float through) {
    float d = mean(diffuse) * (float) Math.PI;
    float a = table.a(oz, roughness), b = table.b(oz, roughness);
    float s = mean(f0) * a + f90 * b;
    float spread = mean(regained) * (float) Math.PI * (1 - meanSent);
    float g = glass * (1 - glassLost);
    pCosine = through * (d + spread + glass * reflectGain * glassBack * (float) Math.PI);
    pSpecular = through * s;
    pGlass = through * g;
    pDown = through * glass * transmitGain * glassOn * (float) Math.PI;
    pCoat = sheenThrough * (1 - coatThrough);
    pSheen = sheen > 0 ? 1 - sheenThrough : 0;
    float sum = pCosine + pSpecular + pGlass + pDown + pCoat + pSheen;
    if (!(sum > 0)) {
      rays = 0;
      return;
    }
    // No lobe that is there is starved: a guess that is too low would make fireflies.
    float least = 0.08f * sum;
    pCosine = pCosine > 0 ? Math.max(least, pCosine) : 0;
    pSpecular = pSpecular > 0 ? Math.max(least, pSpecular) : 0;
    pCoat = pCoat > 0 ? Math.max(least, pCoat) : 0;
    pSheen = pSheen > 0 ? Math.max(least, pSheen) : 0;
    scale(1 / (pCosine + pSpecular + pGlass + pDown + pCoat + pSheen));
    rays = 1;
  }

  private void scale(float k) {
    pCosine *= k;
    pSpecular *= k;
    pGlass *= k;
    pDown *= k;
    pCoat *= k;
    pSheen *= k;
  }

  /**
   * Has each kind chosen this many times as often as a single ray would, and stores in {@link
   * #rays} how many rays that makes on average. {@link #density} stays that of one ray.
   */
  public void multiply(float diffuseRays, float specularRays, float transmissionRays) {
    if (rays == 0) {
      return;
    }
    pCosine *= diffuseRays;
    pSheen *= diffuseRays;
    pSpecular *= specularRays;
    pCoat *= specularRays;
    pDown *= transmissionRays;
    pGlass *= Math.max(specularRays, transmissionRays);
    rays = pCosine + pSpecular + pGlass + pDown + pCoat + pSheen;
    scale(1 / rays);
  }

  /** Returns the odds of all scattering but the even one, 0 .. 1; before they are changed. */
  public float unevenly() {
    return 1 - pCosine;
  }

  /**
   * Has even scattering chosen less often, for the benefit of all others.
   *
   * @param share of its odds that is left, above 0
   */
  public void favourUneven(float share) {
    float others = 1 - pCosine;
    if (rays == 0 || !(others > 0)) {
      return;
    }
    pCosine *= share;
    scale(1 / (pCosine + others));
  }

  /** Makes the table that brushed surfaces need, unless it is there. */
  public static void prepareBrushed(Workers workers) {
    BrushedTable.prepare(workers);
  }

  /** Makes the table that glass of an index of refraction needs, unless it is there. */
  public static void prepareGlass(float ior, Workers workers) {
    GlassTable.prepare(ior, workers);
  }

  /** Returns scattering times cosine of all kinds together for one colour, 0 .. 2. */
  public float sum(int color) {
    return diffuseOut[color]
        + specularOut[color]
        + transmissionOut[color]
        + sheenOut[color]
        + coatOut[color];
  }

  /** Returns the part of a colour, as evaluated last, that is scattered evenly, 0 .. 1. */
  public float evenPart(int color) {
    float all = sum(color);
    return all > 0 ? Math.min(1, diffuseOut[color] / all) : 1;
  }

  /** Returns true if some light is scattered evenly. */
  public boolean scattersEvenly() {
    return diffuse[0] + diffuse[1] + diffuse[2] > 0;
  }

  /** Returns how much of even light from all sides is scattered evenly towards the viewer. */
  public float evenly(int color) {
    return diffuse[color] * (float) Math.PI * underMean * coatThrough * sheenThrough;
  }

  /**
   * Returns how much of the light from a direction gets through to what scatters evenly, 1 in the
   * mean over even light.
   *
   * @param cosine to the normal, above 0
   */
  public float entering(float cosine) {
    float in = (1 - table.albedo(cosine, roughness, coverF0, v.f90)) / underMean;
    if (sheen > 0) {
      in *= (1 - sheen * sheens.sent(cosine, sheenRoughness)) / sheenMean;
    }
    if (coat > 0) {
      in *= (1 - coat * table.albedo(cosine, coatRoughness, COAT_F0, 1)) / coatMean;
    }
    return in;
  }

  private static float mean(float[] c) {
    return (c[0] + c[1] + c[2]) / 3;
  }

  /** Stores scattering and density towards a unit direction on either side. */
  public void evaluate(float ix, float iy, float iz) {
    for (int k = 0; k < 3; k++) {
      diffuseOut[k] = 0;
      specularOut[k] = 0;
      transmissionOut[k] = 0;
      sheenOut[k] = 0;
      coatOut[k] = 0;
    }
    density = 0;
    if (iz > 0) {
      reflect(ix, iy, iz);
    } else if (iz < 0 && glass > 0) {
      transmit(ix, iy, iz);
    }
  }

  private void reflect(float ix, float iy, float iz) {
    float hx = ox + ix, hy = oy + iy, hz = oz + iz;
    float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    hx *= l;
    hy *= l;
    hz *= l;
    float oh = ox * hx + oy * hy + oz * hz;
    // What layers above let through: to a diffuse base on the way in, to a mirror like the way out.
    float scattered = 1;
    float mirrored = 1;
    if (sheen > 0) {
      float in = 1 - sheen * sheens.sent(iz, sheenRoughness);
      scattered *= sheenThrough * in / sheenMean;
      mirrored *= (float) Math.sqrt(Math.max(0, sheenThrough * in));
      fibres(hz, iz);
    }
    float above = sheen > 0 ? mirrored : 1;
    if (coat > 0) {
      coatFrame.toLocal(ix, iy, iz);
      float cx = coatFrame.rx, cy = coatFrame.ry, cz = coatFrame.rz;
      float in = cz > 0 ? 1 - coat * table.albedo(cz, coatRoughness, COAT_F0, 1) : 1;
      scattered *= coatThrough * in / coatMean;
      mirrored *= (float) Math.sqrt(Math.max(0, coatThrough * in));
      varnish(cx, cy, cz, oh, above);
    }
    // A rough base scatters what comes through, a smooth one mirrors it.
    mirrored += (scattered - mirrored) * roughness * roughness;
    float sent = brushed ? brushed(ix, iy, iz) : table.a(iz, roughness) + table.b(iz, roughness);
    float lost = Math.max(0, 1 - sent) * iz;
    float under = 0;
    if (diffuse[0] + diffuse[1] + diffuse[2] > 0) {
      under = (1 - table.albedo(iz, roughness, coverF0, v.f90)) * iz * scattered;
    }
    float facets = 0;
    float d = 0;
    if (pSpecular > 0 || glass > 0) {
      d = ggx.distribution(hx, hy, hz) / (4 * oz);
      facets = d / (1 + lambda + ggx.lambda(ix, iy, iz)) * mirrored;
      d /= 1 + lambda;
    }
    float f = Ggx.schlick(oh);
    for (int k = 0; k < 3; k++) {
      diffuseOut[k] += diffuse[k] * under;
      specularOut[k] += (f0[k] + (f90 - f0[k]) * f) * facets + regained[k] * lost * scattered;
    }
    density += pCosine * iz * INV_PI + pSpecular * d;
    if (glass > 0) {
      glassReflection(iz, oh, facets, d, scattered);
    }
  }

  private void glassReflection(float iz, float oh, float facets, float d, float scattered) {
    float f = glassFresnel(oh);
    float lost =
        v.thin
            ? 1 - (table.a(iz, roughness) + table.b(iz, roughness))
            : 1 - glassTable.sent(outside, iz, roughness);
    float g = glass * reflectGain * (f * facets + glassBack * Math.max(0, lost) * iz * scattered);
    for (int k = 0; k < 3; k++) {
      specularOut[k] += g;
    }
    density += pGlass * reflectOdds(f) * d;
  }

  private float glassFresnel(float oh) {
    float f = Fresnel.dielectric(oh, eta);
    return f < 1 ? f * v.f90 : 1;
  }

  /** How often a facet met by a glass sample reflects. */
  private float reflectOdds(float f) {
    float r = f * reflectGain, t = (1 - f) * transmitGain;
    return r + t > 0 ? r / (r + t) : 0;
  }

  private void fibres(float hz, float iz) {
    float sin = (float) Math.sqrt(Math.max(0, 1 - hz * hz));
    float s =
        SheenTable.distribution(sin, sheenExponent)
            * SheenTable.visibility(oz, iz, sheenLambda, SheenTable.lambda(iz, sheenAlpha))
            * iz;
    for (int k = 0; k < 3; k++) {
      sheenOut[k] = v.sheen[k] * s;
    }
    density += pSheen * sheenDensity(hz, sin, iz);
  }

  /** Half of the samples follow the fibres, half are spread evenly. */
  private float sheenDensity(float hz, float sin, float iz) {
    float oh = (oz + iz) / (2 * hz);
    return 0.5f * (SheenTable.distribution(sin, sheenExponent) * hz / (4 * oh) + 0.5f * INV_PI);
  }

  private void varnish(float cx, float cy, float cz, float oh, float above) {
    if (!(cz > 0)) {
      return;
    }
    float hx = coatOx + cx, hy = coatOy + cy, hz = coatOz + cz;
    float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    float d = coatGgx.distribution(hx * l, hy * l, hz * l) / (4 * coatOz);
    float f = COAT_F0 + (1 - COAT_F0) * Ggx.schlick(oh);
    float mean = table.meanA(coatRoughness) + table.meanB(coatRoughness);
    float lostOut = 1 - table.a(coatOz, coatRoughness) - table.b(coatOz, coatRoughness);
    float lostIn = 1 - table.a(cz, coatRoughness) - table.b(cz, coatRoughness);
    float again =
        1 - mean > LEAST_LOST
            ? ReflectionTable.regained(COAT_F0, 1, mean) * lostOut * lostIn * INV_PI / (1 - mean)
            : 0;
    float s = coat * (f * d / (1 + coatLambda + coatGgx.lambda(cx, cy, cz)) + again * cz) * above;
    for (int k = 0; k < 3; k++) {
      coatOut[k] = s;
    }
    density += pCoat * d / (1 + coatLambda);
  }

  private void transmit(float ix, float iy, float iz) {
    float mirrored = 1;
    if (sheen > 0) {
      mirrored *= (float) Math.sqrt(Math.max(0, sheenThrough));
    }
    if (coat > 0) {
      mirrored *= (float) Math.sqrt(Math.max(0, coatThrough));
    }
    density += pDown * -iz * INV_PI;
    float lost;
    float facets = 0;
    if (v.thin) {
      lost = 1 - (table.a(-iz, roughness) + table.b(-iz, roughness));
      float hx = ox + ix, hy = oy + iy, hz = oz - iz;
      float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
      float oh = (ox * hx + oy * hy + oz * hz) * l;
      float d = ggx.distribution(hx * l, hy * l, hz * l) / (4 * oz);
      float f = glassFresnel(oh);
      facets = (1 - f) * d / (1 + lambda + ggx.lambda(ix, iy, iz));
      density += pGlass * (1 - reflectOdds(f)) * d / (1 + lambda);
    } else {
      lost = 1 - glassTable.sent(!outside, -iz, roughness);
      float hx = ox + eta * ix, hy = oy + eta * iy, hz = oz + eta * iz;
      float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
      l = hz < 0 ? -l : l;
      hx *= l;
      hy *= l;
      hz *= l;
      float oh = ox * hx + oy * hy + oz * hz;
      float ih = ix * hx + iy * hy + iz * hz;
      if (l < Float.POSITIVE_INFINITY && oh > 0 && ih < 0) {
        float sum = oh + eta * ih;
        float d = ggx.distribution(hx, hy, hz) * oh / oz * eta * eta * -ih / (sum * sum);
        float f = glassFresnel(oh);
        facets = (1 - f) * d / ((1 + lambda) * (1 + ggx.lambda(ix, iy, iz)));
        density += pGlass * (1 - reflectOdds(f)) * d / (1 + lambda);
      }
    }
    float t = glass * transmitGain * mirrored * (facets + glassOn * Math.max(0, lost) * -iz);
    for (int k = 0; k < 3; k++) {
      transmissionOut[k] = t * v.base[k];
    }
  }

  /**
   * Chooses a direction and evaluates it.
   *
   * @param u in [0, 1), likewise v; w chooses the lobe
   * @return false if nothing is scattered that way
   */
  public boolean sample(float u, float v, float w) {
    if (rays == 0) {
      return false;
    }
    kind = Scatter.DIFFUSE;
    float at = w;
    if (at < pCosine) {
      cosine(u, v, 1);
      // Light between facets belongs to the reflection, but is spread like diffuse light.
    } else if ((at -= pCosine) < pSpecular) {
      kind = Scatter.SPECULAR;
      ggx.sampleNormal(ox, oy, oz, u, v);
      mirror();
    } else if ((at -= pSpecular) < pCoat) {
      kind = Scatter.SPECULAR;
      varnishSample(u, v);
    } else if ((at -= pCoat) < pSheen) {
      sheenSample(u, v, at / pSheen);
    } else if ((at -= pSheen) < pGlass) {
      if (!glassSample(u, v, at / pGlass)) {
        return false;
      }
    } else if (pDown > 0) {
      kind = Scatter.TRANSMISSION;
      cosine(u, v, -1);
    } else {
      return false;
    }
    evaluate(ix, iy, iz);
    return density > 0;
  }

  /** Evaluates a unit direction that was chosen elsewhere, as if even scattering had chosen it. */
  public void choose(float x, float y, float z) {
    ix = x;
    iy = y;
    iz = z;
    kind = Scatter.DIFFUSE;
    evaluate(x, y, z);
  }

  private void cosine(float u, float v, float side) {
    float s = (float) Math.sqrt(v);
    ix = s * Trig.cosTurns(u);
    iy = s * Trig.sinTurns(u);
    iz = side * (float) Math.sqrt(Math.max(0, 1 - v));
  }

  private void mirror() {
    float oh = ox * ggx.hx + oy * ggx.hy + oz * ggx.hz;
    ix = 2 * oh * ggx.hx - ox;
    iy = 2 * oh * ggx.hy - oy;
    iz = 2 * oh * ggx.hz - oz;
  }

  private void varnishSample(float u, float v) {
    coatGgx.sampleNormal(coatOx, coatOy, coatOz, u, v);
    float oh = coatOx * coatGgx.hx + coatOy * coatGgx.hy + coatOz * coatGgx.hz;
    coatFrame.toWorld(
        2 * oh * coatGgx.hx - coatOx, 2 * oh * coatGgx.hy - coatOy, 2 * oh * coatGgx.hz - coatOz);
    ix = coatFrame.rx;
    iy = coatFrame.ry;
    iz = coatFrame.rz;
  }

  private void sheenSample(float u, float v, float w) {
    if (w < 0.5f) {
      iz = v;
      float s = (float) Math.sqrt(Math.max(0, 1 - v * v));
      ix = s * Trig.cosTurns(u);
      iy = s * Trig.sinTurns(u);
      return;
    }
    float s = FastMath.pow(v, 1 / (sheenExponent + 2));
    ggx.hx = s * Trig.cosTurns(u);
    ggx.hy = s * Trig.sinTurns(u);
    ggx.hz = (float) Math.sqrt(Math.max(0, 1 - s * s));
    mirror();
  }

  private boolean glassSample(float u, float v, float w) {
    ggx.sampleNormal(ox, oy, oz, u, v);
    float oh = ox * ggx.hx + oy * ggx.hy + oz * ggx.hz;
    if (w < reflectOdds(glassFresnel(oh))) {
      kind = Scatter.SPECULAR;
      mirror();
      return iz > 0;
    }
    kind = Scatter.TRANSMISSION;
    if (this.v.thin) {
      mirror();
      iz = -iz;
      return iz < 0;
    }
    float cos2 = 1 - (1 - oh * oh) / (eta * eta);
    if (!(cos2 > 0)) {
      return false;
    }
    float k = oh / eta - (float) Math.sqrt(cos2);
    ix = k * ggx.hx - ox / eta;
    iy = k * ggx.hy - oy / eta;
    iz = k * ggx.hz - oz / eta;
    return iz < 0;
  }
}
