package posada.core.material;

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
 * under a layer); C. Kulla and A. Conty, 2017 (light lost between facets).
 *
 * <p>Scratch of one worker thread.
 */
public final class Surface {
  private static final float INV_PI = (float) (1 / Math.PI);
  private final ReflectionTable table = ReflectionTable.INSTANCE;
  private final Ggx ggx = new Ggx();
  private final Sheen sheen = new Sheen();
  private final Varnish coat = new Varnish();
  private final Glass glass = new Glass(ggx);
  private SurfaceValues v;
  private float ox, oy, oz;
  private float roughness;

  /** The opaque parts of the base, for each colour. */
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

  /** Odds of the lobes: cosine, specular, glass facets, glass cosine down, coat, sheen. */
  private float pCosine, pSpecular, pGlass, pDown, pCoat, pSheen;

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
    sheen.set(v, allowed.diffuse, oz);
    coat.set(v, allowed.specular, floor, ox, oy, oz);
    float dielectric = 1 - v.metallic;
    float clear = dielectric * v.transmission;
    base(allowed, dielectric - clear);
    glass.set(v, clear, allowed, front, roughness, lambda, ox, oy, oz);
    odds(sheen.through * coat.through);
  }

  private void base(Allowed allowed, float opaque) {
    f90 = allowed.specular ? v.metallic + opaque * v.f90 : 0;
    float sentA = table.a(oz, roughness), sentB = table.b(oz, roughness);
    float sent = brushed ? brushed(ox, oy, oz) : sentA + sentB;
    meanSent =
        brushed
            ? BrushedTable.instance().mean(roughness, v.brushed)
            : table.meanA(roughness) + table.meanB(roughness);
    float lost = Math.max(0, 1 - sent);
    float spread = 1 - meanSent > ReflectionTable.LEAST_LOST ? lost * INV_PI / (1 - meanSent) : 0;
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

  private void odds(float through) {
    float d = mean(diffuse) * (float) Math.PI;
    float a = table.a(oz, roughness), b = table.b(oz, roughness);
    float s = mean(f0) * a + f90 * b;
    float spread = mean(regained) * (float) Math.PI * (1 - meanSent);
    float g = glass.weight * (1 - glass.lost);
    pCosine =
        through * (d + spread + glass.weight * glass.reflectGain * glass.back * (float) Math.PI);
    pSpecular = through * s;
    pGlass = through * g;
    pDown = through * glass.weight * glass.transmitGain * glass.on * (float) Math.PI;
    pCoat = sheen.through * (1 - coat.through);
    pSheen = 1 - sheen.through;
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
    return diffuse[color] * (float) Math.PI * underMean * coat.through * sheen.through;
  }

  /**
   * Returns how much of the light from a direction gets through to what scatters evenly, 1 in the
   * mean over even light.
   *
   * @param cosine to the normal, above 0
   */
  public float entering(float cosine) {
    float in = (1 - table.albedo(cosine, roughness, coverF0, v.f90)) / underMean;
    if (sheen.strength > 0) {
      in *= sheen.through(cosine) / sheen.mean;
    }
    if (coat.strength > 0) {
      in *= coat.through(cosine) / coat.mean;
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
    } else if (iz < 0 && glass.weight > 0) {
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
    if (sheen.strength > 0) {
      float in = sheen.through(iz);
      scattered *= sheen.through * in / sheen.mean;
      mirrored *= (float) Math.sqrt(Math.max(0, sheen.through * in));
      sheen.evaluate(hz, iz, sheenOut);
      density += pSheen * sheen.density;
    }
    float above = mirrored;
    if (coat.strength > 0) {
      float in = coat.enter(ix, iy, iz);
      scattered *= coat.through * in / coat.mean;
      mirrored *= (float) Math.sqrt(Math.max(0, coat.through * in));
      coat.evaluate(oh, above, coatOut);
      density += pCoat * coat.density;
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
    if (pSpecular > 0 || glass.weight > 0) {
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
    if (glass.weight > 0) {
      glass.reflect(iz, oh, facets, d, scattered);
      for (int k = 0; k < 3; k++) {
        specularOut[k] += glass.scattered;
      }
      density += pGlass * glass.density;
    }
  }

  private void transmit(float ix, float iy, float iz) {
    float above = (float) Math.sqrt(Math.max(0, sheen.through * coat.through));
    glass.transmit(ix, iy, iz, above);
    for (int k = 0; k < 3; k++) {
      transmissionOut[k] = glass.scattered * v.base[k];
    }
    density += pDown * -iz * INV_PI + pGlass * glass.density;
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
      mirror(ggx.hx, ggx.hy, ggx.hz);
    } else if ((at -= pSpecular) < pCoat) {
      kind = Scatter.SPECULAR;
      coat.sample(u, v);
      towards(coat.x, coat.y, coat.z);
    } else if ((at -= pCoat) < pSheen) {
      sheen.sample(u, v, at / pSheen);
      towards(sheen.x, sheen.y, sheen.z);
      if (sheen.half) {
        mirror(ix, iy, iz);
      }
    } else if ((at -= pSheen) < pGlass) {
      if (!glass.sample(u, v, at / pGlass)) {
        return false;
      }
      kind = glass.mirrored ? Scatter.SPECULAR : Scatter.TRANSMISSION;
      towards(glass.x, glass.y, glass.z);
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
    towards(x, y, z);
    kind = Scatter.DIFFUSE;
    evaluate(x, y, z);
  }

  private void towards(float x, float y, float z) {
    ix = x;
    iy = y;
    iz = z;
  }

  private void cosine(float u, float v, float side) {
    float s = (float) Math.sqrt(v);
    ix = s * Trig.cosTurns(u);
    iy = s * Trig.sinTurns(u);
    iz = side * (float) Math.sqrt(Math.max(0, 1 - v));
  }

  /** Mirrors the view direction at a facet. */
  private void mirror(float hx, float hy, float hz) {
    float oh = ox * hx + oy * hy + oz * hz;
    ix = 2 * oh * hx - ox;
    iy = 2 * oh * hy - oy;
    iz = 2 * oh * hz - oz;
  }
}
