package posada.core.light;

import posada.core.geometry.Affine;
import posada.core.geometry.ShadingFrame;
import posada.core.geometry.Trig;
import posada.core.geometry.Vec3;
import posada.core.scene.Light;

/**
 * A point, spot or directional light in the world. With a size it is an evenly bright sphere (or
 * cone of directions) of the same intensity, which rays can meet but which blocks nothing.
 */
public final class PunctualLight {
  /** Node of lights that no node places: the sun of the sky. */
  public static final int SUN = -1;

  private final Light.Kind kind;

  /** Number of the scene's node, or {@link #SUN}. */
  final int node;

  private final boolean cameraSees;
  private final float[] color = new float[3];
  final float px, py, pz;
  final float ax, ay, az;
  private final float spotScale, spotOffset;
  final float outer;
  private final float range;
  final float size;

  /** Of a directional light: 1 minus the cosine of its half angle. */
  private final float cap;

  /**
   * @param toWorld placement of the light's node; the light shines along its -Z
   * @param node number of the node
   */
  public PunctualLight(Light light, Affine toWorld, int node) {
    this.node = node;
    kind = light.kind();
    cameraSees = light.cameraSees();
    for (int k = 0; k < 3; k++) {
      color[k] = (float) (light.color()[k] * light.intensity());
    }
    Vec3 p = toWorld.translation();
    px = (float) p.x();
    py = (float) p.y();
    pz = (float) p.z();
    Vec3 a = toWorld.vector(new Vec3(0, 0, -1)).normalized();
    ax = (float) a.x();
    ay = (float) a.y();
    az = (float) a.z();
    double cosOuter = StrictMath.cos(light.outerAngle());
    double scale = 1 / Math.max(0.001, StrictMath.cos(light.innerAngle()) - cosOuter);
    spotScale = (float) scale;
    spotOffset = (float) (-cosOuter * scale);
    outer = (float) light.outerAngle();
    range = (float) light.range();
    size = (float) light.size();
    double s = StrictMath.sin(light.size() / 2);
    cap = directional() ? (float) (2 * s * s) : 0;
  }

  /**
   * The sun: a directional light that the camera sees.
   *
   * @param towards unit direction to it
   * @param irradiance on a facing surface, red, green, blue
   * @param radius half of the angle under which it is seen, radians
   */
  static PunctualLight sun(Vec3 towards, float[] irradiance, double radius) {
    double most = Math.max(irradiance[0], Math.max(irradiance[1], irradiance[2]));
    float[] c = {
      (float) (irradiance[0] / most), (float) (irradiance[1] / most), (float) (irradiance[2] / most)
    };
    Light l =
        new Light(
            "sun",
            Light.Kind.DIRECTIONAL,
            c,
            most,
            Double.POSITIVE_INFINITY,
            0,
            Math.PI / 4,
            radius,
            true);
    Affine turned =
        new Affine(new double[] {0, 0, towards.x(), 0, 0, 0, towards.y(), 0, 0, 0, towards.z(), 0});
    return new PunctualLight(l, turned, SUN);
  }

  public boolean directional() {
    return kind == Light.Kind.DIRECTIONAL;
  }

  boolean spot() {
    return kind == Light.Kind.SPOT;
  }

  public boolean cameraSees() {
    return cameraSees;
  }

  /** Returns the luminous intensity along the axis, or a directional light's illuminance. */
  float power() {
    return Luminance.of(color);
  }

  /** Returns true if rays can meet it. */
  public boolean hasShape() {
    return directional() ? cap > 0 : size > 0;
  }

  /**
   * Range window and spot cone (KHR_lights_punctual, "Range property" and "Inner and outer cone").
   */
  private float falloff(float lx, float ly, float lz, float d) {
    float f = 1;
    if (range < Float.POSITIVE_INFINITY) {
      float q = d / range;
      q = q * q;
      f = Math.max(0, Math.min(1, 1 - q * q));
    }
    if (kind == Light.Kind.SPOT) {
      float cd = -(lx * ax + ly * ay + lz * az);
      float a = Math.max(0, Math.min(1, cd * spotScale + spotOffset));
      f *= a * a;
    }
    return f;
  }

  /**
   * Returns the irradiance it gives to a point, without shadows.
   *
   * @param nx normal of the lit surface; all 0 if light from both sides counts
   */
  float guess(float x, float y, float z, float nx, float ny, float nz) {
    float dx = px - x, dy = py - y, dz = pz - z;
    float d2 = Math.max(1e-12f, dx * dx + dy * dy + dz * dz);
    float d = (float) Math.sqrt(d2);
    float e = power() * falloff(dx / d, dy / d, dz / d, d) / Math.max(d2, size * size);
    if (nx == 0 && ny == 0 && nz == 0) {
      return e;
    }
    // The sphere's highest point decides whether it is seen at all.
    float cos = (dx * nx + dy * ny + dz * nz + size) / d;
    return cos > 0 ? e * Math.min(1, cos) : 0;
  }

  /** 1 minus the cosine of the half angle under which the sphere is seen from a distance. */
  private float cap(float d2) {
    float sin2 = size * size / d2;
    return sin2 / (1 + (float) Math.sqrt(Math.max(0, 1 - sin2)));
  }

  /**
   * Chooses a direction to the light from a point.
   *
   * @param s receives direction, distance, density, and radiance divided by density
   * @return false if the light gives nothing there
   */
  boolean sample(float x, float y, float z, float u, float v, LightSample s) {
    float gain = 1;
    s.triangle = -1;
    s.density = 0;
    if (directional()) {
      cone(-ax, -ay, -az, cap, u, v, s);
      // A disc of radiance E / (pi sin^2) under the solid angle 2 pi (1 - cos).
      gain = 2 / (2 - cap);
      s.distance = Float.POSITIVE_INFINITY;
    } else {
      float dx = px - x, dy = py - y, dz = pz - z;
      float d2 = dx * dx + dy * dy + dz * dz;
      float d = (float) Math.sqrt(d2);
      if (!(d > 0)) {
        return false;
      }
      dx /= d;
      dy /= d;
      dz /= d;
      gain = falloff(dx, dy, dz, d) / d2;
      if (size > 0 && d > size) {
        float c = cap(d2);
        cone(dx, dy, dz, c, u, v, s);
        // A sphere of radiance I / (pi r^2) seen under the solid angle 2 pi (1 - cos).
        gain *= d2 * 2 * c / (size * size);
        float along = s.x * dx + s.y * dy + s.z * dz;
        s.distance =
            d * along
                - (float) Math.sqrt(Math.max(0, size * size - d2 * Math.max(0, 1 - along * along)));
      } else {
        s.x = dx;
        s.y = dy;
        s.z = dz;
        s.distance = d;
      }
    }
    s.r = gain * color[0];
    s.g = gain * color[1];
    s.b = gain * color[2];
    return gain > 0;
  }

  private static void cone(float x, float y, float z, float cap, float u, float v, LightSample s) {
    if (!(cap > 0)) {
      s.x = x;
      s.y = y;
      s.z = z;
      return;
    }
    float k = u * cap;
    float sin = (float) Math.sqrt(Math.max(0, k * (2 - k)));
    ShadingFrame f = s.frame;
    f.set(x, y, z);
    f.toWorld(sin * Trig.cosTurns(v), sin * Trig.sinTurns(v), 1 - k);
    s.x = f.rx;
    s.y = f.ry;
    s.z = f.rz;
    s.density = 1 / (2 * (float) Math.PI * cap);
  }

  /**
   * Stores the radiance of its shape along a ray that is known to meet it.
   *
   * @return density per steradian with which {@link #sample} chooses that direction; 0 if the ray
   *     starts inside or nothing is seen
   */
  float seen(float x, float y, float z, float[] out) {
    float gain;
    float c;
    if (directional()) {
      c = cap;
      gain = 1 / ((float) Math.PI * cap * (2 - cap));
    } else {
      float dx = px - x, dy = py - y, dz = pz - z;
      float d2 = dx * dx + dy * dy + dz * dz;
      float d = (float) Math.sqrt(d2);
      if (!(d > size)) {
        return 0;
      }
      c = cap(d2);
      gain = falloff(dx / d, dy / d, dz / d, d) / ((float) Math.PI * size * size);
    }
    for (int k = 0; k < 3; k++) {
      out[k] = gain * color[k];
    }
    return 1 / (2 * (float) Math.PI * c);
  }

  /** Returns true if a unit direction points at a directional light's disc. */
  boolean covers(float x, float y, float z) {
    float cx = x + ax, cy = y + ay, cz = z + az;
    // |d - a|^2 = 2 (1 - cos), which stays exact for small discs.
    return cx * cx + cy * cy + cz * cz <= 2 * cap;
  }
}
