package posada.core.trace.path;

import java.util.Arrays;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.light.LightSample;
import posada.core.light.Luminance;
import posada.core.material.Surface;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;

/** Light that comes straight to a surface, from lights that are chosen. Scratch of one worker. */
final class DirectLight {
  private final Strategy strategy;
  private final SobolSampler sampler;
  private final Ray ray;
  private final Path path;
  private final ChosenLight chosen;

  /** Light that lamps sent to the first surface, and what of it was not blocked. */
  float open, lit;

  DirectLight(
      Stage stage,
      InstanceBvh top,
      RenderSettings settings,
      Strategy strategy,
      SobolSampler sampler,
      Ray ray,
      Path path) {
    this.strategy = strategy;
    this.sampler = sampler;
    this.ray = ray;
    this.path = path;
    chosen = new ChosenLight(stage, top, settings.bounces().transparency());
  }

  /** Returns how many rays were sent to lights so far. */
  long rays() {
    return chosen.rays();
  }

  /** Adds light from {@code n} chosen directions. */
  void add(Vertex v, int n) {
    for (int j = 0; j < n; j++) {
      if (chosen.choose(v.choice, sampler, ray.time)) {
        add(v, n, 1f / n);
      }
    }
  }

  private void add(Vertex v, int n, float share) {
    SurfacePoint p = v.point;
    Surface s = v.surface;
    LightSample light = chosen.sample;
    v.frame.toLocal(light.x, light.y, light.z);
    boolean above = light.x * p.gx + light.y * p.gy + light.z * p.gz > 0;
    if (above != v.frame.rz > 0) {
      return;
    }
    int group = chosen.group();
    if (!path.receives(group) || !v.receives(group)) {
      return;
    }
    s.evaluate(v.frame.rx, v.frame.ry, v.frame.rz);
    if (v.full) {
      Arrays.fill(s.diffuseOut, 0);
    }
    float r = s.sum(0), g = s.sum(1), b = s.sum(2);
    float weight = 1;
    if (light.density > 0) {
      weight = strategy.chosen(n * light.density, v.density(light.x, light.y, light.z));
    }
    float k = share * weight;
    r *= light.r * k;
    g *= light.g * k;
    b *= light.b * k;
    chosen.look(ray.time);
    r *= chosen.pattern[0];
    g *= chosen.pattern[1];
    b *= chosen.pattern[2];
    if (!(r > 0 || g > 0 || b > 0)) {
      return;
    }
    boolean seen = path.scattered == 0;
    // Shares are of all direct light, whichever way else it may be found.
    float full = 1 / weight;
    if (seen) {
      open += full * Luminance.of(r, g, b);
    }
    if (!chosen.reaches(p, above, ray.time)) {
      return;
    }
    // Scattered rays end at what casts no shadow, so that light behind it is only found this way.
    float alone = chosen.alone() ? full : 1;
    r *= chosen.through[0];
    g *= chosen.through[1];
    b *= chosen.through[2];
    if (seen) {
      lit += full * Luminance.of(r, g, b);
    }
    r *= alone;
    g *= alone;
    b *= alone;
    path.addScattered(r, g, b, s, group);
  }

  /**
   * Chooses a light above a surface, whatever that does with it.
   *
   * @param direction to the light
   * @param radiance over the density with which it was chosen
   * @return false if there is none, or something stands in the way
   */
  boolean arriving(Vertex v, float[] direction, float[] radiance) {
    SurfacePoint p = v.point;
    LightSample light = chosen.sample;
    if (!chosen.choose(v.choice, sampler, ray.time)
        || !(light.x * p.gx + light.y * p.gy + light.z * p.gz > 0)
        || !v.receives(chosen.group())) {
      return false;
    }
    if (!chosen.reaches(p, true, ray.time)) {
      return false;
    }
    direction[0] = light.x;
    direction[1] = light.y;
    direction[2] = light.z;
    chosen.look(ray.time);
    radiance[0] = light.r * chosen.pattern[0] * chosen.through[0];
    radiance[1] = light.g * chosen.pattern[1] * chosen.through[1];
    radiance[2] = light.b * chosen.pattern[2] * chosen.through[2];
    return true;
  }

  /**
   * Returns how much the light counts that arrived last.
   *
   * @param density with which rays look its way
   */
  float weight(float density) {
    float d = chosen.sample.density;
    return chosen.alone() || d <= 0 ? 1 : strategy.chosen(d, density);
  }
}
