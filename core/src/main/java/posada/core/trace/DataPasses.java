package posada.core.trace;

import posada.core.geometry.FastMath;
import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Trig;

/** Takes what is no light from the first surface. Scratch of one worker thread. */
final class DataPasses {
  private final Stage stage;
  private final View view;
  private final PassSettings passes;
  private final int transparency;
  private final Ray ray = new Ray();
  private final SurfacePoint point;
  private final ShadingFrame frame = new ShadingFrame();
  private final View.Place place = new View.Place();
  private final float[] v = new float[3];

  DataPasses(Stage stage, View view, RenderSettings settings) {
    this.stage = stage;
    this.view = view;
    passes = settings.passes();
    transparency = settings.bounces().transparency();
    point = new SurfacePoint(stage.looks());
  }

  /** Stores what is taken at a pixel's centre, through a pinhole, in the middle of the exposure. */
  void centre(Film film, int x, int y, int at) {
    if (!film.wants(Pass.DEPTH)
        && !film.wants(Pass.POSITION)
        && !film.wants(Pass.TEXTURE_COORDINATES)) {
      return;
    }
    float time = 0.5f;
    view.aim(x + 0.5f, y + 0.5f, 0, 0, time, place, ray);
    if (!meet(true)) {
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

  /** Goes to the first surface that is at least half solid; returns false if there is none. */
  private boolean meet(boolean camera) {
    for (int k = 0; k <= transparency; k++) {
      float end = ray.tMax;
      stage.top().intersect(ray);
      if (!ray.hit()) {
        return false;
      }
      float distance = ray.tMax;
      point.fill(stage, ray, 0);
      if (point.alpha >= 0.5f && (point.instance.cameraSees || !camera)) {
        return true;
      }
      float side = ray.dx * point.gx + ray.dy * point.gy + ray.dz * point.gz >= 0 ? 1 : -1;
      side *= point.offset;
      ray.set(
          point.x + point.gx * side,
          point.y + point.gy * side,
          point.z + point.gz * side,
          ray.dx,
          ray.dy,
          ray.dz,
          end - distance);
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
    if (film.wants(Pass.ALBEDO)) {
      for (int k = 0; k < 3; k++) {
        film.add(Pass.ALBEDO, k, at, p.values.base[k]);
      }
    }
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
      float cos = -(p.nx * from.dx + p.ny * from.dy + p.nz * from.dz);
      film.add(Pass.FACING, 0, at, Math.max(0, cos));
    }
  }

  /**
   * Returns how much the surroundings of a surface shut it in, in one direction.
   *
   * @param u in [0, 1), likewise v
   */
  float occlusion(SurfacePoint p, float time, float u, float v) {
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
