package posada.core.trace;

import java.util.Arrays;
import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Trig;
import posada.core.irradiance.LightLookup;
import posada.core.irradiance.LightPoints;
import posada.core.light.Luminance;
import posada.core.material.Scatter;
import posada.core.trace.RenderSettings.Irradiance;

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
  private static final int PILOT = 1024;

  /** Error over what was wanted from which on more paths are followed than were thought enough. */
  private static final double LATE = 2;

  /** How much larger the error may be of a point that no camera sees: many paths end there. */
  private static final double UNSEEN = 2;

  /** Share of the directions that are chosen through window panes, where there are any. */
  private static final float PANES = 0.4f;

  private static final float INV_PI = (float) (1 / Math.PI);

  /** Irradiance of what is about as dark as can be seen, that noise is measured against. */
  static final float DARK = 0.15f;

  /** Least share of the light that a surface is taken to send on. */
  private static final float LEAST_SHADE = 0.02f;

  /** Least cosine that a flux along the surface is divided by. */
  private static final float GRAZING = 0.15f;

  /** Smallest and largest radius of a point, in pixels where it is seen. */
  static final float LEAST_PIXELS = 2;

  private static final float MOST_PIXELS = 24;

  /** How much larger than wanted a point may be that is only seen in mirrors. */
  private static final float COARSER = 2;

  /** Height above the surface at which obstacles are felt for: in rounding errors, and in radii. */
  private static final float CLEAR_OF_ROUNDING = 4;

  private static final float LIFT = 0.03f;

  private final PathTracer t;
  private final Stage stage;
  private final View view;
  private final Irradiance settings;
  private final int seed;
  private final LightLookup known;
  private final LightLookup tried;
  private final LitRegions guides;

  /** What the paths of this point found. */
  final LitRegions.Collector found = new LitRegions.Collector();

  private final ShadingFrame frame = new ShadingFrame();
  private final Path from;
  private final Ray feeler = new Ray();
  private final float[] way = new float[3];

  // Of each sample: direction, and light times cosine over density.
  private final float[] directions, light;

  /** Sum of the flux of light that comes straight from lights. */
  private final double[] straight = new double[9];

  private final float[] radiance = new float[3];

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
   */
  Gather(
      PathTracer t,
      Stage stage,
      View view,
      RenderSettings s,
      int seed,
      LightLookup known,
      LitRegions guides,
      LightLookup tried) {
    this.guides = guides;
    first = stage.baked() == null;
    this.tried = tried;
    this.t = t;
    this.stage = stage;
    this.view = view;
    settings = s.irradiance();
    this.seed = seed;
    this.known = known;
    from = new Path(0, null);
    int most = settings.paths();
    directions = new float[3 * most];
    light = new float[3 * most];
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
      SurfacePoint p = t.first.point;
      if (t.first.surface.scattersEvenly()
          && known.look(
                  p.x,
                  p.y,
                  p.z,
                  p.gx,
                  p.gy,
                  p.gz,
                  LightLookup.PLENTY,
                  LightLookup.COARSEST * t.path.width)
              < LightLookup.PLENTY) {
        wanting.at(depth, p, t.path.width);
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
      SurfacePoint p = t.first.point;
      float any = Float.POSITIVE_INFINITY, enough = LightLookup.PLENTY;
      if (known.look(p.x, p.y, p.z, p.gx, p.gy, p.gz, enough, any) < enough) {
        wanting.at(0, p, t.path.width);
      }
    }
  }

  /** Goes to a surface that one that the camera sees is lit by; returns false if there is none. */
  private boolean aside(int x, int y, int turn) {
    start(x, y, turn);
    if (!next(0) || !t.first.surface.scattersEvenly()) {
      return false;
    }
    SurfacePoint p = t.first.point;
    frame.set(p.gx, p.gy, p.gz);
    t.sampler.next();
    float u = t.sampler.u;
    t.sampler.next();
    even(u, t.sampler.u);
    p.leave(t.ray, way[0], way[1], way[2], Float.POSITIVE_INFINITY);
    float fx = p.x, fy = p.y, fz = p.z;
    if (!next(0) || !t.first.surface.scattersEvenly()) {
      return false;
    }
    float far = (p.x - fx) * (p.x - fx) + (p.y - fy) * (p.y - fy) + (p.z - fz) * (p.z - fz);
    // No pixel is seen there: coarse enough for what it lights.
    t.path.width = 2 * (float) settings.accuracy() / MOST_PIXELS * (float) Math.sqrt(far);
    return true;
  }

  private void start(int x, int y, int sample) {
    t.sampler.pixel(x, y, RenderSettings.MOST_SAMPLES, seed);
    t.sampler.start(sample);
    view.aim(x + 0.5f, y + 0.5f, 0, 0, 0.5f, t.place, t.ray);
    t.path.begin(view.footprint(0), view.spread());
  }

  /** Goes on to a surface; from the one before by its mirroring parts alone. */
  private boolean next(int depth) {
    if (depth > 0) {
      boolean goes = t.scatter(t.first);
      if (!goes || t.path.diffuse > 0) {
        return false;
      }
    }
    return t.meet(t.first) && t.prepare(t.first) && !t.first.point.instance.catcher;
  }

  /**
   * Returns a light point of the surface that was told before.
   *
   * @param turn of looking aside; 0 if it is seen from the camera or in mirrors
   * @return null if it is not there any more, which rounding may do
   */
  float[] point(int x, int y, int depth, int turn) {
    if (turn > 0 ? !aside(x, y, turn) : !seen(x, y, depth)) {
      return null;
    }
    SurfacePoint p = t.first.point;
    float width = t.path.width;
    float[] out = new float[LightPoints.STRIDE];
    out[0] = p.x;
    out[1] = p.y;
    out[2] = p.z;
    out[3] = p.gx;
    out[4] = p.gy;
    out[5] = p.gz;
    frame.set(p.gx, p.gy, p.gz);
    from.branch(t.path);
    tolerance = settings.tolerance() * (turn > 0 ? UNSEEN : 1);
    guide = guides == null ? null : guides.at(out);
    found.clear();
    straight(out);
    float near = sampled(out);
    float wanted = (float) settings.accuracy() / near;
    float least = LEAST_PIXELS * width;
    if (depth > 0) {
      // A rough mirror's pixels are wide: what it shows may be seen sharply from elsewhere.
      least = Math.min(least, COARSER * wanted);
    }
    float radius = Math.max(least, Math.min(MOST_PIXELS * width, wanted));
    out[LightPoints.RADIUS] = radius;
    feel(out, radius);
    return out;
  }

  private boolean seen(int x, int y, int depth) {
    start(x, y, 0);
    boolean there = true;
    for (int d = 0; d <= depth && there; d++) {
      there = next(d);
    }
    return there;
  }

  /** Sums the light up; returns the mean of one over the distance that it comes from. */
  private float sampled(float[] out) {
    double near = 0;
    Arrays.fill(straight, 0);
    int n = Math.min(PILOT, settings.paths());
    for (int s = 0; s < n; s++) {
      near += follow(s);
    }
    double error = sum(out, n);
    int all = n;
    if (tried != null) {
      // Few paths miss what is rare and bright; of those around, some have met it.
      double around = around(out);
      // Decided once: whoever stops when it looks good stops too early where light is rare.
      double more = n * Math.pow(Math.max(error, around) / tolerance, 2);
      all = (int) Math.min(settings.paths(), Math.max(n, more));
      for (int s = n; s < all; s++) {
        near += follow(s);
      }
      error = sum(out, all);
      // Unless a rare bright path came late: then the more the better.
      while (error > LATE * tolerance && all < settings.paths()) {
        int from = all;
        all = Math.min(settings.paths(), 2 * all);
        for (int s = from; s < all; s++) {
          near += follow(s);
        }
        error = sum(out, all);
      }
      error = Math.max(error, around * Math.sqrt(n / (double) all));
    }
    for (int i = 0; i < 9; i++) {
      out[LightPoints.DIRECT + i] += (float) (straight[i] / all);
    }
    out[LightPoints.ERROR] = (float) error;
    return (float) Math.max(1e-6, near / all);
  }

  /** Returns the standard error that points around had when they were tried out. */
  private double around(float[] out) {
    float any = Float.POSITIVE_INFINITY;
    return tried.look(out[0], out[1], out[2], out[3], out[4], out[5], any, any) > 0
        ? tried.error()
        : 0;
  }

  /**
   * Follows one path.
   *
   * @return its part of the mean of one over the distance to what is met first, 0 if that is
   *     nothing
   */
  private float follow(int s) {
    SurfacePoint p = t.first.point;
    t.sampler.start(s);
    t.sampler.next();
    float u = t.sampler.u, v = t.sampler.v;
    t.sampler.next();
    float guided = guide == null ? 0 : guide.share;
    if (t.sampler.u < guided) {
      guide.choose(u, v, way);
    } else if (paned && t.sampler.u < guided + (1 - guided) * PANES) {
      t.first.choice.paneDirection(u, v, way);
    } else {
      even(u, v);
    }
    float dx = way[0], dy = way[1], dz = way[2];
    float cos = dx * p.gx + dy * p.gy + dz * p.gz;
    directions[3 * s] = dx;
    directions[3 * s + 1] = dy;
    directions[3 * s + 2] = dz;
    light[3 * s] = light[3 * s + 1] = light[3 * s + 2] = 0;
    if (!(cos > 0)) {
      return 0;
    }
    // As dark as the surface makes it, so that limits on what is bright mean the same.
    float shade = Math.max(LEAST_SHADE, shade());
    t.path.branch(from);
    t.path.width = 0;
    t.path.forget();
    t.path.tr = t.path.tg = t.path.tb = shade;
    t.path.count(Scatter.DIFFUSE, 1);
    t.path.diffuse += first ? 1 : 0;
    t.path.receives &= p.instance.receives;
    t.ray.time = 0.5f;
    p.leave(t.ray, dx, dy, dz, Float.POSITIVE_INFINITY);
    float density = density(dx, dy, dz, cos);
    float near = t.walkUnlit(density, radiance);
    float in = t.first.surface.entering(cos) / shade / density;
    for (int c = 0; c < 3; c++) {
      straight[3 * c] += radiance[c] * in * dx;
      straight[3 * c + 1] += radiance[c] * in * dy;
      straight[3 * c + 2] += radiance[c] * in * dz;
    }
    float weight = cos / density;
    float k = in * cos;
    light[3 * s] = t.path.lr * k;
    light[3 * s + 1] = t.path.lg * k;
    light[3 * s + 2] = t.path.lb * k;
    if (first) {
      float y = Luminance.of(t.path.lr, t.path.lg, t.path.lb) * k;
      float stretch = LitDirections.stretch(dx, dy, dz);
      found.add(LitDirections.cell(dx, dy, dz), y * y * density * stretch);
    }
    return near * weight * INV_PI;
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
   * Returns the density of paths.
   *
   * @param cos of the direction to the normal
   */
  private float density(float dx, float dy, float dz, float cos) {
    float d = cos * INV_PI;
    if (paned) {
      d += PANES * (t.first.choice.paneDensity(dx, dy, dz) - d);
    }
    return guide == null ? d : d + guide.share * (guide.density(dx, dy, dz) - d);
  }

  /**
   * Stores the flux of the light that comes straight from lights that are chosen; that of lights
   * which paths meet is added to it.
   */
  private void straight(float[] out) {
    SurfacePoint p = t.first.point;
    Arrays.fill(straight, 0);
    paned = t.first.choice.hasPanes();
    for (int s = 0; s < PILOT; s++) {
      t.sampler.start(s);
      t.ray.time = 0.5f;
      if (!t.arriving(t.first, way, radiance)) {
        continue;
      }
      float cos = way[0] * p.gx + way[1] * p.gy + way[2] * p.gz;
      float in = t.first.surface.entering(cos) * t.chosen(density(way[0], way[1], way[2], cos));
      for (int c = 0; c < 3; c++) {
        for (int k = 0; k < 3; k++) {
          straight[3 * c + k] += radiance[c] * in * way[k];
        }
      }
    }
    for (int i = 0; i < 9; i++) {
      out[LightPoints.DIRECT + i] = (float) (straight[i] / PILOT);
    }
  }

  private float shade() {
    return Luminance.of(
        t.first.surface.evenly(0), t.first.surface.evenly(1), t.first.surface.evenly(2));
  }

  /** Stores the flux of the first samples; returns the standard error of irradiance over it. */
  private double sum(float[] out, int n) {
    double[] flux = new double[9];
    double mean = 0;
    double squares = 0;
    float nx = out[3], ny = out[4], nz = out[5];
    for (int s = 0; s < n; s++) {
      float dx = directions[3 * s], dy = directions[3 * s + 1], dz = directions[3 * s + 2];
      float cos = dx * nx + dy * ny + dz * nz;
      float flat = 1 / Math.max(GRAZING, cos);
      // The part along the normal is exact, that along the surface tamed.
      float ax = (dx - cos * nx) * flat + nx;
      float ay = (dy - cos * ny) * flat + ny;
      float az = (dz - cos * nz) * flat + nz;
      for (int c = 0; c < 3; c++) {
        double e = light[3 * s + c] / (double) n;
        flux[3 * c] += e * ax;
        flux[3 * c + 1] += e * ay;
        flux[3 * c + 2] += e * az;
      }
      double y = Luminance.of(light[3 * s], light[3 * s + 1], light[3 * s + 2]);
      mean += y / n;
      squares += y * y / n;
    }
    for (int i = 0; i < 9; i++) {
      out[LightPoints.FLUX + i] = (float) flux[i];
    }
    return Math.sqrt(Math.max(0, squares - mean * mean) / n) / (mean + DARK);
  }

  /** Feels in all directions along the surface how far nothing is in the way. */
  private void feel(float[] out, float radius) {
    SurfacePoint p = t.first.point;
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
