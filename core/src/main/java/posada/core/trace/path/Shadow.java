package posada.core.trace.path;

import posada.core.geometry.FastMath;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.light.LightSample;
import posada.core.material.Fresnel;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;

/** Whether light reaches a point, and how much of it is let through. Scratch of one thread. */
final class Shadow {
  private final Stage stage;
  private final InstanceBvh top;
  private final int transparency;
  private final float haze;
  private final Ray ray = new Ray();
  private final SurfacePoint other;

  /** True if the light that was looked at last came past something that casts no shadow. */
  boolean ignored;

  /** Rays that were sent so far. */
  long rays;

  /** What was let through of the light that was looked at last: red, green, blue. */
  final float[] through = new float[3];

  /**
   * @param transparency most surfaces that light may pass
   */
  Shadow(Stage stage, InstanceBvh top, int transparency) {
    this.stage = stage;
    this.top = top;
    this.transparency = transparency;
    haze = stage.lights().environmentLight().haze();
    other = new SurfacePoint();
    ray.met = stage.met;
  }

  /** Stores what a pane lets straight through; returns the mean. */
  static float pane(SurfacePoint p, float cos, float[] out) {
    float share = (1 - p.values.metallic) * p.values.transmission;
    float f = Fresnel.dielectric(Math.min(1, cos), p.values.ior) * p.values.f90;
    float mean = 0;
    for (int k = 0; k < 3; k++) {
      out[k] = share * (1 - f) * p.values.base[k];
      mean += out[k] / 3;
    }
    return mean;
  }

  /**
   * Returns false if nothing of the chosen light reaches the point; else stores what surfaces
   * between, haze and volume let through.
   */
  boolean reaches(SurfacePoint p, boolean above, LightSample light, float time) {
    ray.time = time;
    float side = above ? p.offset : -p.offset;
    float x = p.x + p.gx * side, y = p.y + p.gy * side, z = p.z + p.gz * side;
    if (above && p.front) {
      x += p.bulgeX;
      y += p.bulgeY;
      z += p.bulgeZ;
    }
    float end = light.distance;
    if (end < Float.POSITIVE_INFINITY) {
      // Aimed anew from where the ray starts, and ended short of the light's own surface.
      float mx = p.x + light.x * end - x;
      float my = p.y + light.y * end - y;
      float mz = p.z + light.z * end - z;
      end = (float) Math.sqrt(mx * mx + my * my + mz * mz);
      ray.set(x, y, z, mx / end, my / end, mz / end, end * (1 - 1e-4f));
    } else {
      ray.set(x, y, z, light.x, light.y, light.z, end);
    }
    float clear = haze > 0 && end < Float.POSITIVE_INFINITY ? FastMath.exp(-haze * end) : 1;
    through[0] = through[1] = through[2] = clear;
    float[] inside = above == p.front || !p.look.material.encloses() ? null : p.look.absorption;
    if (inside != null && end < Float.POSITIVE_INFINITY) {
      for (int k = 0; k < 3; k++) {
        through[k] *= FastMath.exp(-inside[k] * end);
      }
    }
    ignored = false;
    if (!stage.seeThrough()) {
      rays++;
      return !top.occluded(ray);
    }
    return seenThrough();
  }

  /** Walks the shadow ray through surfaces that alpha or clear panes let it pass. */
  private boolean seenThrough() {
    float kr = through[0], kg = through[1], kb = through[2];
    for (int n = 0; n <= transparency; n++) {
      float end = ray.tMax;
      top.intersect(ray);
      rays++;
      if (!ray.hit()) {
        through[0] = kr;
        through[1] = kg;
        through[2] = kb;
        return true;
      }
      other.fill(stage, ray, 0);
      boolean lets = !other.instance.castsShadows;
      ignored |= lets;
      float pass = lets ? 1 : 1 - other.alpha;
      float pr = pass, pg = pass, pb = pass;
      if (other.look.pane && !lets) {
        other.shade(ray);
        float cos = ray.dx * other.nx + ray.dy * other.ny + ray.dz * other.nz;
        pane(other, Math.abs(cos), through);
        pr += other.alpha * through[0];
        pg += other.alpha * through[1];
        pb += other.alpha * through[2];
      }
      kr *= pr;
      kg *= pg;
      kb *= pb;
      if (!(Math.max(kr, Math.max(kg, kb)) > 1e-4f)) {
        return false;
      }
      float rest = end - ray.tMax;
      other.leave(ray, ray.dx, ray.dy, ray.dz, rest);
    }
    return false;
  }
}
