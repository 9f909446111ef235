package posada.core.trace.path;

import java.util.Arrays;
import posada.core.geometry.FastMath;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Trig;
import posada.core.settings.OwnPass;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.trace.film.Film;
import posada.core.trace.stage.Motion;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/** Takes what is no light from the first surface. Scratch of one worker thread. */
final class DataPasses {
  private final Stage stage;
  private final InstanceBvh top;
  private final View view;
  private final PassSettings passes;
  private final int transparency;
  private final Ray ray = new Ray();
  private final SurfacePoint point;

  /** Number of the instance that {@link #meet} met last. */
  private int number;

  private final ShadingFrame frame = new ShadingFrame();
  private final View.Place place = new View.Place();
  private final float[] v = new float[3];

  /** Up to this roughness mirrors and glass show what is behind them. */
  private static final float CLEAR = 0.15f;

  /** Most mirrors and glass surfaces that are followed to a base colour. */
  private static final int MIRRORS = 8;

  /** Ramps of the user's own passes. */
  private final float[][] ramps;

  private final OwnPass[] own;

  /** True if a pass of the user's own sends rays to see how the surface bends. */
  private final boolean curved;

  DataPasses(Stage stage, InstanceBvh top, View view, RenderSettings settings) {
    this.stage = stage;
    this.top = top;
    this.view = view;
    passes = settings.passes();
    transparency = settings.bounces().transparency();
    point = new SurfacePoint();
    ray.met = stage.met;
    own = passes.wants(Pass.OWN) ? passes.own().values().toArray(new OwnPass[0]) : new OwnPass[0];
    ramps = Arrays.stream(own).map(OwnPass::table).toArray(float[][]::new);
    curved = Arrays.stream(own).anyMatch(o -> o.quantity() == OwnPass.Quantity.CURVATURE);
  }

  /** Stores what is taken at a pixel's centre, through a pinhole, in the middle of the exposure. */
  void centre(Film film, int x, int y, int at) {
    if (!film.wants(Pass.DEPTH)
        && !film.wants(Pass.POSITION)
        && !film.wants(Pass.TEXTURE_COORDINATES)
        && stage.next() == null
        && stage.previous() == null) {
      return;
    }
    float time = 0.5f;
    view.aim(x + 0.5f, y + 0.5f, 0, 0, time, place, ray);
    boolean met = meet(true);
    motion(film, x + 0.5f, y + 0.5f, at, met);
    if (!met) {
      film.set(Pass.DEPTH, 0, at, Film.NOWHERE);
      return;
    }
    film.set(Pass.DEPTH, 0, at, view.depth(point.x, point.y, point.z, time, place));
    film.set(Pass.POSITION, 0, at, point.x);
    film.set(Pass.POSITION, 1, at, point.y);
    film.set(Pass.POSITION, 2, at, point.z);
    if (film.wants(Pass.TEXTURE_COORDINATES)) {
      point.coordinates(0, v);
      film.set(Pass.TEXTURE_COORDINATES, 0, at, v[0]);
      film.set(Pass.TEXTURE_COORDINATES, 1, at, v[1]);
    }
  }

  /** Stores where a pixel's centre comes from and goes to. */
  private void motion(Film film, float x, float y, int at, boolean met) {
    if (seen(stage.next(), met)) {
      film.motion(Pass.MOTION_NEXT, at, v[0] - x, v[1] - y);
    }
    if (seen(stage.previous(), met)) {
      film.motion(Pass.MOTION_PREVIOUS, at, x - v[0], y - v[1]);
    }
  }

  private boolean seen(Motion there, boolean met) {
    if (there == null) {
      return false;
    }
    return met
        ? there.surface(point, number, place, v)
        : there.direction(ray.dx, ray.dy, ray.dz, place, v);
  }

  /** Goes to the first surface that is at least half solid; returns false if there is none. */
  private boolean meet(boolean camera) {
    for (int k = 0; k <= transparency; k++) {
      float end = ray.tMax;
      top.intersect(ray);
      if (!ray.hit()) {
        return false;
      }
      float distance = ray.tMax;
      number = ray.instance;
      point.fill(stage, ray, 0);
      if (point.alpha >= 0.5f && (point.instance.cameraSees || !camera)) {
        return !camera || !point.instance.holdout && !point.instance.catcher;
      }
      point.leave(ray, ray.dx, ray.dy, ray.dz, end - distance);
    }
    return false;
  }

  /** Adds what one sample met first. */
  void sample(Film film, int at, SurfacePoint p, Ray from, float time) {
    film.surface(at);
    if (film.wants(Pass.NORMAL)) {
      film.add(Pass.NORMAL, 0, at, p.nx);
      film.add(Pass.NORMAL, 1, at, p.ny);
      film.add(Pass.NORMAL, 2, at, p.nz);
    }
    if (film.wants(Pass.ALBEDO) || film.guides != null) {
      albedo(p, from, time);
      for (int k = 0; k < 3 && film.wants(Pass.ALBEDO); k++) {
        film.add(Pass.ALBEDO, k, at, v[k]);
      }
      if (film.guides != null) {
        film.guides.surface(at, p, v, view.depth(p.x, p.y, p.z, time, place));
      }
    }
    film.matte(Pass.MATTE_OBJECTS, at, p.instance.node);
    film.matte(Pass.MATTE_MATERIALS, at, p.p.material());
    film.matte(Pass.MATTE_LAYERS, at, 0);
    if (film.wants(Pass.DEPTH_FILTERED)) {
      film.add(Pass.DEPTH_FILTERED, 0, at, view.depth(p.x, p.y, p.z, time, place));
    }
    if (film.wants(Pass.NORMAL_CAMERA)) {
      view.turned(p.nx, p.ny, p.nz, time, place, v);
      for (int k = 0; k < 3; k++) {
        film.add(Pass.NORMAL_CAMERA, k, at, v[k]);
      }
    }
    if (film.wants(Pass.FACING)) {
      film.add(Pass.FACING, 0, at, facing(p, from));
    }
    for (int i = 0; i < own.length; i++) {
      switch (own[i].quantity()) {
        case FACING -> ramp(film, at, i, facing(p, from));
        case HEIGHT -> ramp(film, at, i, p.y);
        case CONSTANT -> ramp(film, at, i, stage.constant(i, p.instance.node));
        case CURVATURE -> {
          // Needs a ray of its own: see around().
        }
      }
    }
  }

  /** Returns the distance of a point along the view axis, metres. */
  float depth(SurfacePoint p, float time) {
    return view.depth(p.x, p.y, p.z, time, place);
  }

  private static float facing(SurfacePoint p, Ray from) {
    return Math.max(0, -(p.nx * from.dx + p.ny * from.dy + p.nz * from.dz));
  }

  private void ramp(Film film, int at, int i, float value) {
    OwnPass.color(ramps[i], value, v);
    for (int k = 0; k < 3; k++) {
      film.add(Pass.OWN, 3 * i + k, at, v[k]);
    }
  }

  /** Stores the base colour that is seen, in mirrors and through glass too. */
  private void albedo(SurfacePoint first, Ray from, float time) {
    SurfacePoint p = first;
    float r = 1, g = 1, b = 1;
    float dx = from.dx, dy = from.dy, dz = from.dz;
    for (int k = 0; ; k++) {
      r *= p.values.base[0];
      g *= p.values.base[1];
      b *= p.values.base[2];
      boolean mirror = p.values.metallic >= 0.5f;
      boolean clear = p.values.roughness <= CLEAR && (mirror || p.values.transmission >= 0.5f);
      if (!clear || p.look.material.unlit() || k == MIRRORS) {
        break;
      }
      float cos = -(dx * p.nx + dy * p.ny + dz * p.nz);
      float eta = mirror ? 1 : p.values.thin ? 1 : p.front ? 1 / p.values.ior : p.values.ior;
      float rest = 1 - eta * eta * (1 - cos * cos);
      if (mirror || rest <= 0) {
        dx += 2 * cos * p.nx;
        dy += 2 * cos * p.ny;
        dz += 2 * cos * p.nz;
      } else {
        // Snell's law: the part along the surface shrinks by eta.
        float bend = eta * cos - (float) Math.sqrt(rest);
        dx = eta * dx + bend * p.nx;
        dy = eta * dy + bend * p.ny;
        dz = eta * dz + bend * p.nz;
      }
      ray.time = time;
      p.leave(ray, dx, dy, dz, Float.POSITIVE_INFINITY);
      if (!meet(false)) {
        break;
      }
      point.shade(ray);
      p = point;
    }
    v[0] = r;
    v[1] = g;
    v[2] = b;
  }

  /** Returns true if {@link #around} has something to find. */
  boolean looksAround(Film film) {
    return curved || film.wants(Pass.AMBIENT_OCCLUSION);
  }

  /**
   * Adds what is found by short rays from the first surface.
   *
   * @param a in [0, 1), likewise b
   */
  void around(Film film, int at, SurfacePoint p, float time, float a, float b) {
    if (film.wants(Pass.AMBIENT_OCCLUSION)) {
      film.add(Pass.AMBIENT_OCCLUSION, 0, at, occlusion(p, time, a, b));
    }
    for (int i = 0; curved && i < own.length; i++) {
      if (own[i].quantity() == OwnPass.Quantity.CURVATURE) {
        ramp(film, at, i, curvature(p, time, (float) own[i].radius(), a));
      }
    }
  }

  /**
   * Returns the curvature of the surface along one line times a radius: where the surface lies h
   * above its tangent plane at that distance, the circle through both has curvature -2 h / r^2
   * while h is small against r. The mean of both sides does not see where the shading normal leans.
   */
  private float curvature(SurfacePoint p, float time, float radius, float turn) {
    return 0.5f
        * (bend(p, time, radius, Trig.cosTurns(turn), Trig.sinTurns(turn))
            + bend(p, time, radius, -Trig.cosTurns(turn), -Trig.sinTurns(turn)));
  }

  private float bend(SurfacePoint p, float time, float radius, float cos, float sin) {
    frame.set(p.nx, p.ny, p.nz);
    frame.toWorld(radius * cos, radius * sin, radius);
    ray.time = time;
    ray.set(p.x + frame.rx, p.y + frame.ry, p.z + frame.rz, -p.nx, -p.ny, -p.nz, 2 * radius);
    float x = ray.ox, y = ray.oy, z = ray.oz;
    if (!meet(false)) {
      return 2;
    }
    float down = (x - point.x) * p.nx + (y - point.y) * p.ny + (z - point.z) * p.nz;
    return 2 * (down - radius) / radius;
  }

  /**
   * Returns how much what surrounds a surface shuts it in, in one direction.
   *
   * @param u in [0, 1), likewise v
   */
  private float occlusion(SurfacePoint p, float time, float u, float v) {
    float radius = (float) passes.occlusionRadius();
    frame.set(p.nx, p.ny, p.nz);
    float s = (float) Math.sqrt(v);
    frame.toWorld(
        s * Trig.cosTurns(u), s * Trig.sinTurns(u), (float) Math.sqrt(Math.max(0, 1 - v)));
    if (frame.rx * p.gx + frame.ry * p.gy + frame.rz * p.gz <= 0) {
      // Below the flat triangle that the smooth normal stands for: open, as on the smooth surface.
      return 0;
    }
    float ox = p.x + p.gx * p.offset, oy = p.y + p.gy * p.offset, oz = p.z + p.gz * p.offset;
    if (p.front) {
      ox += p.bulgeX;
      oy += p.bulgeY;
      oz += p.bulgeZ;
    }
    ray.time = time;
    ray.set(ox, oy, oz, frame.rx, frame.ry, frame.rz, radius);
    if (!meet(false)) {
      return 0;
    }
    float dx = point.x - ox, dy = point.y - oy, dz = point.z - oz;
    float far = Math.min(1, (float) Math.sqrt(dx * dx + dy * dy + dz * dz) / radius);
    return passes.occlusionFalloff() == 0
        ? 1
        : 1 - FastMath.pow(far, (float) passes.occlusionFalloff());
  }
}
