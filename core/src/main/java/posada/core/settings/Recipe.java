package posada.core.settings;

/**
 * How well a picture is rendered, whatever is in it.
 *
 * @param sampling how many samples a pixel gets
 * @param multipliers of the rays at the first surface
 * @param filter how samples around a pixel's centre count
 * @param bounces how far light is followed
 * @param denoising what is done about noise
 * @param irradiance how indirect light is baked
 */
public record Recipe(
    Sampling sampling,
    Multipliers multipliers,
    Filter filter,
    Bounces bounces,
    Denoising denoising,
    Irradiance irradiance) {
  public static final Recipe DEFAULT =
      new Recipe(
          Sampling.DEFAULT,
          Multipliers.ONE,
          Filter.DEFAULT,
          Bounces.DEFAULT,
          Denoising.OFF,
          Irradiance.DEFAULT);

  public Recipe with(Sampling s) {
    return new Recipe(s, multipliers, filter, bounces, denoising, irradiance);
  }

  public Recipe with(Multipliers m) {
    return new Recipe(sampling, m, filter, bounces, denoising, irradiance);
  }

  public Recipe with(Filter f) {
    return new Recipe(sampling, multipliers, f, bounces, denoising, irradiance);
  }

  public Recipe with(Bounces b) {
    return new Recipe(sampling, multipliers, filter, b, denoising, irradiance);
  }

  public Recipe with(Denoising d) {
    return new Recipe(sampling, multipliers, filter, bounces, d, irradiance);
  }

  public Recipe with(Irradiance i) {
    return new Recipe(sampling, multipliers, filter, bounces, denoising, i);
  }
}
