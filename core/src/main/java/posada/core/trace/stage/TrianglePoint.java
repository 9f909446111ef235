package posada.core.trace.stage;

import posada.core.geometry.Ray;
import posada.core.scene.Primitive;
import posada.core.trace.stage.Look.Input;

/**
 * A point of a placed, perhaps moving and bent triangle: place, normals, tangent. Scratch of one
 * worker thread.
 */
class TrianglePoint {
  /** Rounding errors of a hit, in units of the coordinates they come from (about 12 ulp). */
  private static final float ROUNDING = 8e-7f;

  public float x, y, z;

  /** Unit normals in world space, turned to the side the ray came from. */
  public float gx, gy, gz, nx, ny, nz;

  /** Unit tangent at right angles to the shading normal, for brushed surfaces. */
  public float tx, ty, tz;

  /** True if the ray came from the front. */
  public boolean front;

  /** Metres to step off the surface so that it is not met again. */
  public float offset;

  /**
   * From the point to the smooth surface that the flat triangle stands for; on the front side, 0 if
   * it is flat or hollow there.
   */
  public float bulgeX, bulgeY, bulgeZ;

  public Instance instance;
  private final float[] place = new float[12];
  private final float[] turn = new float[9];
  private final float[] corners = new float[9];

  /** Placement and turn of normals in use for this point. */
  float[] m, n;

  public Primitive p, q;

  /** Number of the primitive in its mesh. */
  public int prim;

  int a, b, c;
  public float u, v, w, time;

  float doubleArea;

  /** Goes to a point of a triangle by the weights of its second and third corner. */
  void at(Instance in, int primitive, int triangle, float bv, float bw, float t) {
    instance = in;
    prim = primitive;
    p = in.primitives.get(prim);
    q = in.closing == null ? null : in.closing.get(prim);
    time = t;
    int[] i = p.indices();
    a = i[triangle * 3];
    b = i[triangle * 3 + 1];
    c = i[triangle * 3 + 2];
    u = 1 - bv - bw;
    v = bv;
    w = bw;
    m = in.place(t, place);
    n = in.normals(m, turn);
  }

  private void corner(int vertex, int to) {
    float[] f = p.positions();
    for (int k = 0; k < 3; k++) {
      float o = f[vertex * 3 + k];
      corners[to + k] = q == null ? o : o + (q.positions()[vertex * 3 + k] - o) * time;
    }
  }

  /**
   * Starts a ray from here, on the side of the surface that it goes to.
   *
   * @param dx direction, likewise dy, dz
   */
  public final void leave(Ray ray, float dx, float dy, float dz, float tMax) {
    float side = dx * gx + dy * gy + dz * gz >= 0 ? offset : -offset;
    ray.set(x + gx * side, y + gy * side, z + gz * side, dx, dy, dz, tMax);
  }

  /** Finds place and flat normal. */
  void geometry() {
    corner(a, 0);
    corner(b, 3);
    corner(c, 6);
    float[] k = corners;
    float lx = k[0] * u + k[3] * v + k[6] * w;
    float ly = k[1] * u + k[4] * v + k[7] * w;
    float lz = k[2] * u + k[5] * v + k[8] * w;
    x = m[0] * lx + m[1] * ly + m[2] * lz + m[3];
    y = m[4] * lx + m[5] * ly + m[6] * lz + m[7];
    z = m[8] * lx + m[9] * ly + m[10] * lz + m[11];
    offset =
        ROUNDING * (Math.max(Math.abs(x), Math.max(Math.abs(y), Math.abs(z))) + instance.extent);
    float e1x = turnX(k[3] - k[0], k[4] - k[1], k[5] - k[2]);
    float e1y = turnY(k[3] - k[0], k[4] - k[1], k[5] - k[2]);
    float e1z = turnZ(k[3] - k[0], k[4] - k[1], k[5] - k[2]);
    float e2x = turnX(k[6] - k[0], k[7] - k[1], k[8] - k[2]);
    float e2y = turnY(k[6] - k[0], k[7] - k[1], k[8] - k[2]);
    float e2z = turnZ(k[6] - k[0], k[7] - k[1], k[8] - k[2]);
    float h = instance.hand;
    doubleArea =
        unit(h * (e1y * e2z - e1z * e2y), h * (e1z * e2x - e1x * e2z), h * (e1x * e2y - e1y * e2x));
    gx = nx;
    gy = ny;
    gz = nz;
  }

  private float turnX(float lx, float ly, float lz) {
    return m[0] * lx + m[1] * ly + m[2] * lz;
  }

  private float turnY(float lx, float ly, float lz) {
    return m[4] * lx + m[5] * ly + m[6] * lz;
  }

  private float turnZ(float lx, float ly, float lz) {
    return m[8] * lx + m[9] * ly + m[10] * lz;
  }

  /** Stores a vector at unit length as the shading normal; returns its length. */
  final float unit(float wx, float wy, float wz) {
    // Scaled first, so that tiny triangles of tiny scenes do not underflow when squared.
    float most = Math.max(Math.abs(wx), Math.max(Math.abs(wy), Math.abs(wz)));
    if (!(most > 0)) {
      nx = 0;
      ny = 1;
      nz = 0;
      return 0;
    }
    wx /= most;
    wy /= most;
    wz /= most;
    float l = (float) Math.sqrt(wx * wx + wy * wy + wz * wz);
    nx = wx / l;
    ny = wy / l;
    nz = wz / l;
    return l * most;
  }

  /** Finds the normal between some of the corners, whatever the flat one is. */
  final void between(float[] s) {
    float lx = s[a * 3] * u + s[b * 3] * v + s[c * 3] * w;
    float ly = s[a * 3 + 1] * u + s[b * 3 + 1] * v + s[c * 3 + 1] * w;
    float lz = s[a * 3 + 2] * u + s[b * 3 + 2] * v + s[c * 3 + 2] * w;
    unit(
        n[0] * lx + n[1] * ly + n[2] * lz,
        n[3] * lx + n[4] * ly + n[5] * lz,
        n[6] * lx + n[7] * ly + n[8] * lz);
  }

  /** Finds the normal between those of the corners. */
  void smooth() {
    bulgeX = bulgeY = bulgeZ = 0;
    float[] s = p.normals();
    if (s == null) {
      return;
    }
    float lx = s[a * 3] * u + s[b * 3] * v + s[c * 3] * w;
    float ly = s[a * 3 + 1] * u + s[b * 3 + 1] * v + s[c * 3 + 1] * w;
    float lz = s[a * 3 + 2] * u + s[b * 3 + 2] * v + s[c * 3 + 2] * w;
    if (q != null && q.normals() != null) {
      float[] e = q.normals();
      lx += ((e[a * 3] * u + e[b * 3] * v + e[c * 3] * w) - lx) * time;
      ly += ((e[a * 3 + 1] * u + e[b * 3 + 1] * v + e[c * 3 + 1] * w) - ly) * time;
      lz += ((e[a * 3 + 2] * u + e[b * 3 + 2] * v + e[c * 3 + 2] * w) - lz) * time;
    }
    unit(
        n[0] * lx + n[1] * ly + n[2] * lz,
        n[3] * lx + n[4] * ly + n[5] * lz,
        n[6] * lx + n[7] * ly + n[8] * lz);
    // Normals that point through the surface, as bad files have them, are no normals.
    if (nx * gx + ny * gy + nz * gz <= 0) {
      nx = gx;
      ny = gy;
      nz = gz;
    } else {
      bulge(s);
    }
  }

  /**
   * Finds the point of the curved surface: the mean of the point's projections on the planes of the
   * corners. Rays to lights start there, so that coarse triangles do not shadow themselves.
   *
   * <p>Source: J. Hanika, "Hacking the Shadow Terminator", Ray Tracing Gems II, 2021.
   */
  private void bulge(float[] s) {
    float[] k = corners;
    float lx = k[0] * u + k[3] * v + k[6] * w;
    float ly = k[1] * u + k[4] * v + k[7] * w;
    float lz = k[2] * u + k[5] * v + k[8] * w;
    float ox = 0, oy = 0, oz = 0;
    for (int i = 0; i < 3; i++) {
      int at = (i == 0 ? a : i == 1 ? b : c) * 3;
      float weight = i == 0 ? u : i == 1 ? v : w;
      float d =
          (lx - k[i * 3]) * s[at]
              + (ly - k[i * 3 + 1]) * s[at + 1]
              + (lz - k[i * 3 + 2]) * s[at + 2];
      if (d < 0) {
        ox -= weight * d * s[at];
        oy -= weight * d * s[at + 1];
        oz -= weight * d * s[at + 2];
      }
    }
    bulgeX = turnX(ox, oy, oz);
    bulgeY = turnY(ox, oy, oz);
    bulgeZ = turnZ(ox, oy, oz);
  }

  /** 1 if tangent, bitangent and normal are right-handed, -1 if the texture is mirrored. */
  float side;

  /**
   * Finds the tangent along a texture's first coordinate: the mesh's own, or that of the
   * coordinates.
   *
   * @return false if there is none
   */
  final boolean tangent(Input in) {
    float lx, ly, lz;
    float[] t = p.tangents();
    float[] s = in == null ? p.uv(0) : p.uv(in.uvSet);
    if (t != null) {
      lx = t[a * 4] * u + t[b * 4] * v + t[c * 4] * w;
      ly = t[a * 4 + 1] * u + t[b * 4 + 1] * v + t[c * 4 + 1] * w;
      lz = t[a * 4 + 2] * u + t[b * 4 + 2] * v + t[c * 4 + 2] * w;
      side = t[a * 4 + 3] * instance.hand;
    } else if (s != null) {
      float u1 = s[b * 2] - s[a * 2], v1 = s[b * 2 + 1] - s[a * 2 + 1];
      float u2 = s[c * 2] - s[a * 2], v2 = s[c * 2 + 1] - s[a * 2 + 1];
      float det = u1 * v2 - u2 * v1;
      if (det == 0) {
        return false;
      }
      // Texture coordinates grow downwards, so the bitangent of a right-handed layout is flipped.
      side = (det > 0 ? -1 : 1) * instance.hand;
      float k = 1 / det;
      float[] e = corners;
      lx = (v2 * (e[3] - e[0]) - v1 * (e[6] - e[0])) * k;
      ly = (v2 * (e[4] - e[1]) - v1 * (e[7] - e[1])) * k;
      lz = (v2 * (e[5] - e[2]) - v1 * (e[8] - e[2])) * k;
    } else {
      return false;
    }
    tx = turnX(lx, ly, lz);
    ty = turnY(lx, ly, lz);
    tz = turnZ(lx, ly, lz);
    return straighten();
  }

  /** Makes the tangent a unit vector at right angles to the normal. */
  private boolean straighten() {
    float along = tx * nx + ty * ny + tz * nz;
    tx -= nx * along;
    ty -= ny * along;
    tz -= nz * along;
    float l = (float) Math.sqrt(tx * tx + ty * ty + tz * tz);
    if (!(l > 0)) {
      return false;
    }
    tx /= l;
    ty /= l;
    tz /= l;
    return true;
  }

  final void towards(float ox, float oy, float oz, float k) {
    unit(nx + ox * k, ny + oy * k, nz + oz * k);
  }
}
