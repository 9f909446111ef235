package posada.core.trace.path;

import posada.core.geometry.FastMath;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.light.EnvironmentLight;
import posada.core.light.LightSet;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.LightGroups;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;

/**
 * Takes the ray of a path from surface to surface, and adds to the path what is seen on the way.
 * Distance fades into the sky's haze on every segment. Scratch of one worker thread.
 */
final class Segments {
  private final Stage stage;
  private final InstanceBvh top;
  private final LightSet lights;
  private final EnvironmentLight around;
  private final LightGroups groups;
  private final boolean shapes;
  private final boolean background;
  private final int transparency;
  private final Strategy strategy;
  private final SobolSampler sampler;
  private final Ray ray;
  private final Path path;

  /** Lights as seen from where the ray was scattered last. */
  final LightSet.Choice from;

  /** Rays that were sent so far. */
  long rays;

  private final float[] rgb = new float[3];
  private final float[] through = new float[3];

  Segments(
      Stage stage,
      InstanceBvh top,
      RenderSettings settings,
      Strategy strategy,
      SobolSampler sampler,
      Ray ray,
      Path path) {
    this.stage = stage;
    this.top = top;
    this.strategy = strategy;
    this.sampler = sampler;
    this.ray = ray;
    this.path = path;
    lights = stage.lights();
    around = lights.environmentLight();
    groups = stage.groups();
    shapes = lights.hasShapes();
    from = lights.choice();
    background = settings.background();
    transparency = settings.bounces().transparency();
  }

  /**
   * Takes the ray to the next surface that does not let it pass, and adds what it sees on the way:
   * haze, the shapes of lights, the environment, and what the surface gives off.
   *
   * @return false if the path ends there
   */
  boolean meet(Vertex v) {
    SurfacePoint p = v.point;
    while (true) {
      top.intersect(ray);
      rays++;
      float distance = ray.tMax;
      if (shapes) {
        shapes();
      }
      if (!ray.hit()) {
        around();
        return false;
      }
      path.absorb(distance);
      haze(distance);
      float footprint = path.width + path.spread * distance;
      p.fill(stage, ray, footprint);
      boolean hidden =
          path.scattered == 0 ? !p.instance.cameraSees : path.mirrored && !p.instance.reflected;
      if (!hidden && p.alpha < 1) {
        sampler.next();
        hidden = sampler.u >= p.alpha;
        if (hidden && ++path.passed > transparency) {
          return false;
        }
      }
      if (!hidden) {
        if (path.scattered == 0 && p.instance.holdout) {
          path.held = true;
          return false;
        }
        p.shade(ray);
        if (p.look.material.unlit()) {
          path.add(
              p.values.base[0],
              p.values.base[1],
              p.values.base[2],
              true,
              groups.of(p.instance.node));
          path.stopped = true;
          return false;
        }
        emission(p, distance);
        if (p.look.pane) {
          hidden = passPane(p);
          if (hidden && ++path.passed > transparency) {
            return false;
          }
        }
      }
      if (!hidden) {
        path.width = footprint;
        path.stopped = true;
        return true;
      }
      path.travelled += distance;
      path.width = footprint;
      p.leave(ray, ray.dx, ray.dy, ray.dz, Float.POSITIVE_INFINITY);
    }
  }

  /** Chooses whether the ray goes straight through a window pane. */
  private boolean passPane(SurfacePoint p) {
    float share = Shadow.pane(p, Math.abs(ray.dx * p.nx + ray.dy * p.ny + ray.dz * p.nz), through);
    sampler.next();
    // What is not let through is mirrored or scattered; both get their chance.
    float odds = Math.min(0.95f, Math.max(0.05f, share));
    if (share <= 0 || sampler.u >= odds) {
      path.scale(share <= 0 ? 1 : 1 / (1 - odds));
      return false;
    }
    path.scale(through[0] / odds, through[1] / odds, through[2] / odds);
    return true;
  }

  /** Weight of what a scattered ray found, given the density with which lights are chosen. */
  private float found(float lightDensity) {
    return strategy.found(path.scatterDensity, path.lightRays * lightDensity);
  }

  private void around() {
    boolean camera = path.scattered == 0;
    if (camera && !background) {
      return;
    }
    if (path.receives(groups.environmentLight())) {
      around.radiance(ray.dx, ray.dy, ray.dz, rgb);
      float w = camera ? 1 : found(from.environmentLight(ray.dx, ray.dy, ray.dz));
      path.add(rgb[0] * w, rgb[1] * w, rgb[2] * w, false, groups.environmentLight());
    }
    for (int i = 0; i < lights.farCount(); i++) {
      if (lights.farCovers(i, ray.dx, ray.dy, ray.dz) && (!camera || lights.farSeen(i))) {
        float d = from.far(i, rgb);
        float w = camera ? 1 : found(d);
        int group = groups.ofLight(lights.farNode(i));
        if (path.receives(group)) {
          path.add(rgb[0] * w, rgb[1] * w, rgb[2] * w, false, group);
        }
      }
    }
  }

  /** Adds the shapes of near lights that the segment passes. */
  private void shapes() {
    boolean camera = path.scattered == 0;
    lights.pass(ray);
    for (int k = 0; k < ray.sphereCount; k++) {
      int i = ray.spheres[k];
      if (!path.receives(groups.ofLight(lights.nearNode(i)))) {
        continue;
      }
      if (!camera) {
        float w = found(from.near(i, rgb));
        path.add(rgb[0] * w, rgb[1] * w, rgb[2] * w, true, groups.ofLight(lights.nearNode(i)));
      } else if (lights.nearSeen(i)) {
        from.at(ray.ox, ray.oy, ray.oz, 0, 0, 0, true);
        from.near(i, rgb);
        path.add(rgb[0], rgb[1], rgb[2], true, groups.ofLight(lights.nearNode(i)));
      }
    }
  }

  private void haze(float distance) {
    if (around.haze() <= 0) {
      return;
    }
    float clear = FastMath.exp(-around.haze() * distance);
    around.hazeColour(ray.dx, ray.dy, ray.dz, rgb);
    float k = 1 - clear;
    path.add(rgb[0] * k, rgb[1] * k, rgb[2] * k, false, groups.environmentLight());
    path.scale(clear);
  }

  private void emission(SurfacePoint p, float distance) {
    if (!p.look.emits
        || !(p.front || p.look.material.doubleSided())
        || !path.receives(groups.of(p.instance.node))) {
      return;
    }
    float w = 1;
    if (path.scattered > 0 && p.emissive >= 0) {
      float cos = p.gx * ray.dx + p.gy * ray.dy + p.gz * ray.dz;
      w = found(from.triangle(p.emissive, ray.time, path.travelled + distance, cos));
    }
    path.add(
        p.emission[0] * w, p.emission[1] * w, p.emission[2] * w, true, groups.of(p.instance.node));
  }
}
