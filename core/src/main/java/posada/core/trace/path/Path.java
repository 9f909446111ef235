package posada.core.trace.path;

import posada.core.geometry.FastMath;
import posada.core.light.Luminance;
import posada.core.material.Scatter;
import posada.core.material.Surface;
import posada.core.trace.film.LightParts;

/** How far one path from the camera has come. Scratch of one worker thread. */
final class Path {
  /** Growth of a footprint with distance after a diffuse bounce: textures may be coarse there. */
  private static final float DIFFUSE_SPREAD = 0.2f;

  /** Growth of a footprint with distance for each unit of squared roughness. */
  private static final float ROUGH_SPREAD = 0.25f;

  /** Most luminance of an indirect contribution; 0 for no limit. */
  private final float clamp;

  /** Light found so far: red, green, blue. */
  float lr, lg, lb;

  /** The contribution that was added last. */
  private float cr, cg, cb;

  /** How often a path may be scattered evenly, if {@link #deep} is wanted. */
  private int deepest = Integer.MAX_VALUE;

  /** Luminance of the light found so far that comes with as many even scatterings as may be. */
  float deep;

  /** What a further contribution is multiplied by. */
  float tr, tg, tb;

  /** How often it was scattered, in all and by kind, and how many surfaces let it pass. */
  int scattered, diffuse, specular, transmitted, passed;

  /** True once a surface has not let it pass. */
  boolean stopped;

  /** True once a holdout has ended it. */
  boolean held;

  /** True if it was mirrored last. */
  boolean mirrored;

  /** True if it was scattered evenly last. */
  private boolean evenly;

  /** Light groups that all surfaces on the way receive, as bits. */
  long receives;

  /** Density of the last scattering times the number of rays that left there. */
  float scatterDensity;

  /** Length since the last scattering, metres. */
  float travelled;

  /** Rays that were sent to lights from where it was scattered last. */
  int lightRays;

  /** Width of the footprint where the ray starts, metres, and its growth with distance. */
  float width, spread;

  /** Luminance that the limit on what is bright has taken from it. */
  float cut;

  /** True if only a part of it goes on from the next surface, since the rest is known already. */
  boolean partly;

  /** That part of each colour. */
  float restR, restG, restB;

  /** What the volume around the ray absorbs for each metre; null outside of volumes. */
  float[] absorption;

  /** Where the light went and came from; null if nobody asks. */
  private final LightParts parts;

  /** What it began with of each colour. */
  private float gain = 1;

  Path(double indirectClamp, LightParts parts) {
    clamp = (float) indirectClamp;
    this.parts = parts;
  }

  /**
   * Tells apart from now on what is found with the most even scatterings.
   *
   * @param most of them, 1 or more
   */
  void watchDeepest(int most) {
    deepest = most;
  }

  /**
   * Starts a path at the camera.
   *
   * @param gain that all its light is multiplied by
   */
  void begin(float gain, float footprint, float growth) {
    lr = lg = lb = deep = cut = 0;
    tr = tg = tb = gain;
    this.gain = gain;
    scattered = diffuse = specular = transmitted = passed = 0;
    stopped = held = mirrored = partly = false;
    receives = -1;
    travelled = 0;
    width = footprint;
    spread = growth;
    absorption = null;
    if (parts != null) {
      parts.begin();
    }
  }

  /** Forgets the light that was found. */
  void forget() {
    lr = lg = lb = deep = cut = 0;
    if (parts != null) {
      parts.begin();
    }
  }

  /** Returns true if all surfaces on the way receive light of a group. */
  boolean receives(int group) {
    return (receives >> group & 1) != 0;
  }

  /** Goes on from where another path stood; the light found stays. */
  void branch(Path o) {
    tr = o.tr;
    tg = o.tg;
    tb = o.tb;
    scattered = o.scattered;
    diffuse = o.diffuse;
    specular = o.specular;
    transmitted = o.transmitted;
    mirrored = o.mirrored;
    receives = o.receives;
    passed = o.passed;
    lightRays = o.lightRays;
    width = o.width;
    spread = o.spread;
    absorption = o.absorption;
    partly = false;
  }

  void scale(float r, float g, float b) {
    tr *= r;
    tg *= g;
    tb *= b;
  }

  void scale(float k) {
    scale(k, k, k);
  }

  /** Returns how much is left of the strongest colour's light, 1 where the path began. */
  float strongest() {
    return Math.max(tr, Math.max(tg, tb)) / gain;
  }

  /**
   * Adds light that comes along the path, limited if it is indirect.
   *
   * @param emitted true if it comes from an object or a lamp, false if from the environment
   * @param group light group that it belongs to
   */
  void add(float r, float g, float b, boolean emitted, int group) {
    add(r, g, b, scattered);
    if (parts == null) {
      return;
    }
    if (scattered == 0) {
      parts.seen(emitted, group, cr, cg, cb);
    } else {
      parts.followed(scattered == 1, group, cr, cg, cb);
    }
  }

  /**
   * Adds light that is scattered once more before it comes along the path.
   *
   * @param s the surface as it scatters it; null if it does so evenly
   */
  void addScattered(float r, float g, float b, Surface s, int group) {
    add(r, g, b, scattered + 1);
    if (diffuse == deepest - 1) {
      deep +=
          s == null
              ? Luminance.of(cr, cg, cb)
              : Luminance.of(cr * s.evenPart(0), cg * s.evenPart(1), cb * s.evenPart(2));
    }
    if (parts == null) {
      return;
    }
    if (scattered == 0) {
      parts.lit(s, group, cr, cg, cb);
    } else {
      parts.followed(false, group, cr, cg, cb);
    }
  }

  /**
   * Adds light that other surfaces have sent to an evenly scattering one, as it was baked.
   *
   * @param shallow part of it that has not come with the most even scatterings, 0 .. 1
   */
  void addBaked(float r, float g, float b, float shallow) {
    // Smooth by itself: nothing is to be limited.
    add(r, g, b, 0);
    deep += (1 - shallow) * Luminance.of(cr, cg, cb);
    if (parts == null) {
      return;
    }
    if (scattered == 0) {
      parts.baked(cr, cg, cb);
    } else {
      parts.followed(false, parts.rest(), cr, cg, cb);
    }
  }

  private void add(float r, float g, float b, int bounces) {
    cr = tr * r;
    cg = tg * g;
    cb = tb * b;
    if (bounces > 1 && clamp > 0) {
      float y = Luminance.of(cr, cg, cb);
      if (y > clamp) {
        float k = clamp / y;
        cut += y - clamp;
        cr *= k;
        cg *= k;
        cb *= k;
      }
    }
    lr += cr;
    lg += cg;
    lb += cb;
    if (diffuse == deepest) {
      deep += Luminance.of(cr, cg, cb);
    }
  }

  /** Dims the path by what the volume around it absorbs over a distance. */
  void absorb(float distance) {
    if (absorption != null) {
      scale(
          FastMath.exp(-absorption[0] * distance),
          FastMath.exp(-absorption[1] * distance),
          FastMath.exp(-absorption[2] * distance));
    }
  }

  /** Counts a scattering. */
  void count(Scatter kind, float roughness) {
    scattered++;
    travelled = 0;
    mirrored = kind == Scatter.SPECULAR;
    evenly = kind == Scatter.DIFFUSE;
    switch (kind) {
      case DIFFUSE -> {
        diffuse++;
        spread = Math.max(spread, DIFFUSE_SPREAD);
      }
      case SPECULAR -> {
        specular++;
        spread += ROUGH_SPREAD * roughness * roughness;
      }
      case TRANSMISSION -> {
        transmitted++;
        spread += ROUGH_SPREAD * roughness * roughness;
      }
    }
  }

  /** Counts the last scattering as a mirrored one: what is left of it is. */
  void mirroredAfterAll() {
    if (evenly) {
      evenly = false;
      diffuse--;
      specular++;
    }
  }
}
