package posada.core.settings;

import java.util.Set;
import java.util.function.Consumer;
import posada.core.scene.Track;

/**
 * How a picture is rendered. Everything here has a default that fits a final frame; {@link
 * #DEFAULT} is all of them.
 *
 * @param clips names of the animations that play; null for all
 * @param background true if the surroundings are seen behind the objects; alpha says where objects
 *     are either way
 * @param passes into which the picture is taken apart
 * @param layer which objects take part and how
 * @param denoising what is done about noise
 * @param irradiance how indirect light is baked
 */
public record RenderSettings(
    Sampling sampling,
    Multipliers multipliers,
    Filter filter,
    Bounces bounces,
    Lens lens,
    Shutter shutter,
    Crop crop,
    Set<String> clips,
    boolean background,
    PassSettings passes,
    Layer layer,
    Denoising denoising,
    Irradiance irradiance) {

  /** Most samples of a pixel. */
  public static final int MOST_SAMPLES = 65536;

  public static final RenderSettings DEFAULT =
      new RenderSettings(
          new Sampling(16, 64, false, 0.03, 0, 0, false),
          Multipliers.ONE,
          new Filter(Filter.Shape.GAUSSIAN, 1.5),
          new Bounces(4, 4, 12, 64, 10, 0.2),
          new Lens(null, 36, 24, false, Track.of(2.8), Track.of(10), null, 0, 0, Track.of(0)),
          new Shutter(false, 180, 0, true, true, true, 2),
          null,
          null,
          true,
          PassSettings.BEAUTY,
          Layer.MAIN,
          Denoising.OFF,
          Irradiance.DEFAULT);

  /** Returns the defaults with another number of samples and seed. */
  public static RenderSettings of(int samples, int seed) {
    return DEFAULT.with(samples, seed);
  }

  /** Returns these settings with another number of samples, the same for all pixels, and seed. */
  public RenderSettings with(int samples, int seed) {
    Sampling s = sampling;
    return with(
        new Sampling(
            Math.min(s.least(), samples),
            samples,
            s.adaptive(),
            s.noiseThreshold(),
            s.seconds(),
            seed,
            s.seedPerFrame(),
            s.pattern()));
  }

  /** A copy in which parts may be exchanged. */
  private final class Copy {
    Sampling sampling = RenderSettings.this.sampling;
    Multipliers multipliers = RenderSettings.this.multipliers;
    Filter filter = RenderSettings.this.filter;
    Bounces bounces = RenderSettings.this.bounces;
    Lens lens = RenderSettings.this.lens;
    Shutter shutter = RenderSettings.this.shutter;
    Crop crop = RenderSettings.this.crop;
    Set<String> clips = RenderSettings.this.clips;
    boolean background = RenderSettings.this.background;
    PassSettings passes = RenderSettings.this.passes;
    Layer layer = RenderSettings.this.layer;
    Denoising denoising = RenderSettings.this.denoising;
    Irradiance irradiance = RenderSettings.this.irradiance;
  }

  private RenderSettings changed(Consumer<Copy> change) {
    Copy c = new Copy();
    change.accept(c);
    return new RenderSettings(
        c.sampling,
        c.multipliers,
        c.filter,
        c.bounces,
        c.lens,
        c.shutter,
        c.crop,
        c.clips,
        c.background,
        c.passes,
        c.layer,
        c.denoising,
        c.irradiance);
  }

  public RenderSettings with(Sampling s) {
    return changed(c -> c.sampling = s);
  }

  public RenderSettings with(Multipliers m) {
    return changed(c -> c.multipliers = m);
  }

  public RenderSettings with(Filter f) {
    return changed(c -> c.filter = f);
  }

  public RenderSettings with(Bounces b) {
    return changed(c -> c.bounces = b);
  }

  public RenderSettings with(Lens l) {
    return changed(c -> c.lens = l);
  }

  public RenderSettings with(Shutter s) {
    return changed(c -> c.shutter = s);
  }

  public RenderSettings with(Crop region) {
    return changed(c -> c.crop = region);
  }

  /** Returns these settings with some animations playing. */
  public RenderSettings playing(Set<String> names) {
    return changed(c -> c.clips = names);
  }

  public RenderSettings with(boolean backgroundSeen) {
    return changed(c -> c.background = backgroundSeen);
  }

  public RenderSettings with(PassSettings p) {
    return changed(c -> c.passes = p);
  }

  public RenderSettings with(Layer l) {
    return changed(c -> c.layer = l);
  }

  public RenderSettings with(Denoising d) {
    return changed(c -> c.denoising = d);
  }

  public RenderSettings with(Irradiance i) {
    return changed(c -> c.irradiance = i);
  }

  /** Returns these settings with other passes. */
  public RenderSettings with(Set<Pass> wanted) {
    return with(passes.with(wanted));
  }

  /** Returns these settings with one limit for diffuse and specular bounces. */
  public RenderSettings withBounces(int n, double indirectClamp) {
    Bounces b = bounces;
    return with(
        new Bounces(n, n, b.transmission(), b.transparency(), indirectClamp, b.roughnessFloor()));
  }

  /**
   * Returns these settings for an approval of movement: everything under clay, unless the layer has
   * a plain material already, light that is scattered evenly once and no further, and noise taken
   * out, so that a few samples are enough.
   */
  public RenderSettings clay() {
    Bounces b = bounces;
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
        .with(denoising.picture() ? denoising : new Denoising(true, 1));
  }

  /** Returns true if what guides cleaning is gathered. */
  public boolean guided() {
    return denoising.picture() || passes.wants(Pass.GUIDES);
  }

  /** Returns how many rays a pixel costs at most. */
  public Rays rays() {
    return new Rays(
        sampling.most(),
        multipliers.most(),
        multipliers.lights(),
        1 + bounces.diffuse() + bounces.specular() + bounces.transmission());
  }
}
