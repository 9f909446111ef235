package posada.core.light;

import posada.core.geometry.Affine;
import posada.core.scene.Primitive;

/** Emissive triangles of one placed primitive: points on them are chosen evenly over their area. */
public final class AreaLight {
  private static final int STRIDE = 9;

  /** Corners in world space, 9 floats for each triangle: first corner, two edges. */
  private final float[] tri;

  private final float[] cdf;
  private final float area;
  private final float luminance;
  private final boolean twoSided;
  private final float cx, cy, cz, radius;
  private final int instance;
  private final int primitive;

  /** The last chosen point: triangle of the primitive and barycentrics. */
  public static final class Point {
    public int triangle;
    public float u, v;

    /** Density per steradian of the direction, and whether the lit point sees an emitting side. */
    public float density;
  }

  /**
   * @param luminance mean radiance given off, as luminance
   * @param twoSided true if backs give off light as well
   */
  public AreaLight(
      Primitive p, Affine toWorld, int instance, int primitive, float luminance, boolean twoSided) {
    this.instance = instance;
    this.primitive = primitive;
    this.luminance = luminance;
    this.twoSided = twoSided;
    int n = p.triangles();
    tri = new float[n * STRIDE];
    cdf = new float[n + 1];
    double run = 0;
    double[] areas = new double[n];
    float[] m = toWorld.toFloats();
    float[] w = new float[STRIDE];
    posada.core.geometry.Bounds bounds = new posada.core.geometry.Bounds();
    for (int t = 0; t < n; t++) {
      for (int c = 0; c < 3; c++) {
        int i = p.indices()[t * 3 + c] * 3;
        float x = p.positions()[i], y = p.positions()[i + 1], z = p.positions()[i + 2];
        for (int k = 0; k < 3; k++) {
          w[c * 3 + k] = m[k * 4] * x + m[k * 4 + 1] * y + m[k * 4 + 2] * z + m[k * 4 + 3];
        }
        bounds.add(w[c * 3], w[c * 3 + 1], w[c * 3 + 2]);
      }
      for (int k = 0; k < 3; k++) {
        tri[t * STRIDE + k] = w[k];
        tri[t * STRIDE + 3 + k] = w[3 + k] - w[k];
        tri[t * STRIDE + 6 + k] = w[6 + k] - w[k];
      }
      areas[t] = triangleArea(t);
      run += areas[t];
    }
    area = (float) run;
    double sum = 0;
    for (int t = 0; t < n; t++) {
      sum += areas[t];
      cdf[t + 1] = (float) (sum / run);
    }
    cx = (float) bounds.centre().x();
    cy = (float) bounds.centre().y();
    cz = (float) bounds.centre().z();
    radius = (float) (bounds.diagonal() / 2);
  }

  private double triangleArea(int t) {
    int o = t * STRIDE;
    double x = (double) tri[o + 4] * tri[o + 8] - (double) tri[o + 5] * tri[o + 7];
    double y = (double) tri[o + 5] * tri[o + 6] - (double) tri[o + 3] * tri[o + 8];
    double z = (double) tri[o + 3] * tri[o + 7] - (double) tri[o + 4] * tri[o + 6];
    return 0.5 * Math.sqrt(x * x + y * y + z * z);
  }

  public int instance() {
    return instance;
  }

  public int primitive() {
    return primitive;
  }

  /** Returns true if the triangles have an area, so that points can be chosen. */
  public boolean usable() {
    return area > 0 && area < Float.POSITIVE_INFINITY;
  }

  /** Returns a guess at the irradiance on a facing surface at the point, as luminance. */
  public float importance(float x, float y, float z) {
    float dx = cx - x, dy = cy - y, dz = cz - z;
    float d2 = Math.max(dx * dx + dy * dy + dz * dz, radius * radius);
    return luminance * area * (twoSided ? 0.5f : 0.25f) / d2;
  }

  /** Returns the density per steradian of a hit at a distance under a cosine at the light. */
  public float density(float distance, float cos) {
    float c = Math.abs(cos);
    return c > 1e-7f ? distance * distance / (c * area) : 0;
  }

  /**
   * Chooses a point on the light as seen from {@code x, y, z}.
   *
   * @param s receives direction and distance
   * @param at receives the point and its density
   * @return false if that point's emitting side is turned away
   */
  public boolean sample(float x, float y, float z, float u, float v, LightSample s, Point at) {
    int lo = 0;
    int hi = cdf.length - 1;
    while (hi - lo > 1) {
      int mid = (lo + hi) >>> 1;
      if (cdf[mid] <= u) {
        lo = mid;
      } else {
        hi = mid;
      }
    }
    float width = cdf[lo + 1] - cdf[lo];
    float w = width > 0 ? Math.min(0.9999999f, (u - cdf[lo]) / width) : 0.5f;
    float root = (float) Math.sqrt(w);
    at.triangle = lo;
    at.u = 1 - root;
    at.v = v * root;
    int o = lo * STRIDE;
    float dx = tri[o] + at.u * tri[o + 3] + at.v * tri[o + 6] - x;
    float dy = tri[o + 1] + at.u * tri[o + 4] + at.v * tri[o + 7] - y;
    float dz = tri[o + 2] + at.u * tri[o + 5] + at.v * tri[o + 8] - z;
    float d = (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
    float nx = tri[o + 4] * tri[o + 8] - tri[o + 5] * tri[o + 7];
    float ny = tri[o + 5] * tri[o + 6] - tri[o + 3] * tri[o + 8];
    float nz = tri[o + 3] * tri[o + 7] - tri[o + 4] * tri[o + 6];
    float nl = (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
    if (!(d > 0) || !(nl > 0)) {
      return false;
    }
    s.x = dx / d;
    s.y = dy / d;
    s.z = dz / d;
    s.distance = d;
    float cos = -(s.x * nx + s.y * ny + s.z * nz) / nl;
    at.density = density(d, cos);
    return at.density > 0 && (cos > 0 || twoSided);
  }
}
