package posada.core.light;

/**
 * Triangles that give off light, in world space; they may move in straight lines while the shutter
 * is open. Filled once, then read by all threads.
 */
public final class EmissiveTriangles {
  /** 9 floats each: first corner, edge to the second, edge to the third. */
  private final float[] opening;

  /** The same when the shutter closes; null if nothing moves. */
  private final float[] closing;

  /** Luminance of what each gives off on average. */
  private final float[] radiance;

  private final boolean[] twoSided;

  /** Where each comes from: instance, primitive, triangle. */
  private final int[] from;

  private int count;

  public EmissiveTriangles(int most, boolean moving) {
    opening = new float[most * 9];
    closing = moving ? new float[most * 9] : null;
    radiance = new float[most];
    twoSided = new boolean[most];
    from = new int[most * 3];
  }

  /**
   * @param p nine numbers, the corners when the shutter opens
   * @param q the same when it closes
   * @param luminance of the radiance it gives off on average
   */
  public void add(
      float[] p,
      float[] q,
      float luminance,
      boolean bothSides,
      int instance,
      int primitive,
      int triangle) {
    put(p, opening);
    if (closing != null) {
      put(q, closing);
    }
    radiance[count] = luminance;
    twoSided[count] = bothSides;
    from[count * 3] = instance;
    from[count * 3 + 1] = primitive;
    from[count * 3 + 2] = triangle;
    count++;
  }

  private void put(float[] p, float[] to) {
    for (int k = 0; k < 3; k++) {
      to[count * 9 + k] = p[k];
      to[count * 9 + 3 + k] = p[3 + k] - p[k];
      to[count * 9 + 6 + k] = p[6 + k] - p[k];
    }
  }

  public int count() {
    return count;
  }

  public int instance(int i) {
    return from[i * 3];
  }

  public int primitive(int i) {
    return from[i * 3 + 1];
  }

  public int triangle(int i) {
    return from[i * 3 + 2];
  }

  boolean twoSided(int i) {
    return twoSided[i];
  }

  float at(int i, int k, float time) {
    float a = opening[i * 9 + k];
    return closing == null ? a : a + (closing[i * 9 + k] - a) * time;
  }

  /** Stores the normal times twice the area into {@code out}; returns the area. */
  float normal(int i, float time, float[] out) {
    float ax = at(i, 3, time), ay = at(i, 4, time), az = at(i, 5, time);
    float bx = at(i, 6, time), by = at(i, 7, time), bz = at(i, 8, time);
    out[0] = ay * bz - az * by;
    out[1] = az * bx - ax * bz;
    out[2] = ax * by - ay * bx;
    return 0.5f * (float) Math.sqrt(out[0] * out[0] + out[1] * out[1] + out[2] * out[2]);
  }

  /** Returns the angle in radians by which the normal turns while the shutter is open. */
  double turn(int i) {
    if (closing == null) {
      return 0;
    }
    float[] a = new float[3];
    float[] b = new float[3];
    float area = normal(i, 0, a) * normal(i, 1, b) * 4;
    double cos = area > 0 ? (a[0] * b[0] + a[1] * b[1] + a[2] * b[2]) / area : 1;
    return cos > 0.99999 ? 0 : StrictMath.acos(Math.max(-1, cos));
  }

  /** Returns luminance times area: the intensity straight ahead. */
  float power(int i, float[] scratch) {
    return radiance[i] * normal(i, 0.5f, scratch);
  }

  /**
   * Returns the irradiance a triangle gives to a point, without shadows: exactly 0 where its lit
   * side or the surface is turned away, a guess from its middle elsewhere.
   *
   * @param nx normal of the lit surface; all 0 if light from both sides counts
   */
  float guess(int i, float x, float y, float z, float nx, float ny, float nz) {
    if (!(radiance[i] > 0)) {
      return 0;
    }
    float at = closing == null ? 0 : 0.5f;
    float px = at(i, 0, at) - x, py = at(i, 1, at) - y, pz = at(i, 2, at) - z;
    float ax = at(i, 3, at), ay = at(i, 4, at), az = at(i, 5, at);
    float bx = at(i, 6, at), by = at(i, 7, at), bz = at(i, 8, at);
    float mx = ay * bz - az * by, my = az * bx - ax * bz, mz = ax * by - ay * bx;
    float height = -(px * mx + py * my + pz * mz);
    if (closing == null && height <= 0 && !twoSided[i]) {
      return 0;
    }
    float cx = px + (ax + bx) / 3, cy = py + (ay + by) / 3, cz = pz + (az + bz) / 3;
    float double2 = mx * mx + my * my + mz * mz;
    float doubleArea = (float) Math.sqrt(double2);
    float d2 = Math.max(cx * cx + cy * cy + cz * cz, 0.1f * doubleArea);
    float d = (float) Math.sqrt(d2);
    // Radiance times area times cosine; near and wide triangles have better places than the middle.
    float wide = Math.min(1, doubleArea / d2);
    float cos = Math.abs(height) / Math.max(1e-30f, doubleArea * d);
    float e = radiance[i] * 0.5f * doubleArea * Math.min(1, cos + 0.25f * wide) / d2;
    if (nx == 0 && ny == 0 && nz == 0) {
      return e;
    }
    float p = px * nx + py * ny + pz * nz;
    float a = ax * nx + ay * ny + az * nz, b = bx * nx + by * ny + bz * nz;
    float highest = p + Math.max(0, Math.max(a, b));
    if (highest <= 0 && closing == null) {
      return 0;
    }
    float facing = (p + (a + b) / 3) / d;
    return e * Math.max(0.02f, Math.min(1, facing + 0.25f * wide));
  }

  /**
   * Chooses a point evenly over a triangle.
   *
   * @return false if its emitting side is turned away
   */
  boolean sample(int i, float x, float y, float z, float time, float u, float v, LightSample s) {
    float area = normal(i, time, s.scratch);
    float root = (float) Math.sqrt(u);
    s.triangle = i;
    s.u = 1 - root;
    s.v = v * root;
    float dx = at(i, 0, time) + s.u * at(i, 3, time) + s.v * at(i, 6, time) - x;
    float dy = at(i, 1, time) + s.u * at(i, 4, time) + s.v * at(i, 7, time) - y;
    float dz = at(i, 2, time) + s.u * at(i, 5, time) + s.v * at(i, 8, time) - z;
    float d = (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
    if (!(d > 0) || !(area > 0)) {
      return false;
    }
    s.x = dx / d;
    s.y = dy / d;
    s.z = dz / d;
    s.distance = d;
    float cos = -(s.x * s.scratch[0] + s.y * s.scratch[1] + s.z * s.scratch[2]) / (2 * area);
    if (cos <= 0 && !twoSided[i]) {
      return false;
    }
    s.density = density(area, d, cos);
    s.r = s.g = s.b = s.density > 0 ? 1 / s.density : 0;
    return s.density > 0;
  }

  /** Returns the density per steradian of a point met at a distance under a cosine. */
  float density(int i, float time, float distance, float cos, float[] scratch) {
    return density(normal(i, time, scratch), distance, cos);
  }

  private static float density(float area, float distance, float cos) {
    float c = Math.abs(cos);
    return c > 1e-7f ? distance * distance / (c * area) : 0;
  }

  public long bytes() {
    return 4L * (opening.length * (closing == null ? 1 : 2) + radiance.length + from.length)
        + twoSided.length;
  }
}
