package posada.core.trace.bake;

import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Trig;
import posada.core.irradiance.LightFit;
import posada.core.irradiance.LightLookup;
import posada.core.irradiance.LightPoints;
import posada.core.light.Luminance;
import posada.core.settings.Irradiance;
import posada.core.settings.RenderSettings;
import posada.core.trace.path.PathTracer;
import posada.core.trace.path.Probe;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/**
 * Finds surfaces that need a light point, and the light that reaches them: directions are spread
 * evenly and, where there are windows, chosen through their panes too, or where paths around found
 * light; all count by their joint density (E. Veach, "Robust Monte Carlo Methods for Light
 * Transport Simulation", 1997, section 9.2.2). Scratch of one worker thread.
 */
final class Gather {
  /** Surfaces that one ray from the camera is followed over. */
  static final int DEPTH = 3;

  /** Directions by which it is decided how many are needed; and lights that are chosen. */
  static final int PILOT = 1024;

  /** Irradiance that a single path may find, over what there usually is: the rest is shared. */
  private static final double RARE = 64;

  /** How much larger the error may be of a point that no camera sees: many paths end there. */
  private static final double UNSEEN = 2;

  /** Share of the directions that are chosen through window panes, where there are any. */
  private static final float PANES = 0.4f;

  private static final float INV_PI = (float) (1 / Math.PI);

  /** Least share of the light that a surface is taken to send on. */
  private static final float LEAST_SHADE = 0.02f;

  /** Smallest and largest radius of a point, in pixels where it is seen. */
  static final float LEAST_PIXELS = 2;

  private static final float MOST_PIXELS = 24;

  /** How much larger than wanted a point may be that is only seen in mirrors. */
  private static final float COARSER = 2;

  /** Height above the surface at which obstacles are felt for: in rounding errors, and in radii. */
  private static final float CLEAR_OF_ROUNDING = 4;

  private static final float LIFT = 0.03f;

  private final Probe probe;
  private final Stage stage;
  private final View view;
  private final Irradiance settings;
  private final int seed;
  private final LightLookup known;
  private final LightLookup tried;
  private final int limit;
  private final float dark;
  private final LitRegions guides;

  /** What the paths of this point found. */
  final LitRegions.Collector found = new LitRegions.Collector();

  private final ShadingFrame frame = new ShadingFrame();
  private final Ray feeler = new Ray();
  private final float[] way = new float[3];

  private final LightFit fit = new LightFit();
  private final float[] light = new float[3];
  private final float[] radiance = new float[3];

  /** The point that is made, and what its paths have found so far. */
  private float[] out;

  private PathSums sums;

  /** True if no points light yet: what is found is one bounce short, which the next round adds. */
  private final boolean first;

  private boolean paned;

  /** Where light comes from here; null if that is not known. */
  private LitDirections guide;

  /** Standard error that is wanted here, over the irradiance. */
  private double tolerance;

  /**
   * @param known points that are there
   * @param guides where light comes from; null if that is to be found
   * @param tried points whose light was tried out with few paths; null if that is to be done
   * @param limit most paths of a point
   * @param dark irradiance that noise is measured against
   */
  Gather(
      PathTracer tracer,
      Stage stage,
      View view,
      RenderSettings s,
      int seed,
      LightLookup known,
      LitRegions guides,
      LightLookup tried,
      int limit,
      float dark) {
    this.dark = dark;
    this.limit = limit;
    this.guides = guides;
    first = stage.baked() == null;
    this.tried = tried;
    this.stage = stage;
    this.view = view;
    settings = s.irradiance();
    this.seed = seed;
    this.known = known;
    probe = new Probe(tracer, s.bounces().diffuse());
  }

  /** Hears of a surface that needs a point. */
  interface Wanting {
    /**
     * @param depth how many surfaces the ray was followed over before
     * @param width of a pixel there, metres
     */
    void at(int depth, SurfacePoint p, float width);
  }

  /**
   * Follows the ray through a pixel's centre and tells which surfaces on it need a point.
   *
   * @param surfaces that the ray is followed over, 1 .. {@link #DEPTH}
   */
  void look(int x, int y, int surfaces, Wanting wanting) {
    start(x, y, 0);
    for (int depth = 0; depth < surfaces && next(depth); depth++) {
      SurfacePoint p = probe.point();
      if (probe.scattersEvenly()
          && known.look(
                  p.x,
                  p.y,
                  p.z,
                  p.gx,
                  p.gy,
                  p.gz,
                  LightLookup.PLENTY,
                  LightLookup.COARSEST * probe.width())
              < LightLookup.PLENTY) {
        wanting.at(depth, p, probe.width());
      }
    }
  }

  /**
   * Follows the ray through a pixel's centre to the first surface and from there to any other, and
   * tells if that needs a point.
   *
   * @param turn 1, 2, .. for other directions each time
   */
  void lookAside(int x, int y, int turn, Wanting wanting) {
    if (aside(x, y, turn)) {
      SurfacePoint p = probe.point();
      float any = Float.POSITIVE_INFINITY, enough = LightLookup.PLENTY;
      if (known.look(p.x, p.y, p.z, p.gx, p.gy, p.gz, enough, any) < enough) {
        wanting.at(0, p, probe.width());
      }
    }
  }

  /** Goes to a surface that one that the camera sees is lit by; returns false if there is none. */
  private boolean aside(int x, int y, int turn) {
    start(x, y, turn);
    if (!next(0) || !probe.scattersEvenly()) {
      return false;
    }
    SurfacePoint p = probe.point();
    frame.set(p.gx, p.gy, p.gz);
    probe.sampler().next();
    even(probe.sampler().u, probe.sampler().v);
    probe.leave(way);
    float fx = p.x, fy = p.y, fz = p.z;
    if (!next(0) || !probe.scattersEvenly()) {
      return false;
    }
    float far = (p.x - fx) * (p.x - fx) + (p.y - fy) * (p.y - fy) + (p.z - fz) * (p.z - fz);
    // No pixel is seen there: coarse enough for what it lights.
    probe.setWidth(2 * (float) settings.accuracy() / MOST_PIXELS * (float) Math.sqrt(far));
    return true;
  }

  private void start(int x, int y, int sample) {
    probe.aim(view, x, y, sample, seed);
  }

  /** Goes on to a surface; from the one before by its mirroring parts alone. */
  private boolean next(int depth) {
    return (depth == 0 || probe.mirror()) && probe.meet();
  }

  /**
   * Returns a light point of the surface that was told before.
   *
   * @param turn of looking aside; 0 if it is seen from the camera or in mirrors
   * @param soFar what its paths have found so far; that of more paths is added
   * @param self its number among the points that were tried out; -1 if it is none of them
   * @return null if it is not there any more, which rounding may do
   */
  float[] point(int x, int y, int depth, int turn, PathSums soFar, int self) {
    if (turn > 0 ? !aside(x, y, turn) : !seen(x, y, depth)) {
      return null;
    }
    SurfacePoint p = probe.point();
    float width = probe.width();
    sums = soFar;
    out = new float[LightPoints.STRIDE];
    out[0] = p.x;
    out[1] = p.y;
    out[2] = p.z;
    out[3] = p.gx;
    out[4] = p.gy;
    out[5] = p.gz;
    frame.set(p.gx, p.gy, p.gz);
    probe.keep();
    tolerance = settings.tolerance() * (turn > 0 ? UNSEEN : 1);
    guide = guides == null ? null : guides.at(out);
    found.clear();
    paned = probe.hasPanes();
    chooseLights();
    sums.limit(first ? Double.POSITIVE_INFINITY : RARE * (usual() + dark));
    follow(self);
    sums.store(out);
    float near = (float) Math.max(1e-6, sums.near());
    float wanted = (float) settings.accuracy() / near;
    float least = LEAST_PIXELS * width;
    if (depth > 0) {
      // A rough mirror's pixels are wide: what it shows may be seen sharply from elsewhere.
      least = Math.min(least, COARSER * wanted);
    }
    float radius = Math.max(least, Math.min(MOST_PIXELS * width, wanted));
    out[LightPoints.RADIUS] = radius;
    feel(radius);
    return out;
  }

  /** Returns the irradiance here, luminance, that the first round has found. */
  private double usual() {
    LightLookup before = tried == null ? known : tried;
    before.leaveOut(-1);
    if (look(before) <= 0) {
      return 0;
    }
    before.fit(false, 0, fit);
    fit.irradiance(out[3], out[4], out[5], light);
    return Luminance.of(light[0], light[1], light[2]);
  }

  private float look(LightLookup l) {
    float any = Float.POSITIVE_INFINITY;
    return l.look(out[0], out[1], out[2], out[3], out[4], out[5], any, any);
  }

  private boolean seen(int x, int y, int depth) {
    start(x, y, 0);
    boolean there = true;
    for (int d = 0; d <= depth && there; d++) {
      there = next(d);
    }
    return there;
  }

  /**
   * Follows as many paths as the noise of the points around asks for. What its own paths have found
   * must not decide: points that happen to miss what is rare and bright would stop early and those
   * that met it go on until it counts for little, and all together would be too dark. Only a point
   * without any around goes by itself.
   */
  private void follow(int self) {
    followUpTo(Math.min(PILOT, limit));
    double error = sums.error();
    if (tried != null) {
      double around = around(self);
      double noise = around > 0 ? around : sums.error(PILOT);
      followUpTo((int) Math.min(limit, PILOT * Math.pow(noise / tolerance, 2)));
      error = Math.max(sums.error(), around * Math.sqrt(PILOT / (double) sums.paths()));
    }
    out[LightPoints.ERROR] = (float) error;
  }

  private void followUpTo(int n) {
    while (sums.paths() < n) {
      followOne(sums.paths());
      sums.count();
    }
  }

  /** Returns the standard error that points around had when they were tried out. */
  private double around(int self) {
    tried.leaveOut(self);
    return look(tried) > 0 ? tried.error() : 0;
  }

  /** Follows one path. */
  private void followOne(int s) {
    SurfacePoint p = probe.point();
    probe.sampler().start(s);
    probe.sampler().next();
    float u = probe.sampler().u, v = probe.sampler().v;
    probe.sampler().third();
    float guided = guide == null ? 0 : guide.share;
    if (probe.sampler().u < guided) {
      guide.choose(u, v, way);
    } else if (paned && probe.sampler().u < guided + (1 - guided) * PANES) {
      probe.paneDirection(u, v, way);
    } else {
      even(u, v);
    }
    float dx = way[0], dy = way[1], dz = way[2];
    float cos = dx * p.gx + dy * p.gy + dz * p.gz;
    if (!(cos > 0)) {
      return;
    }
    // As dark as the surface makes it, so that limits on what is bright mean the same.
    float shade = Math.max(LEAST_SHADE, shade());
    float unguided = unguided(dx, dy, dz, cos);
    float density = unguided;
    if (guide != null) {
      density += guide.share * (guide.density(dx, dy, dz) - unguided);
    }
    float near = probe.follow(way, shade, first ? 1 : 0, unguided, radiance);
    float in = probe.entering(cos) / shade / density;
    sums.addStraight(way, radiance, in);
    light[0] = probe.light(0) * in * cos;
    light[1] = probe.light(1) * in * cos;
    light[2] = probe.light(2) * in * cos;
    sums.add(way, light, near * cos / density * INV_PI, out);
    sums.addDeep(probe.deep() * in * cos);
    float y = Luminance.of(light[0], light[1], light[2]);
    float stretch = LitDirections.stretch(dx, dy, dz);
    found.add(LitDirections.cell(dx, dy, dz), y * y * density * stretch);
  }

  /** Chooses a direction with a density that is even on the surface. */
  private void even(float u, float v) {
    float sin = (float) Math.sqrt(v), up = (float) Math.sqrt(1 - v);
    frame.toWorld(sin * Trig.cosTurns(u), sin * Trig.sinTurns(u), up);
    way[0] = frame.rx;
    way[1] = frame.ry;
    way[2] = frame.rz;
  }

  /**
   * Returns the density of paths that follow no guide. Lights that are chosen and those that paths
   * meet count by it, whichever guide led a path: they must agree on how they share.
   *
   * @param cos of the direction to the normal
   */
  private float unguided(float dx, float dy, float dz, float cos) {
    float d = cos * INV_PI;
    return paned ? d + PANES * (probe.paneDensity(dx, dy, dz) - d) : d;
  }

  /** Finds the light that comes straight from lights, as far as paths are not to meet it. */
  private void chooseLights() {
    SurfacePoint p = probe.point();
    for (int s = sums.choices(); s < PILOT; s++) {
      sums.countChoice();
      if (probe.lit(s, way, radiance)) {
        float cos = way[0] * p.gx + way[1] * p.gy + way[2] * p.gz;
        float in = probe.entering(cos) * probe.weight(unguided(way[0], way[1], way[2], cos));
        sums.addChosen(way, radiance, in);
      }
    }
  }

  private float shade() {
    return Luminance.of(probe.evenly(0), probe.evenly(1), probe.evenly(2));
  }

  /** Feels in all directions along the surface how far nothing is in the way. */
  private void feel(float radius) {
    SurfacePoint p = probe.point();
    float lift = Math.max(CLEAR_OF_ROUNDING * p.offset, LIFT * radius);
    float reach = LightLookup.REACH * radius;
    for (int k = 0; k < LightPoints.SECTORS; k++) {
      LightLookup.direction(k, frame);
      feeler.time = 0.5f;
      feeler.set(
          out[0] + lift * out[3],
          out[1] + lift * out[4],
          out[2] + lift * out[5],
          frame.rx,
          frame.ry,
          frame.rz,
          reach);
      stage.top().intersect(feeler);
      out[LightPoints.CLEARANCE + k] = feeler.hit() ? feeler.tMax : reach;
    }
  }
}
