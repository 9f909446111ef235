package posada.core.trace;

import posada.core.geometry.Ray;
import posada.core.geometry.ShadingFrame;
import posada.core.light.AreaLight;
import posada.core.light.LightSample;
import posada.core.light.LightSet;
import posada.core.light.SkyLight;
import posada.core.material.Surface;
import posada.core.scene.Primitive;

/**
 * Follows paths from the camera: at each hit one light is sampled and one direction scattered, both
 * weighted against each other by the power heuristic (E. Veach, "Robust Monte Carlo Methods for
 * Light Transport Simulation", 1997, 9.2). Distance fades into the sky's haze on every path
 * segment. One object for each worker thread.
 */
final class PathTracer {
  /** Surfaces that one ray may pass because of their alpha. */
  private static final int MAX_PASSED = 64;

  /** From this scattering on, dim paths are ended by chance. */
  private static final int ROULETTE_FROM = 3;

  private final Stage stage;
  private final RenderSettings settings;
  private final LightSet lights;
  private final SkyLight sky;
  private final SobolSampler sampler = new SobolSampler();
  private final Ray ray = new Ray();
  private final Ray shadowRay = new Ray();
  private final SurfacePoint point;
  private final SurfacePoint other;
  private final ShadingFrame frame = new ShadingFrame();
  private final Surface surface = new Surface();
  private final LightSample light = new LightSample();
  private final AreaLight.Point lightPoint = new AreaLight.Point();
  private final float[] weights;
  private final float[] rgb = new float[3];
  private float weightSum;
  private float shadowThrough;

  /** The path's light so far and what a further contribution is multiplied by. */
  private float lr, lg, lb, tr, tg, tb;

  PathTracer(Stage stage, RenderSettings settings) {
    this.stage = stage;
    this.settings = settings;
    lights = stage.lights();
    sky = lights.sky();
    weights = new float[lights.size()];
    point = new SurfacePoint(stage.scene());
    other = new SurfacePoint(stage.scene());
  }

  /** Adds samples {@code from} to {@code to - 1} of one pixel to the film. */
  void pixel(View view, Film film, int x, int y, int from, int to) {
    int at = y * film.width + x;
    if (from == 0) {
      depth(view, film, x, y, at);
    }
    for (int s = from; s < to; s++) {
      sampler.start(x, y, s, settings.seed());
      sampler.next();
      view.aim(x + 0.5f + tent(sampler.u), y + 0.5f + tent(sampler.v), ray);
      path(film, at);
    }
  }

  /** Offset by a tent filter of radius 1 pixel, by importance. */
  private static float tent(float u) {
    return u < 0.5f ? (float) Math.sqrt(2 * u) - 1 : 1 - (float) Math.sqrt(Math.max(0, 2 - 2 * u));
  }

  private void depth(View view, Film film, int x, int y, int at) {
    view.aim(x + 0.5f, y + 0.5f, ray);
    for (int passed = 0; passed < MAX_PASSED; passed++) {
      stage.top().intersect(ray);
      if (!ray.hit()) {
        break;
      }
      point.fill(stage, ray);
      if (point.alpha >= 0.5f) {
        film.depth[at] = view.depth(point.x, point.y, point.z);
        return;
      }
      go(ray.dx, ray.dy, ray.dz);
    }
    film.missDepth(at);
  }

  private void path(Film film, int at) {
    lr = lg = lb = 0;
    tr = tg = tb = 1;
    float scatterDensity = 0;
    float lastWeightSum = 0;
    int scattered = 0;
    int passed = 0;
    boolean first = true;
    while (true) {
      stage.top().intersect(ray);
      if (!ray.hit()) {
        sky(scattered, scatterDensity, lastWeightSum);
        break;
      }
      point.fill(stage, ray);
      float distance = ray.tMax;
      haze(distance, scattered);
      if (point.alpha < 1) {
        sampler.next();
        if (sampler.u >= point.alpha) {
          if (++passed > MAX_PASSED) {
            break;
          }
          go(ray.dx, ray.dy, ray.dz);
          continue;
        }
      }
      if (first) {
        first = false;
        film.a[at] += 1;
        film.nx[at] += point.nx;
        film.ny[at] += point.ny;
        film.nz[at] += point.nz;
        film.ar[at] += point.base[0];
        film.ag[at] += point.base[1];
        film.ab[at] += point.base[2];
      }
      if (point.material.unlit()) {
        add(point.base[0], point.base[1], point.base[2], scattered);
        break;
      }
      emission(scattered, distance, scatterDensity, lastWeightSum);
      if (scattered >= settings.bounces()) {
        break;
      }
      frame.set(point.nx, point.ny, point.nz);
      frame.toLocal(-ray.dx, -ray.dy, -ray.dz);
      surface.set(
          point.base,
          point.metallic,
          point.roughness,
          frame.rx,
          frame.ry,
          Math.max(1e-3f, frame.rz));
      weightSum = lights.weigh(point.x, point.y, point.z, weights);
      lastWeightSum = weightSum;
      direct(scattered);
      sampler.next();
      float u = sampler.u, v = sampler.v;
      sampler.next();
      if (!surface.sample(u, v, sampler.u)) {
        break;
      }
      float k = 1 / surface.density;
      tr *= surface.r * k;
      tg *= surface.g * k;
      tb *= surface.b * k;
      scatterDensity = surface.density;
      frame.toWorld(surface.ix, surface.iy, surface.iz);
      if (frame.rx * point.gx + frame.ry * point.gy + frame.rz * point.gz <= 0) {
        break;
      }
      scattered++;
      if (scattered >= ROULETTE_FROM) {
        float survive = Math.min(0.95f, Math.max(tr, Math.max(tg, tb)));
        if (sampler.v >= survive) {
          break;
        }
        tr /= survive;
        tg /= survive;
        tb /= survive;
      }
      go(frame.rx, frame.ry, frame.rz);
    }
    film.r[at] += lr;
    film.g[at] += lg;
    film.b[at] += lb;
    float y = 0.2126f * lr + 0.7152f * lg + 0.0722f * lb;
    film.square[at] += y * y;
  }

  /** Starts the next segment from the point in a direction, on the side it goes to. */
  private void go(float dx, float dy, float dz) {
    float side = dx * point.gx + dy * point.gy + dz * point.gz >= 0 ? point.offset : -point.offset;
    ray.set(
        point.x + point.gx * side,
        point.y + point.gy * side,
        point.z + point.gz * side,
        dx,
        dy,
        dz,
        Float.POSITIVE_INFINITY);
  }

  /** Adds light of the path, limited if it is indirect. */
  private void add(float r, float g, float b, int scattered) {
    float cr = tr * r, cg = tg * g, cb = tb * b;
    if (scattered > 1 && settings.indirectLimit() > 0) {
      float y = 0.2126f * cr + 0.7152f * cg + 0.0722f * cb;
      if (y > settings.indirectLimit()) {
        float k = (float) settings.indirectLimit() / y;
        cr *= k;
        cg *= k;
        cb *= k;
      }
    }
    lr += cr;
    lg += cg;
    lb += cb;
  }

  private static float powerHeuristic(float a, float b) {
    float a2 = a * a;
    float b2 = b * b;
    return a2 + b2 > 0 ? a2 / (a2 + b2) : 0;
  }

  private void sky(int scattered, float scatterDensity, float lastWeightSum) {
    if (scattered == 0 && !settings.showSky()) {
      return;
    }
    sky.radiance(ray.dx, ray.dy, ray.dz, rgb);
    float w = 1;
    if (scattered > 0) {
      float chosen = lastWeightSum > 0 ? sky.importance() / lastWeightSum : 0;
      w = powerHeuristic(scatterDensity, chosen * sky.density(ray.dx, ray.dy, ray.dz));
    }
    add(rgb[0] * w, rgb[1] * w, rgb[2] * w, scattered);
  }

  private void haze(float distance, int scattered) {
    if (sky.haze() <= 0) {
      return;
    }
    float through = (float) StrictMath.exp(-sky.haze() * distance);
    sky.hazeColour(ray.dx, ray.dy, ray.dz, rgb);
    float k = 1 - through;
    add(rgb[0] * k, rgb[1] * k, rgb[2] * k, scattered);
    tr *= through;
    tg *= through;
    tb *= through;
  }

  private void emission(int scattered, float distance, float scatterDensity, float lastWeightSum) {
    if (!point.material.emits() || !(point.front || point.material.doubleSided())) {
      return;
    }
    float w = 1;
    if (scattered > 0 && point.areaLight >= 0) {
      AreaLight a = lights.area(point.areaLight);
      float cos = point.gx * ray.dx + point.gy * ray.dy + point.gz * ray.dz;
      float chosen = lastWeightSum > 0 ? a.importance(ray.ox, ray.oy, ray.oz) / lastWeightSum : 0;
      w = powerHeuristic(scatterDensity, chosen * a.density(distance, cos));
    }
    add(point.emission[0] * w, point.emission[1] * w, point.emission[2] * w, scattered);
  }

  /** Adds the light of one light, chosen by importance, at the point. */
  private void direct(int scattered) {
    sampler.next();
    float choice = sampler.u;
    sampler.next();
    if (!(weightSum > 0)) {
      return;
    }
    int i = lights.choose(weights, weightSum, choice);
    float chosen = weights[i] / weightSum;
    if (!sampleLight(i, chosen, sampler.u, sampler.v)) {
      return;
    }
    if (light.x * point.gx + light.y * point.gy + light.z * point.gz <= 0) {
      return;
    }
    frame.toLocal(light.x, light.y, light.z);
    surface.evaluate(frame.rx, frame.ry, frame.rz);
    float w = light.density > 0 ? powerHeuristic(light.density, surface.density) : 1;
    float cr = surface.r * light.r * w;
    float cg = surface.g * light.g * w;
    float cb = surface.b * light.b * w;
    if (!(cr > 0 || cg > 0 || cb > 0)) {
      return;
    }
    shadow();
    if (shadowThrough > 0) {
      float k = shadowThrough;
      add(cr * k, cg * k, cb * k, scattered + 1);
    }
  }

  private boolean sampleLight(int i, float chosen, float u, float v) {
    light.density = 0;
    if (i < lights.punctualCount()) {
      if (!lights.punctual(i).sample(point.x, point.y, point.z, u, v, light)) {
        return false;
      }
      float k = 1 / chosen;
      light.r *= k;
      light.g *= k;
      light.b *= k;
      return true;
    }
    i -= lights.punctualCount();
    if (i < lights.areaCount()) {
      AreaLight a = lights.area(i);
      if (!a.sample(point.x, point.y, point.z, u, v, light, lightPoint)) {
        return false;
      }
      Primitive p = stage.instances[a.instance()].mesh.primitives.get(a.primitive());
      other.emissionAt(p, lightPoint.triangle, lightPoint.u, lightPoint.v);
      light.density = chosen * lightPoint.density;
      float k = other.alpha / light.density;
      light.r = other.emission[0] * k;
      light.g = other.emission[1] * k;
      light.b = other.emission[2] * k;
      return true;
    }
    float density = sky.sample(u, v, rgb);
    if (!(density > 0)) {
      return false;
    }
    light.x = rgb[0];
    light.y = rgb[1];
    light.z = rgb[2];
    light.distance = Float.POSITIVE_INFINITY;
    sky.radiance(light.x, light.y, light.z, rgb);
    light.density = chosen * density;
    light.r = rgb[0] / light.density;
    light.g = rgb[1] / light.density;
    light.b = rgb[2] / light.density;
    return true;
  }

  /** Stores how much light gets from the chosen light to the point. */
  private void shadow() {
    float end = light.distance * (1 - 1e-4f);
    shadowThrough =
        sky.haze() > 0 && light.distance < Float.POSITIVE_INFINITY
            ? (float) StrictMath.exp(-sky.haze() * light.distance)
            : 1;
    shadowRay.set(
        point.x + point.gx * point.offset,
        point.y + point.gy * point.offset,
        point.z + point.gz * point.offset,
        light.x,
        light.y,
        light.z,
        end);
    if (!stage.seeThrough()) {
      if (stage.top().occluded(shadowRay)) {
        shadowThrough = 0;
      }
      return;
    }
    for (int passed = 0; passed < MAX_PASSED; passed++) {
      stage.top().intersect(shadowRay);
      if (!shadowRay.hit()) {
        return;
      }
      other.fill(stage, shadowRay);
      shadowThrough *= 1 - other.alpha;
      if (!(shadowThrough > 1e-4f)) {
        shadowThrough = 0;
        return;
      }
      end -= shadowRay.tMax;
      float side =
          light.x * other.gx + light.y * other.gy + light.z * other.gz >= 0
              ? other.offset
              : -other.offset;
      shadowRay.set(
          other.x + other.gx * side,
          other.y + other.gy * side,
          other.z + other.gz * side,
          light.x,
          light.y,
          light.z,
          end);
    }
    shadowThrough = 0;
  }
}
