package posada.core.settings;

import java.util.Set;

/**
 * How a picture is rendered. Everything here has a default that fits a final frame; {@link
 * #DEFAULT} is all of them.
 *
 * @param recipe how well
 * @param clips names of the animations that play; null for all
 * @param background true if the environment is seen behind the objects; alpha says where objects
 *     are either way
 * @param passes into which the picture is taken apart
 * @param layer which objects take part and how
 */
public record RenderSettings(
    Recipe recipe,
    Lens lens,
    Shutter shutter,
    Crop crop,
    Set<String> clips,
    boolean background,
    PassSettings passes,
    Layer layer) {

  /** Most samples of a pixel. */
  public static final int MOST_SAMPLES = 65536;

  public static final RenderSettings DEFAULT =
      new RenderSettings(
          Recipe.DEFAULT,
          Lens.DEFAULT,
          Shutter.DEFAULT,
          null,
          null,
          true,
          PassSettings.BEAUTY,
          Layer.MAIN);

  /** Returns the defaults with another number of samples and seed. */
  public static RenderSettings of(int samples, int seed) {
    return DEFAULT.with(samples, seed);
  }

  /** Returns these settings with another number of samples, the same for all pixels, and seed. */
  public RenderSettings with(int samples, int seed) {
    return with(sampling().with(samples, seed));
  }

  public Sampling sampling() {
    return recipe.sampling();
  }

  public Multipliers multipliers() {
    return recipe.multipliers();
  }

  public Filter filter() {
    return recipe.filter();
  }

  public Bounces bounces() {
    return recipe.bounces();
  }

  public Denoising denoising() {
    return recipe.denoising();
  }

  public Irradiance irradiance() {
    return recipe.irradiance();
  }

  public RenderSettings with(Recipe r) {
    return new RenderSettings(r, lens, shutter, crop, clips, background, passes, layer);
  }

  public RenderSettings with(Sampling s) {
    return with(recipe.with(s));
  }

  public RenderSettings with(Multipliers m) {
    return with(recipe.with(m));
  }

  public RenderSettings with(Filter f) {
    return with(recipe.with(f));
  }

  public RenderSettings with(Bounces b) {
    return with(recipe.with(b));
  }

  public RenderSettings with(Denoising d) {
    return with(recipe.with(d));
  }

  public RenderSettings with(Irradiance i) {
    return with(recipe.with(i));
  }

  public RenderSettings with(Lens l) {
    return new RenderSettings(recipe, l, shutter, crop, clips, background, passes, layer);
  }

  public RenderSettings with(Shutter s) {
    return new RenderSettings(recipe, lens, s, crop, clips, background, passes, layer);
  }

  public RenderSettings with(Crop region) {
    return new RenderSettings(recipe, lens, shutter, region, clips, background, passes, layer);
  }

  /** Returns these settings with some animations playing. */
  public RenderSettings playing(Set<String> names) {
    return new RenderSettings(recipe, lens, shutter, crop, names, background, passes, layer);
  }

  public RenderSettings with(boolean backgroundSeen) {
    return new RenderSettings(recipe, lens, shutter, crop, clips, backgroundSeen, passes, layer);
  }

  public RenderSettings with(PassSettings p) {
    return new RenderSettings(recipe, lens, shutter, crop, clips, background, p, layer);
  }

  public RenderSettings with(Layer l) {
    return new RenderSettings(recipe, lens, shutter, crop, clips, background, passes, l);
  }

  /** Returns these settings with other passes. */
  public RenderSettings with(Set<Pass> wanted) {
    return with(passes.with(wanted));
  }

  /** Returns these settings with one limit for diffuse and specular bounces. */
  public RenderSettings withBounces(int n, double indirectClamp) {
    Bounces b = bounces();
    return with(
        new Bounces(n, n, b.transmission(), b.transparency(), indirectClamp, b.roughnessFloor()));
  }

  /**
   * Returns these settings for an approval of movement: everything under clay, unless the layer has
   * a plain material already, light that is scattered evenly once and no further, and noise taken
   * out, so that a few samples are enough.
   */
  public RenderSettings clay() {
    Bounces b = bounces();
    Bounces fewer =
        new Bounces(
            Math.min(1, b.diffuse()),
            b.specular(),
            b.transmission(),
            b.transparency(),
            b.indirectClamp(),
            b.roughnessFloor());
    return with(fewer)
        .with(layer.material() == null ? layer.of(Layer.Plain.CLAY) : layer)
        .with(denoising().picture() ? denoising() : new Denoising(true, 1));
  }

  /** Returns true if what guides cleaning is gathered. */
  public boolean guided() {
    return denoising().picture() || passes.wants(Pass.GUIDES);
  }

  /** Returns how many rays a pixel costs at most. */
  public Rays rays() {
    return new Rays(
        sampling().most(),
        multipliers().most(),
        multipliers().lights(),
        1 + bounces().diffuse() + bounces().specular() + bounces().transmission());
  }
}
