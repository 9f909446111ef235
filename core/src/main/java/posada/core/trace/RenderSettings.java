package posada.core.trace;

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

  /**
   * How many samples a pixel gets.
   *
   * @param least of each pixel, 1 .. most
   * @param most of each pixel, 1 .. 65536; all get them unless {@code adaptive}
   * @param adaptive true if a pixel is left alone once its noise is below the threshold
   * @param noiseThreshold standard error of a pixel's luminance over luminance plus 0.05, the same
   *     in bright and dark parts; above 0
   * @param seconds after which no more samples are begun; 0 for no limit
   * @param seed of the sampling pattern
   * @param seedPerFrame true if every frame has a pattern of its own, so that grain does not stand
   *     still
   * @param pattern where the samples lie
   */
  public record Sampling(
      int least,
      int most,
      boolean adaptive,
      double noiseThreshold,
      double seconds,
      int seed,
      boolean seedPerFrame,
      Pattern pattern) {
    /** Points that fill every pair of dimensions evenly, or independent random ones to compare. */
    public enum Pattern {
      SPREAD,
      RANDOM
    }

    /** Well-spread samples. */
    public Sampling(
        int least,
        int most,
        boolean adaptive,
        double noiseThreshold,
        double seconds,
        int seed,
        boolean seedPerFrame) {
      this(least, most, adaptive, noiseThreshold, seconds, seed, seedPerFrame, Pattern.SPREAD);
    }

    public Sampling {
      Limits.whole("samples", most, 1, MOST_SAMPLES);
      Limits.whole("least samples", least, 1, MOST_SAMPLES);
      least = Math.min(least, most);
      Limits.within("noise threshold", noiseThreshold, 1e-5, 10);
      Limits.within("seconds", seconds, 0, 1e7);
    }
  }

  /**
   * Rays at the first surface for each sample of a pixel; further surfaces get one.
   *
   * @param diffuse times as many diffusely scattered rays, 1 .. 64; specular and transmission
   *     likewise
   * @param lights rays to lights, 1 .. 64
   */
  public record Multipliers(int diffuse, int specular, int transmission, int lights) {
    public static final Multipliers ONE = new Multipliers(1, 1, 1, 1);

    public Multipliers {
      Limits.whole("diffuse multiplier", diffuse, 1, 64);
      Limits.whole("specular multiplier", specular, 1, 64);
      Limits.whole("transmission multiplier", transmission, 1, 64);
      Limits.whole("lights multiplier", lights, 1, 64);
    }

    public int most() {
      return Math.max(diffuse, Math.max(specular, transmission));
    }
  }

  /**
   * How samples around a pixel's centre count.
   *
   * @param radius pixels, 0.5 .. 4
   */
  public record Filter(Shape shape, double radius) {
    /** Flat; falling in a straight line; a bell cut off at 2.5 standard deviations. */
    public enum Shape {
      BOX,
      TENT,
      GAUSSIAN
    }

    public Filter {
      Limits.within("filter radius", radius, 0.5, 4);
    }
  }

  /**
   * How far light is followed.
   *
   * @param diffuse how often a path may be scattered diffusely, 0 .. 64; 1 is direct light only
   * @param specular how often it may be mirrored, 0 .. 64; 1 shows lights and what is directly lit
   * @param transmission how many surfaces it may pass through, 0 .. 64
   * @param transparency how many surfaces a ray may pass because of their alpha, 0 .. 256
   * @param indirectClamp most luminance that one indirect contribution may have; 0 for no limit
   * @param roughnessFloor least roughness after a diffuse bounce, 0 .. 1: tames caustics
   */
  public record Bounces(
      int diffuse,
      int specular,
      int transmission,
      int transparency,
      double indirectClamp,
      double roughnessFloor) {
    static final double MOST_CLAMP = 1e9;

    public Bounces {
      Limits.whole("diffuse bounces", diffuse, 0, 64);
      Limits.whole("specular bounces", specular, 0, 64);
      Limits.whole("transmission bounces", transmission, 0, 64);
      Limits.whole("transparent surfaces", transparency, 0, 256);
      Limits.within("indirect clamp", indirectClamp, 0, MOST_CLAMP);
      Limits.within("roughness floor", roughnessFloor, 0, 1);
    }

    /** Returns the same with another limit on what is bright; 0 for none. */
    public Bounces clampedAt(double luminance) {
      return new Bounces(diffuse, specular, transmission, transparency, luminance, roughnessFloor);
    }
  }

  /**
   * The lens in front of the film. What it does not say comes from the scene's camera.
   *
   * @param focalLength millimetres; null for the camera's angle of view
   * @param filmWidth millimetres of the film back, above 0; the picture is the largest part of it
   *     that has the picture's shape
   * @param filmHeight likewise
   * @param depthOfField false for a pinhole, whatever else is set
   * @param fStop focal length over the opening's diameter
   * @param focusDistance metres along the view axis
   * @param focusObject name of a node to focus on instead; null for none
   * @param blades of the aperture; 0 for a round one
   * @param bladeRotation degrees
   * @param exposure stops, -32 .. 32: each doubles all light that the camera takes, before it is
   *     limited, weighed against noise or written
   */
  public record Lens(
      Track focalLength,
      double filmWidth,
      double filmHeight,
      boolean depthOfField,
      Track fStop,
      Track focusDistance,
      String focusObject,
      int blades,
      double bladeRotation,
      Track exposure) {
    /** Most stops of an exposure, either way. */
    static final double MOST_STOPS = 32;

    public Lens {
      if (focalLength != null) {
        focalLength.within("focal length", 1, 10_000);
      }
      Limits.within("film back width", filmWidth, 1, 1000);
      Limits.within("film back height", filmHeight, 1, 1000);
      fStop.within("f-stop", 0.1, 1000);
      focusDistance.within("focus distance", 1e-3, 1e6);
      if (blades != 0) {
        Limits.whole("aperture blades", blades, 3, 32);
      }
      Limits.within("blade rotation", bladeRotation, -3600, 3600);
      exposure.within("exposure", -MOST_STOPS, MOST_STOPS);
    }

    /** Returns the same lens at another exposure in stops. */
    public Lens exposed(Track stops) {
      return new Lens(
          focalLength,
          filmWidth,
          filmHeight,
          depthOfField,
          fStop,
          focusDistance,
          focusObject,
          blades,
          bladeRotation,
          stops);
    }

    /** Returns what light is multiplied by at an exposure in stops. */
    static float gain(double stops) {
      return (float) StrictMath.pow(2, stops);
    }
  }

  /**
   * While the film is exposed.
   *
   * @param motionBlur false for a moment, whatever else is set
   * @param angle degrees of a turn of 360 for each frame, 0 .. 720
   * @param phase degrees from the frame's time to the opening, -720 .. 720; minus half the angle
   *     puts the frame's time in the middle
   * @param transforms true if moving objects blur
   * @param deformations true if bending meshes blur
   * @param camera true if the camera's own move blurs
   * @param steps of a curved motion, 1 .. 16: straight lines between one more places
   */
  public record Shutter(
      boolean motionBlur,
      double angle,
      double phase,
      boolean transforms,
      boolean deformations,
      boolean camera,
      int steps) {
    public Shutter {
      Limits.within("shutter angle", angle, 0, 720);
      Limits.within("shutter phase", phase, -720, 720);
      Limits.whole("motion steps", steps, 1, 16);
    }

    /** Returns true if anything can blur. */
    public boolean open() {
      return motionBlur && angle > 0 && (transforms || deformations || camera);
    }
  }

  /**
   * A region of the picture; pixels from the top left corner.
   *
   * @param alone true if the picture is the region, false if it is full-size and empty elsewhere
   */
  public record Crop(int x, int y, int width, int height, boolean alone) {
    public Crop {
      Limits.whole("crop x", x, 0, View.MAX_SIDE - 1);
      Limits.whole("crop y", y, 0, View.MAX_SIDE - 1);
      Limits.whole("crop width", width, 1, View.MAX_SIDE);
      Limits.whole("crop height", height, 1, View.MAX_SIDE);
    }

    /** Refuses a region that is not inside the picture. */
    void check(int pictureWidth, int pictureHeight) {
      if (x + width > pictureWidth || y + height > pictureHeight) {
        throw new IllegalArgumentException(
            String.format(
                "crop %d,%d %dx%d reaches outside the picture of %dx%d",
                x, y, width, height, pictureWidth, pictureHeight));
      }
    }
  }

  /**
   * What is done about noise.
   *
   * @param picture true if the picture is cleaned; to clean it later, there is the pass guides
   * @param amount of the noise that is taken away, 0 .. 1
   */
  public record Denoising(boolean picture, double amount) {
    public static final Denoising OFF = new Denoising(false, 1);

    public Denoising {
      Limits.within("denoising amount", amount, 0, 1);
    }
  }

  /**
   * How light that other surfaces send is baked.
   *
   * @param use true if a sequence is to be rendered with it
   * @param every frames between those that are looked at, 1 .. 10000
   * @param accuracy radius of a light point over the harmonic mean of the distances around it, 0.02
   *     .. 1; smaller is finer
   * @param tolerance standard error of a point's light over it, 0.001 .. 1
   * @param paths most of a point, 512 .. 65536
   * @param direct true if light that comes straight from lights is in it, too: soft shadows alone
   */
  public record Irradiance(
      boolean use, int every, double accuracy, double tolerance, int paths, boolean direct) {
    public static final Irradiance DEFAULT = new Irradiance(false, 8, 0.12, 0.032, 16384, false);

    public Irradiance {
      Limits.whole("bake every frame", every, 1, 10_000);
      Limits.within("bake accuracy", accuracy, 0.02, 1);
      Limits.within("bake tolerance", tolerance, 1e-3, 1);
      Limits.whole("bake paths", paths, 512, MOST_SAMPLES);
    }

    /** Returns the same for every Nth frame. */
    public Irradiance each(int n) {
      return new Irradiance(use, n, accuracy, tolerance, paths, direct);
    }
  }

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

  /** What the settings cost in rays, known before rendering. */
  public record Rays(int cameraRays, int firstScattered, int firstLights, int mostSegments) {
    /** Returns the sentence that says so. */
    public String sentence() {
      return String.format(
          "%d camera rays for each pixel; at the first surface up to %d scattered rays and %d light"
              + " rays for each of them; every path ends after at most %d segments",
          cameraRays, firstScattered, firstLights, mostSegments);
    }
  }

  /** Returns true if what guides cleaning is gathered. */
  boolean guided() {
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
