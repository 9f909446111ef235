package posada.core.material;

import posada.core.geometry.ShadingFrame;

/**
 * A clear coat over a surface, with a normal of its own. It lets through what it does not mirror.
 *
 * <p>Source: glTF's KHR_materials_clearcoat, section on implementation.
 *
 * <p>Scratch of one worker thread.
 */
final class Varnish {
  private static final float INV_PI = (float) (1 / Math.PI);
  private static final float F0 = 0.04f;

  /** Least cosine of the view direction to the coat's normal. */
  private static final float LEAST_COSINE = 1e-4f;

  private final ReflectionTable table = ReflectionTable.INSTANCE;
  private final Ggx ggx = new Ggx();
  private final ShadingFrame frame = new ShadingFrame();

  /** How much of the surface is coated, 0 .. 1. */
  float strength;

  /** What gets through from the view direction, and in the mean. */
  float through, mean;

  /** Density of the direction evaluated last, per steradian. */
  float density;

  /** Direction that was sampled last, in the frame of the surface. */
  float x, y, z;

  private float roughness, lambda;

  /** The view direction in the coat's frame. */
  private float ox, oy, oz;

  /** The direction to the light in the coat's frame. */
  private float cx, cy, cz;

  /**
   * @param allowed false leaves it out
   * @param floor least roughness
   * @param ox view direction in the frame of the surface; likewise oy, oz
   */
  void set(SurfaceValues v, boolean allowed, float floor, float ox, float oy, float oz) {
    strength = allowed ? v.coat : 0;
    through = 1;
    if (!(strength > 0)) {
      return;
    }
    this.oz = ox * v.coatX + oy * v.coatY + oz * v.coatZ;
    if (!(this.oz > LEAST_COSINE)) {
      strength = 0;
      return;
    }
    frame.set(v.coatX, v.coatY, v.coatZ);
    frame.toLocal(ox, oy, oz);
    this.ox = frame.rx;
    this.oy = frame.ry;
    roughness = Math.max(Math.max(Ggx.MIN_ROUGHNESS, floor), v.coatRoughness);
    ggx.set(roughness * roughness, roughness * roughness);
    lambda = ggx.lambda(this.ox, this.oy, this.oz);
    through = through(this.oz);
    mean = 1 - strength * table.meanAlbedo(roughness, F0, 1);
  }

  /** Returns what gets through along a direction, where there is a coat. */
  float through(float cosine) {
    return 1 - strength * table.albedo(cosine, roughness, F0, 1);
  }

  /** Takes a direction to the light into the coat's frame; returns what gets through along it. */
  float enter(float ix, float iy, float iz) {
    frame.toLocal(ix, iy, iz);
    cx = frame.rx;
    cy = frame.ry;
    cz = frame.rz;
    return cz > 0 ? through(cz) : 1;
  }

  /**
   * Stores scattering times cosine of the direction that entered last, and its density.
   *
   * @param oh cosine between the view direction and the half vector
   * @param above what layers above let through
   */
  void evaluate(float oh, float above, float[] out) {
    if (!(cz > 0)) {
      density = 0;
      return;
    }
    float hx = ox + cx, hy = oy + cy, hz = oz + cz;
    float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    float d = ggx.distribution(hx * l, hy * l, hz * l) / (4 * oz);
    float f = F0 + (1 - F0) * Ggx.schlick(oh);
    float sent = table.meanA(roughness) + table.meanB(roughness);
    float lostOut = 1 - table.a(oz, roughness) - table.b(oz, roughness);
    float lostIn = 1 - table.a(cz, roughness) - table.b(cz, roughness);
    float again =
        1 - sent > ReflectionTable.LEAST_LOST
            ? ReflectionTable.regained(F0, 1, sent) * lostOut * lostIn * INV_PI / (1 - sent)
            : 0;
    float s = strength * (f * d / (1 + lambda + ggx.lambda(cx, cy, cz)) + again * cz) * above;
    for (int k = 0; k < 3; k++) {
      out[k] = s;
    }
    density = d / (1 + lambda);
  }

  /** Chooses a direction, u and v in [0, 1). */
  void sample(float u, float v) {
    ggx.sampleNormal(ox, oy, oz, u, v);
    float oh = ox * ggx.hx + oy * ggx.hy + oz * ggx.hz;
    frame.toWorld(2 * oh * ggx.hx - ox, 2 * oh * ggx.hy - oy, 2 * oh * ggx.hz - oz);
    x = frame.rx;
    y = frame.ry;
    z = frame.rz;
  }
}
