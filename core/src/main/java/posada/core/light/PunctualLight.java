package posada.core.light;

import posada.core.geometry.Affine;
import posada.core.geometry.Trig;
import posada.core.geometry.Vec3;
import posada.core.scene.Light;

/**
 * A point, spot or directional light in the world. With a size it is sampled as an evenly bright
 * sphere (or cone of directions) of the same intensity; it is never hit by rays.
 */
public final class PunctualLight {
  private final Light light;
  private final float px, py, pz;
  private final float ax, ay, az;
  private final float spotScale, spotOffset;
  private final float cosDirectional;

  /**
   * @param toWorld placement of the light's node; the light shines along its -Z
   */
  public PunctualLight(Light light, Affine toWorld) {
    this.light = light;
    Vec3 p = toWorld.translation();
    px = (float) p.x();
    py = (float) p.y();
    pz = (float) p.z();
    Vec3 a = toWorld.vector(new Vec3(0, 0, -1)).normalized();
    ax = (float) a.x();
    ay = (float) a.y();
    az = (float) a.z();
    double outer = StrictMath.cos(light.outerAngle());
    double scale = 1 / Math.max(0.001, StrictMath.cos(light.innerAngle()) - outer);
    spotScale = (float) scale;
    spotOffset = (float) (-outer * scale);
    cosDirectional =
        light.kind() == Light.Kind.DIRECTIONAL ? (float) StrictMath.cos(light.size()) : 1;
  }

  /** Returns the irradiance on a surface at the point that faces the light, as luminance. */
  public float importance(float x, float y, float z) {
    float l = SkyLight.luminance(light.color()) * (float) light.intensity();
    if (light.kind() == Light.Kind.DIRECTIONAL) {
      return l;
    }
    float dx = px - x, dy = py - y, dz = pz - z;
    float d2 = Math.max(1e-12f, dx * dx + dy * dy + dz * dz);
    float d = (float) Math.sqrt(d2);
    float s = (float) light.size();
    return l * falloff(dx / d, dy / d, dz / d, d) / Math.max(d2, s * s);
  }

  /**
   * Range window and spot cone (KHR_lights_punctual, "Range property" and "Inner and outer cone").
   */
  private float falloff(float lx, float ly, float lz, float d) {
    float f = 1;
    if (light.range() < Double.POSITIVE_INFINITY) {
      float q = d / (float) light.range();
      q = q * q;
      f = Math.max(0, Math.min(1, 1 - q * q));
    }
    if (light.kind() == Light.Kind.SPOT) {
      float cd = -(lx * ax + ly * ay + lz * az);
      float a = Math.max(0, Math.min(1, cd * spotScale + spotOffset));
      f *= a * a;
    }
    return f;
  }

  /**
   * Chooses a direction to the light from a point.
   *
   * @param s receives direction, distance and radiance divided by density
   * @return false if the light gives nothing there
   */
  public boolean sample(float x, float y, float z, float u, float v, LightSample s) {
    float gain = (float) light.intensity();
    if (light.kind() == Light.Kind.DIRECTIONAL) {
      cone(-ax, -ay, -az, cosDirectional, u, v, s);
      s.distance = Float.POSITIVE_INFINITY;
    } else {
      float dx = px - x, dy = py - y, dz = pz - z;
      float d2 = dx * dx + dy * dy + dz * dz;
      float d = (float) Math.sqrt(d2);
      if (!(d > 0)) {
        return false;
      }
      gain *= falloff(dx / d, dy / d, dz / d, d) / d2;
      float r = (float) light.size();
      if (r > 0 && d > r) {
        float cos = (float) Math.sqrt(Math.max(0, 1 - r * r / d2));
        cone(dx / d, dy / d, dz / d, cos, u, v, s);
        // A sphere of radiance I / (pi r^2) seen under the solid angle 2 pi (1 - cos).
        gain *= d2 * 2 * (1 - cos) / (r * r);
        s.distance = d - r;
      } else {
        s.x = dx / d;
        s.y = dy / d;
        s.z = dz / d;
        s.distance = d;
      }
    }
    s.r = gain * light.color()[0];
    s.g = gain * light.color()[1];
    s.b = gain * light.color()[2];
    return gain > 0;
  }

  private static void cone(
      float x, float y, float z, float cosMax, float u, float v, LightSample s) {
    if (cosMax >= 1) {
      s.x = x;
      s.y = y;
      s.z = z;
      return;
    }
    float c = 1 - u * (1 - cosMax);
    float sin = (float) Math.sqrt(Math.max(0, 1 - c * c));
    s.frame.set(x, y, z);
    s.frame.toWorld(sin * Trig.cosTurns(v), sin * Trig.sinTurns(v), c);
    s.x = s.frame.rx;
    s.y = s.frame.ry;
    s.z = s.frame.rz;
  }
}
