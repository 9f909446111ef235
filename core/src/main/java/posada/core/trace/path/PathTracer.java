package posada.core.trace.path;

import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.irradiance.LightFit;
import posada.core.light.EnvironmentLight;
import posada.core.light.LightSet;
import posada.core.material.Surface;
import posada.core.parallel.Stop;
import posada.core.settings.Bounces;
import posada.core.settings.Multipliers;
import posada.core.settings.Pass;
import posada.core.settings.RayKind;
import posada.core.settings.RenderSettings;
import posada.core.trace.film.Film;
import posada.core.trace.film.LightParts;
import posada.core.trace.stage.LightGroups;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/**
 * Follows paths from the camera: at each surface lights are chosen and a direction is scattered. At
 * the first surface a path may split. One object for each worker thread.
 */
public final class PathTracer {
  /** From this scattering on, dim paths are ended by chance. */
  private static final int ROULETTE_FROM = 3;

  /** Part of its light below which a path is dim. */
  private static final float DIM = 0.1f;

  /** Numbers that no path uses. */
  private static final int AROUND_BRANCH = 0x4f1bbcdc;

  /**
   * Samples of a pixel between two looks at whether to stop: milliseconds before it is compiled.
   */
  private static final int BETWEEN_STOPS = 16;

  /** What the odds of even scattering are multiplied by where a part, or all, of it is baked. */
  private static final float PARTLY_BAKED = 0.3f;

  private static final float FULLY_BAKED = 0.1f;

  /** Part of the rays that are scattered through window panes, where there are any. */
  private static final float PANES = 0.3f;

  /** Roughness above which mirrored light comes from nearly everywhere. */
  private static final float WIDE = 0.5f;

  private final Stage stage;
  private final View view;
  private final RenderSettings settings;
  private final Bounces bounces;
  private final PixelFilter filter;
  private final EnvironmentLight around;
  private final boolean blurred;
  private final int seed;
  final SobolSampler sampler;
  final View.Place place = new View.Place();
  final Ray ray = new Ray();
  private final float[] rgb = new float[3];
  final Vertex first;
  private final Vertex next;
  final Segments segments;
  final DirectLight direct;
  final Path path;
  private final LightGroups groups;

  /** Null if the light is not taken apart. */
  private final LightParts parts;

  private final DataPasses data;

  /** Baked light; null if there is none. */
  private final KnownLight known;

  /** The path as it was when it met the first surface. */
  private final Path kept;

  /** Null if nobody asks where the time goes. */
  private final Effort.Watch watch;

  /**
   * @param top the stage's hierarchy, or a copy of it
   */
  public PathTracer(
      Stage stage,
      InstanceBvh top,
      View view,
      RenderSettings settings,
      PixelFilter filter,
      int seed,
      Strategy strategy) {
    this(stage, top, view, settings, filter, seed, strategy, null);
  }

  /**
   * @param effort hears where rays and time go; null for nobody
   */
  public PathTracer(
      Stage stage,
      InstanceBvh top,
      View view,
      RenderSettings settings,
      PixelFilter filter,
      int seed,
      Strategy strategy,
      Effort effort) {
    watch = effort == null ? null : effort.watch();
    this.filter = filter;
    this.stage = stage;
    this.view = view;
    this.settings = settings;
    this.seed = seed;
    bounces = settings.bounces();
    ray.met = stage.met;
    sampler = new SobolSampler(settings.sampling().pattern());
    LightSet lights = stage.lights();
    around = lights.environmentLight();
    blurred = settings.shutter().open();
    first = new Vertex(lights);
    next = new Vertex(lights);
    groups = stage.groups();
    boolean apart = settings.passes().apart() || settings.guided();
    parts = apart ? new LightParts(groups.names().size()) : null;
    path = new Path(bounces.indirectClamp(), parts);
    segments = new Segments(stage, top, settings, strategy, sampler, ray, path);
    direct = new DirectLight(stage, top, settings, strategy, sampler, ray, path);
    kept = new Path(0, null);
    data = new DataPasses(stage, top, view, settings);
    known = stage.baked() == null ? null : new KnownLight(stage.baked());
  }

  /**
   * Adds samples {@code begin} to {@code to - 1} of one pixel of the picture to the film.
   *
   * @param stop looked at now and then; once it is asked for the pixel is left unfinished
   */
  public void pixel(Film film, int x, int y, int begin, int to, Stop stop) {
    int at = film.index(x, y);
    if (begin == 0) {
      data.centre(film, x, y, at);
    }
    if (known != null) {
      known.begin();
    }
    long start = film.wants(Pass.TIME) ? System.nanoTime() : 0;
    if (watch != null) {
      watch.begin(rays());
    }
    sampler.pixel(x, y, settings.sampling().most(), seed);
    for (int s = begin; s < to; s++) {
      if (s % BETWEEN_STOPS == 0 && stop.asked()) {
        return;
      }
      sampler.start(s);
      sampler.next();
      float px = x + 0.5f + filter.offset(sampler.u), py = y + 0.5f + filter.offset(sampler.v);
      float lensU = 0, lensV = 0;
      if (view.hasLens()) {
        sampler.more();
        lensU = sampler.u;
        lensV = sampler.v;
      }
      float time = 0.5f;
      if (blurred) {
        sampler.next();
        time = sampler.u;
      }
      view.aim(px, py, lensU, lensV, time, place, ray);
      trace(film, at);
    }
    if (watch != null) {
      watch.end(rays());
    }
    film.counts[at] = to;
    if (film.wants(Pass.TIME)) {
      film.add(Pass.TIME, 0, at, (System.nanoTime() - start) * 1e-3f);
    }
  }

  private long rays() {
    return segments.rays + direct.rays();
  }

  private void turn(RayKind next) {
    if (watch != null) {
      watch.turn(next, rays());
    }
  }

  private void trace(Film film, int at) {
    path.begin(view.gain, view.footprint(0), view.spread());
    float time = ray.time;
    boolean scatters = segments.meet(first);
    boolean caught = scatters && first.point.instance.catcher;
    boolean stopped = path.stopped && !caught;
    if (stopped) {
      data.sample(film, at, first.point, ray, time);
      if (parts != null) {
        parts.tint(first.point.values);
      }
    }
    direct.open = direct.lit = 0;
    if (caught) {
      // Only how much of the light comes counts.
      if (prepare(first)) {
        turn(RayKind.LIGHTS);
        direct.add(first, settings.multipliers().lights());
      }
      path.forget();
      film.caught(at, direct.open, direct.lit);
    } else if (scatters && prepare(first)) {
      split();
    }
    turn(RayKind.CAMERA);
    if (path.held) {
      path.forget();
      film.held(at);
    }
    if (parts != null) {
      parts.end();
    }
    if (film.add(at, path.lr, path.lg, path.lb, parts)) {
      film.cut(path.cut);
      film.shadow(at, direct.open, direct.lit);
      if (film.deep() && !path.held && !caught) {
        float depth = stopped ? data.depth(first.point, time) : Film.NOWHERE;
        film.deep(at, depth, path.lr, path.lg, path.lb);
      }
    }
    if (stopped && data.looksAround(film)) {
      // After the light, with numbers of its own, so that the picture is the same without it.
      int tile = sampler.tile();
      sampler.branch(tile, AROUND_BRANCH, 0);
      sampler.next();
      data.around(film, at, first.point, time, sampler.u, sampler.v);
      sampler.branch(tile, 0, 0);
    }
  }

  /** Lights the first surface and follows the rays that leave it. */
  private void split() {
    Multipliers m = settings.multipliers();
    Surface s = first.surface;
    s.multiply(m.diffuse(), m.specular(), m.transmission());
    turn(RayKind.LIGHTS);
    direct.add(first, m.lights());
    path.lightRays = m.lights();
    if (m.most() == 1) {
      if (scatter(first)) {
        walk();
      }
      return;
    }
    sampler.next();
    int n = (int) (s.rays + sampler.u);
    kept.branch(path);
    float time = ray.time;
    int dimension = sampler.dimension();
    int tile = sampler.tile();
    for (int i = 0; i < n; i++) {
      path.branch(kept);
      ray.time = time;
      sampler.branch(tile, i, dimension);
      if (scatter(first)) {
        walk();
      }
    }
    sampler.branch(tile, 0, dimension);
  }

  /** Follows the ray from surface to surface until the path ends. */
  void walk() {
    while (segments.meet(next)) {
      if (path.partly) {
        if (!leavesBaked()) {
          return;
        }
        path.mirroredAfterAll();
      }
      if (!prepare(next)) {
        return;
      }
      turn(RayKind.LIGHTS);
      direct.add(next, 1);
      path.lightRays = 1;
      if (!scatter(next)) {
        return;
      }
      if (path.scattered >= ROULETTE_FROM
          && path.strongest() < DIM
          && !survives(path.strongest() / DIM)) {
        return;
      }
    }
  }

  /**
   * Follows the ray without what it meets first, or sees on the way there, giving off light.
   *
   * @param density of the ray's direction, per steradian
   * @param straight becomes that light, as far as rays and not chosen lights are to find it
   * @return one over the distance to what it meets; 0 if it is nothing
   */
  float walkUnlit(float density, float[] straight) {
    float x = ray.ox, y = ray.oy, z = ray.oz;
    segments.from.copy(first.choice);
    path.scatterDensity = density;
    path.lightRays = 1;
    boolean met = segments.meet(next);
    straight[0] = path.lr;
    straight[1] = path.lg;
    straight[2] = path.lb;
    path.forget();
    if (!met || !prepare(next)) {
      return met ? near(x, y, z) : 0;
    }
    float near = near(x, y, z);
    direct.add(next, 1);
    path.lightRays = 1;
    if (scatter(next)) {
      walk();
    }
    return near;
  }

  private float near(float x, float y, float z) {
    float dx = next.point.x - x, dy = next.point.y - y, dz = next.point.z - z;
    return 1 / Math.max(1e-6f, (float) Math.sqrt(dx * dx + dy * dy + dz * dz));
  }

  /** Goes on by chance, brighter by as much as it is unlikely; returns false if the path ends. */
  private boolean survives(float odds) {
    sampler.next();
    if (sampler.u >= odds) {
      return false;
    }
    path.scale(1 / odds);
    return true;
  }

  /** Goes on with the part of the light that is not baked; returns false if there is none. */
  private boolean leavesBaked() {
    path.partly = false;
    float most = Math.max(path.restR, Math.max(path.restG, path.restB));
    sampler.next();
    if (sampler.u >= most) {
      return false;
    }
    float k = 1 / Math.min(1, most);
    path.scale(path.restR * k, path.restG * k, path.restB * k);
    return true;
  }

  /** Sets up scattering at a surface; returns false if the path ends there. */
  boolean prepare(Vertex v) {
    SurfacePoint p = v.point;
    v.allowed.diffuse = path.diffuse < bounces.diffuse();
    v.allowed.specular = path.specular < bounces.specular();
    v.allowed.transmission = path.transmitted < bounces.transmission() && !p.look.pane;
    if (!v.allowed.any()) {
      return false;
    }
    if (p.values.brushed > 0) {
      v.frame.set(p.nx, p.ny, p.nz, p.tx, p.ty, p.tz);
    } else {
      v.frame.set(p.nx, p.ny, p.nz);
    }
    if (p.values.coat > 0) {
      p.varnish(v.frame);
    }
    v.frame.toLocal(-ray.dx, -ray.dy, -ray.dz);
    float floor = path.diffuse > 0 ? (float) bounces.roughnessFloor() : 0;
    v.surface.set(
        p.values, p.front, floor, v.allowed, v.frame.rx, v.frame.ry, Math.max(1e-3f, v.frame.rz));
    float[] a = around.ambient();
    boolean lit = path.receives(groups.environmentLight()) && v.receives(groups.environmentLight());
    if (lit && v.allowed.diffuse && a[0] + a[1] + a[2] > 0) {
      float k = (1 - p.values.metallic) * (1 - p.values.transmission);
      float[] base = p.values.base;
      path.addScattered(
          k * base[0] * a[0],
          k * base[1] * a[1],
          k * base[2] * a[2],
          null,
          groups.environmentLight());
    }
    v.baked = known != null && mayBeBaked() && v.surface.scattersEvenly() && baked(v);
    v.full = v.baked && known.full;
    if (v.baked) {
      if (v.full && path.scattered > 0 && !survives(v.surface.unevenly())) {
        return false;
      }
      v.surface.favourUneven(v.full ? FULLY_BAKED : PARTLY_BAKED);
    }
    boolean through = p.look.transmits;
    float nx = through ? 0 : p.nx, ny = through ? 0 : p.ny, nz = through ? 0 : p.nz;
    v.choice.at(p.x, p.y, p.z, nx, ny, nz, path.scattered == 0);
    boolean wide = v.surface.scattersEvenly() && !v.baked || p.values.roughness > WIDE;
    v.guided = wide && !through && v.choice.hasPanes() ? PANES : 0;
    return true;
  }

  /** Returns false if so few bounces are left that no baked light has as few. */
  private boolean mayBeBaked() {
    return stage.bakedAt(path.diffuse)
        && (path.diffuse == 0 || path.diffuse < bounces.diffuse() - 1);
  }

  /** Adds baked light; returns false if there are no points around. */
  private boolean baked(Vertex v) {
    SurfacePoint p = v.point;
    // A surface on the way that some lights do not light is not to mirror them either.
    boolean apart = path.receives != -1;
    LightFit fit = known.at(p, path.scattered == 0, path.width, apart, stage.shorter(path.diffuse));
    if (fit == null) {
      return false;
    }
    fit.irradiance(p.nx, p.ny, p.nz, rgb);
    float k = (float) (1 / Math.PI);
    Surface s = v.surface;
    path.addBaked(
        rgb[0] * k * s.evenly(0),
        rgb[1] * k * s.evenly(1),
        rgb[2] * k * s.evenly(2),
        fit.shallow());
    return true;
  }

  /** Scatters the ray; returns false if the path ends. */
  boolean scatter(Vertex v) {
    Surface s = v.surface;
    SurfacePoint p = v.point;
    sampler.next();
    float u1 = sampler.u, u2 = sampler.v;
    sampler.third();
    float w = sampler.u;
    if (w < v.guided) {
      v.choice.paneDirection(u1, u2, rgb);
      v.frame.toLocal(rgb[0], rgb[1], rgb[2]);
      s.choose(v.frame.rx, v.frame.ry, v.frame.rz);
    } else if (!s.sample(u1, u2, (w - v.guided) / (1 - v.guided))) {
      return false;
    }
    v.frame.toWorld(s.ix, s.iy, s.iz);
    float dx = v.frame.rx, dy = v.frame.ry, dz = v.frame.rz;
    if (parts != null && path.scattered == 0) {
      parts.branch(s, v.baked, v.full);
    }
    path.scatterDensity = v.density(dx, dy, dz);
    if (!(path.scatterDensity > 0)) {
      return false;
    }
    float k = 1 / path.scatterDensity;
    path.scale(s.sum(0) * k, s.sum(1) * k, s.sum(2) * k);
    path.partly = v.baked;
    if (v.baked) {
      path.restR = 1 - s.evenPart(0);
      path.restG = 1 - s.evenPart(1);
      path.restB = 1 - s.evenPart(2);
      if (v.full && !leavesBaked()) {
        return false;
      }
    }
    if (!(path.strongest() > 0)) {
      return false;
    }
    boolean above = dx * p.gx + dy * p.gy + dz * p.gz > 0;
    if (above != s.iz > 0) {
      return false;
    }
    if (!above && p.look.material.encloses()) {
      path.absorption = p.front ? p.look.absorption : null;
    }
    turn(Effort.kind(s.kind));
    path.count(s.kind, p.values.roughness);
    if (v.full) {
      path.mirroredAfterAll();
    }
    path.receives &= p.instance.receives;
    segments.from.copy(v.choice);
    p.leave(ray, dx, dy, dz, Float.POSITIVE_INFINITY);
    return true;
  }
}
