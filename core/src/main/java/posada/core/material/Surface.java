package posada.core.material;

/**
 * A metallic-roughness surface at one point, in the local frame (+Z is the shading normal): a
 * diffuse base under a GGX coat that keeps all light that enters it.
 *
 * <p>Source: glTF 2.0, appendix B (the model); C. Kelemen and L. Szirmay-Kalos, "A Microfacet Based
 * Coupled Specular-Matte BRDF Model", 2001 (base under coat); E. Turquin 2019 (light lost between
 * facets). Scratch of one worker thread.
 */
public final class Surface {
  private static final float DIELECTRIC_F0 = 0.04f;
  private static final float INV_PI = (float) (1 / Math.PI);

  private final EnergyTable table = EnergyTable.INSTANCE;
  private final Ggx ggx = new Ggx();
  private float dr, dg, db;
  private float fr, fg, fb;
  private float roughness, alpha;
  private float ox, oy, oz;
  private float gainR, gainG, gainB;
  private float baseThrough;
  private float specularShare;

  /** Result of {@link #evaluate}: scattering times cosine, and density per steradian. */
  public float r, g, b;

  public float density;

  /** Direction chosen by {@link #sample}. */
  public float ix, iy, iz;

  /** True if the last sample came from the coat. */
  public boolean specular;

  /**
   * Sets material and view.
   *
   * @param base scene-linear base colour
   * @param oz cosine of the unit view direction, above 0; likewise ox, oy
   */
  public void set(float[] base, float metallic, float roughness, float ox, float oy, float oz) {
    this.roughness = Math.max(Ggx.MIN_ROUGHNESS, roughness);
    alpha = this.roughness * this.roughness;
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    dr = base[0] * (1 - metallic);
    dg = base[1] * (1 - metallic);
    db = base[2] * (1 - metallic);
    fr = DIELECTRIC_F0 + (base[0] - DIELECTRIC_F0) * metallic;
    fg = DIELECTRIC_F0 + (base[1] - DIELECTRIC_F0) * metallic;
    fb = DIELECTRIC_F0 + (base[2] - DIELECTRIC_F0) * metallic;
    float a = table.scale(oz, this.roughness);
    float bias = table.bias(oz, this.roughness);
    float lost = (1 - (a + bias)) / (a + bias);
    gainR = 1 + fr * lost;
    gainG = 1 + fg * lost;
    gainB = 1 + fb * lost;
    baseThrough =
        (1 - table.albedo(oz, this.roughness, DIELECTRIC_F0))
            / (1 - table.dielectricMean(this.roughness));
    float s = (a * (fr + fg + fb) + 3 * bias) / 3;
    float d = (dr + dg + db) / 3;
    specularShare = d <= 0 ? 1 : Math.max(0.1f, Math.min(0.9f, s / (s + d)));
  }

  /** Stores scattering and density towards a unit direction; both 0 under the horizon. */
  public void evaluate(float ix, float iy, float iz) {
    r = 0;
    g = 0;
    b = 0;
    density = 0;
    if (!(iz > 0)) {
      return;
    }
    float diffuse = 0;
    if (specularShare < 1) {
      diffuse = INV_PI * iz * baseThrough * (1 - table.albedo(iz, roughness, DIELECTRIC_F0));
      density = (1 - specularShare) * iz * INV_PI;
    }
    float hx = ox + ix, hy = oy + iy, hz = oz + iz;
    float l = 1 / (float) Math.sqrt(hx * hx + hy * hy + hz * hz);
    float oh = (ox * hx + oy * hy + oz * hz) * l;
    float d = Ggx.distribution(hz * l, alpha);
    float visible = Ggx.masking(oz, alpha) * d / (4 * oz);
    float k = visible * Ggx.shadowing(oz, iz, alpha);
    float f = Ggx.schlick(oh);
    density += specularShare * visible;
    r = dr * diffuse + k * gainR * (fr + (1 - fr) * f);
    g = dg * diffuse + k * gainG * (fg + (1 - fg) * f);
    b = db * diffuse + k * gainB * (fb + (1 - fb) * f);
  }

  /**
   * Chooses a direction and evaluates it.
   *
   * @param u in [0, 1), likewise v; w chooses the lobe
   * @return false if nothing is scattered that way
   */
  public boolean sample(float u, float v, float w) {
    specular = w < specularShare;
    if (specular) {
      ggx.sampleNormal(ox, oy, oz, alpha, u, v);
      float oh = ox * ggx.hx + oy * ggx.hy + oz * ggx.hz;
      ix = 2 * oh * ggx.hx - ox;
      iy = 2 * oh * ggx.hy - oy;
      iz = 2 * oh * ggx.hz - oz;
    } else {
      float s = (float) Math.sqrt(v);
      ix = s * posada.core.geometry.Trig.cosTurns(u);
      iy = s * posada.core.geometry.Trig.sinTurns(u);
      iz = (float) Math.sqrt(Math.max(0, 1 - v));
    }
    evaluate(ix, iy, iz);
    return density > 0;
  }
}
