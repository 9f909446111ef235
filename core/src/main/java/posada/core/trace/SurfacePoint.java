package posada.core.trace;

import posada.core.geometry.FastMath;
import posada.core.geometry.Ray;
import posada.core.material.SurfaceValues;
import posada.core.scene.AlphaMode;
import posada.core.scene.Material;
import posada.core.scene.Primitive;
import posada.core.trace.Look.Input;

/** What a ray meets: place, normals and material values there. Scratch of one worker thread. */
final class SurfacePoint {
  /** Rounding errors of a hit, in units of the coordinates they come from (about 12 ulp). */
  private static final float ROUNDING = 8e-7f;

  /** Least cosine between the shading normal and the viewer. */
  private static final float LEAST_COSINE = 0.01f;

  private final Looks looks;
  float x, y, z;

  /** Unit normals in world space, turned to the side the ray came from. */
  float gx, gy, gz, nx, ny, nz;

  /** Unit tangent at right angles to the shading normal, for brushed surfaces. */
  float tx, ty, tz;

  /** Normal of the varnish. */
  private float vx, vy, vz;

  /** True if the ray came from the front. */
  boolean front;

  /** Metres to step off the surface so that it is not met again. */
  float offset;

  /**
   * From the point to the smooth surface that the flat triangle stands for; on the front side, 0 if
   * it is flat or hollow there.
   */
  float bulgeX, bulgeY, bulgeZ;

  /** Number of the emissive triangle, or -1. */
  int emissive;

  Instance instance;
  Look look;
  final SurfaceValues values = new SurfaceValues();
  float alpha;
  final float[] emission = new float[3];
  private final float[] texel = new float[4];
  private final float[] place = new float[12];
  private final float[] turn = new float[9];
  private final float[] corners = new float[9];

  /** Placement and turn of normals in use for this point. */
  private float[] m, n;

  private Primitive p, q;
  private int a, b, c;
  private float u, v, w, time;

  /** Logarithm of the footprint over the triangle, in levels for a texture of one texel. */
  private float footprint;

  private float doubleArea;

  SurfacePoint(Looks looks) {
    this.looks = looks;
  }

  /**
   * Fills in place, sides and alpha at the ray's hit.
   *
   * @param width of the ray's footprint across its direction, metres
   */
  void fill(Stage stage, Ray ray, float width) {
    Instance in = stage.instances[ray.instance];
    int prim = in.mesh.primitiveOf(ray.triangle);
    int triangle = ray.triangle - in.mesh.firstTriangle(prim);
    at(in, prim, triangle, ray.u, ray.v, ray.time);
    geometry();
    emissive = in.emissive[prim] < 0 ? -1 : in.emissive[prim] + triangle;
    float cos = gx * ray.dx + gy * ray.dy + gz * ray.dz;
    front = cos <= 0;
    float slant = Math.max(0.05f, Math.abs(cos));
    footprint = (float) FastMath.log2(width * width / (slant * Math.max(1e-30f, doubleArea)));
    alpha();
  }

  private void at(Instance in, int prim, int triangle, float bv, float bw, float t) {
    instance = in;
    p = in.primitives.get(prim);
    q = in.closing == null ? null : in.closing.get(prim);
    look = looks.get(p.material());
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

  private void geometry() {
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
  private float unit(float wx, float wy, float wz) {
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

  private void alpha() {
    if (look.opaque) {
      alpha = 1;
      return;
    }
    Material mat = look.material;
    alpha = mat.baseColor()[3];
    float[] col = p.colors();
    if (col != null) {
      alpha *= col[a * 4 + 3] * u + col[b * 4 + 3] * v + col[c * 4 + 3] * w;
    }
    if (read(look.base)) {
      alpha *= texel[3];
    }
    if (mat.alphaMode() == AlphaMode.MASK) {
      alpha = alpha >= mat.alphaCutoff() ? 1 : 0;
    }
  }

  /** Fills in normals and everything that scatters, for a ray that is not let pass. */
  void shade(Ray ray) {
    smooth();
    values();
    if (look.normal != null && read(look.normal)) {
      vx = nx;
      vy = ny;
      vz = nz;
      bump(look.material.normal().scale(), look.normal);
    } else {
      vx = nx;
      vy = ny;
      vz = nz;
    }
    float bx = nx, by = ny, bz = nz;
    boolean varnished = values.coat > 0;
    if (varnished && look.coatNormal != null && read(look.coatNormal)) {
      nx = vx;
      ny = vy;
      nz = vz;
      bump(look.material.coat().normal().scale(), look.coatNormal);
      vx = nx;
      vy = ny;
      vz = nz;
      nx = bx;
      ny = by;
      nz = bz;
    }
    if (!front) {
      gx = -gx;
      gy = -gy;
      gz = -gz;
      nx = -nx;
      ny = -ny;
      nz = -nz;
      vx = -vx;
      vy = -vy;
      vz = -vz;
    }
    keepVisible(-ray.dx, -ray.dy, -ray.dz);
    if (values.brushed > 0) {
      brush();
    }
  }

  /** Stores the varnish's normal in the shading frame. */
  void varnish(posada.core.geometry.ShadingFrame f) {
    f.toLocal(vx, vy, vz);
    values.coatX = f.rx;
    values.coatY = f.ry;
    values.coatZ = f.rz;
  }

  private void smooth() {
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

  private void values() {
    Material mat = look.material;
    SurfaceValues s = values;
    float[] base = s.base;
    for (int k = 0; k < 3; k++) {
      base[k] = mat.baseColor()[k];
    }
    float[] col = p.colors();
    if (col != null) {
      for (int k = 0; k < 3; k++) {
        base[k] *= col[a * 4 + k] * u + col[b * 4 + k] * v + col[c * 4 + k] * w;
      }
    }
    if (read(look.base)) {
      for (int k = 0; k < 3; k++) {
        base[k] *= texel[k];
      }
    }
    s.metallic = mat.metallic();
    s.roughness = mat.roughness();
    if (read(look.metallicRoughness)) {
      s.roughness *= texel[1];
      s.metallic *= texel[2];
    }
    emission();
    dielectric(mat, s);
    layers(mat, s);
  }

  private void emission() {
    if (!look.emits) {
      emission[0] = emission[1] = emission[2] = 0;
      return;
    }
    float[] e = look.material.emission();
    boolean textured = read(look.emission);
    for (int k = 0; k < 3; k++) {
      emission[k] = textured ? e[k] * texel[k] : e[k];
    }
  }

  private void dielectric(Material mat, SurfaceValues s) {
    Material.Specular p = mat.specular();
    s.ior = p.ior() == 0 ? 1e3f : p.ior();
    s.f90 = p.factor();
    if (read(look.specular)) {
      s.f90 *= texel[3];
    }
    boolean tinted = read(look.specularColor);
    for (int k = 0; k < 3; k++) {
      float tint = tinted ? p.color()[k] * texel[k] : p.color()[k];
      s.f0[k] = Math.min(1, look.reflection * tint) * s.f90;
    }
    s.transmission = look.transmits ? mat.transmission().factor() : 0;
    if (s.transmission > 0 && read(look.transmission)) {
      s.transmission *= texel[0];
    }
    s.thin = !mat.encloses();
  }

  private void layers(Material mat, SurfaceValues s) {
    s.coat = mat.coat().factor();
    s.coatX = s.coatY = 0;
    s.coatZ = 1;
    if (s.coat > 0) {
      s.coatRoughness = mat.coat().roughness();
      if (read(look.coat)) {
        s.coat *= texel[0];
      }
      if (read(look.coatRoughness)) {
        s.coatRoughness *= texel[1];
      }
    }
    float[] color = mat.sheen().color();
    boolean fibres = color[0] > 0 || color[1] > 0 || color[2] > 0;
    boolean dyed = fibres && read(look.sheen);
    for (int k = 0; k < 3; k++) {
      s.sheen[k] = dyed ? color[k] * texel[k] : color[k];
    }
    if (fibres) {
      s.sheenRoughness = mat.sheen().roughness();
      if (read(look.sheenRoughness)) {
        s.sheenRoughness *= texel[3];
      }
    }
    s.brushed = mat.anisotropy().strength();
    if (s.brushed > 0 && read(look.brushed)) {
      s.brushed *= texel[2];
    }
  }

  /** Stores the emission and alpha at a point of a primitive, for sampling lights. */
  void emissionAt(Instance in, int prim, int triangle, float bv, float bw, float t) {
    at(in, prim, triangle, bv, bw, t);
    footprint = Float.NEGATIVE_INFINITY;
    alpha();
    emission();
  }

  /** Returns the luminance that a triangle gives off on average, coverage counted. */
  float meanEmission(Instance in, int prim, int triangle) {
    at(in, prim, triangle, 1 / 3f, 1 / 3f, 0);
    // A footprint as large as the triangle.
    footprint = 0;
    alpha();
    emission();
    return alpha * posada.core.light.Luminance.of(emission);
  }

  /** Reads a texture into {@code texel}; false if there is none or the mesh lacks coordinates. */
  private boolean read(Input in) {
    if (in == null) {
      return false;
    }
    float[] t = p.uv(in.uvSet);
    if (t == null) {
      return false;
    }
    int i = a * 2, j = b * 2, k = c * 2;
    float s = t[i] * u + t[j] * v + t[k] * w;
    float r = t[i + 1] * u + t[j + 1] * v + t[k + 1] * w;
    float level = Float.NEGATIVE_INFINITY;
    if (footprint > Float.NEGATIVE_INFINITY) {
      float area =
          Math.abs((t[j] - t[i]) * (t[k + 1] - t[i + 1]) - (t[k] - t[i]) * (t[j + 1] - t[i + 1]));
      level = 0.5f * (footprint + (float) FastMath.log2(Math.max(1e-30f, area))) + in.detail;
    }
    in.map.read(in.u(s, r), in.v(s, r), level, texel);
    return true;
  }

  /** Bends the normal by the texel read last. */
  private void bump(float scale, Input in) {
    if (!tangent(in)) {
      return;
    }
    float s = (2 * texel[0] - 1) * scale;
    float r = (2 * texel[1] - 1) * scale;
    float d = Math.max(1e-3f, 2 * texel[2] - 1);
    float bx = (ny * tz - nz * ty) * side;
    float by = (nz * tx - nx * tz) * side;
    float bz = (nx * ty - ny * tx) * side;
    unit(tx * s + bx * r + nx * d, ty * s + by * r + ny * d, tz * s + bz * r + nz * d);
  }

  /** 1 if tangent, bitangent and normal are right-handed, -1 if the texture is mirrored. */
  private float side;

  /**
   * Finds the tangent along a texture's first coordinate: the mesh's own, or that of the
   * coordinates.
   *
   * @return false if there is none
   */
  private boolean tangent(Input in) {
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

  /** Turns the tangent into the direction of the brush strokes. */
  private void brush() {
    Material.Anisotropy b = look.material.anisotropy();
    float s = (float) StrictMath.sin(b.rotation()), r = (float) StrictMath.cos(b.rotation());
    if (read(look.brushed)) {
      float dx = 2 * texel[0] - 1, dy = 2 * texel[1] - 1;
      float l = (float) Math.sqrt(dx * dx + dy * dy);
      if (l > 0) {
        float cos = (dx * r - dy * s) / l;
        s = (dx * s + dy * r) / l;
        r = cos;
      }
    }
    if (!tangent(look.brushed)) {
      values.brushed = 0;
      return;
    }
    float flip = front ? side : -side;
    float bx = (ny * tz - nz * ty) * flip;
    float by = (nz * tx - nx * tz) * flip;
    float bz = (nx * ty - ny * tx) * flip;
    tx = tx * r + bx * s;
    ty = ty * r + by * s;
    tz = tz * r + bz * s;
  }

  /**
   * Bends a shading normal from which the viewer, or what it mirrors, would lie below the surface
   * just far enough; so grazing views neither leak light through the surface nor go black.
   */
  private void keepVisible(float ox, float oy, float oz) {
    float d = nx * ox + ny * oy + nz * oz;
    if (d < LEAST_COSINE) {
      towards(ox, oy, oz, LEAST_COSINE - d);
      d = nx * ox + ny * oy + nz * oz;
    }
    if (nx == gx && ny == gy && nz == gz) {
      return;
    }
    // The mirrored view 2 (n.o) n - o must keep a cosine above the flat surface.
    float og = ox * gx + oy * gy + oz * gz;
    float ng = nx * gx + ny * gy + nz * gz;
    float least = Math.min(0.5f * og, 0.05f);
    float mirrored = 2 * d * ng - og;
    if (mirrored >= least) {
      return;
    }
    // The normal halfway between the view and the view mirrored just above the surface.
    float rx = 2 * d * nx - ox, ry = 2 * d * ny - oy, rz = 2 * d * nz - oz;
    float lift = least - mirrored;
    rx += gx * lift;
    ry += gy * lift;
    rz += gz * lift;
    float l = 1 / (float) Math.sqrt(rx * rx + ry * ry + rz * rz);
    unit(rx * l + ox, ry * l + oy, rz * l + oz);
  }

  private void towards(float ox, float oy, float oz, float k) {
    unit(nx + ox * k, ny + oy * k, nz + oz * k);
  }
}
