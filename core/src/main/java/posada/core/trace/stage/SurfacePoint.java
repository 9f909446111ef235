package posada.core.trace.stage;

import posada.core.geometry.FastMath;
import posada.core.geometry.Ray;
import posada.core.material.SurfaceValues;
import posada.core.scene.AlphaMode;
import posada.core.scene.Material;
import posada.core.trace.stage.Look.Input;

/** What a ray meets: the point and its material values. Scratch of one worker thread. */
public final class SurfacePoint extends TrianglePoint {
  /** Least cosine between the shading normal and the viewer. */
  private static final float LEAST_COSINE = 0.01f;

  /** Number of the emissive triangle, or -1. */
  public int emissive;

  /** Normal of the varnish. */
  private float vx, vy, vz;

  public Look look;
  public final SurfaceValues values = new SurfaceValues();
  public float alpha;
  public final float[] emission = new float[3];
  private final float[] texel = new float[4];

  /** Logarithm of the footprint over the triangle, in levels for a texture of one texel. */
  private float footprint;

  /**
   * Fills in place, sides and alpha at the ray's hit.
   *
   * @param width of the ray's footprint across its direction, metres
   */
  public void fill(Stage stage, Ray ray, float width) {
    Instance in = stage.instances[ray.instance];
    int prim = in.mesh.primitiveOf(ray.triangle);
    int triangle = ray.triangle - in.mesh.firstTriangle(prim);
    at(in, prim, triangle, ray.u, ray.v, ray.time);
    look = in.looks[prim];
    geometry();
    emissive = in.emissive[prim] < 0 ? -1 : in.emissive[prim] + triangle;
    float cos = gx * ray.dx + gy * ray.dy + gz * ray.dz;
    front = cos <= 0;
    float slant = Math.max(0.05f, Math.abs(cos));
    footprint = (float) FastMath.log2(width * width / (slant * Math.max(1e-30f, doubleArea)));
    alpha();
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
  public void shade(Ray ray) {
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
  public void varnish(posada.core.geometry.ShadingFrame f) {
    f.toLocal(vx, vy, vz);
    values.coatX = f.rx;
    values.coatY = f.ry;
    values.coatZ = f.rz;
  }

  /**
   * Fills in the smooth normal, turned to the side that is seen, the base colour and what is given
   * off, and nothing else, at a point of a triangle.
   *
   * @param front true if the front is seen
   * @param to the direction of view
   * @param width of a ray's footprint across its direction, metres
   */
  public void plain(
      Instance in,
      int prim,
      int triangle,
      float bv,
      float bw,
      boolean front,
      float[] to,
      float width) {
    at(in, prim, triangle, bv, bw, 0);
    look = in.looks[prim];
    footprint = Float.NEGATIVE_INFINITY;
    if (p.normals() == null || look.base != null || look.emission != null) {
      geometry();
      float slant = Math.max(0.05f, Math.abs(gx * to[0] + gy * to[1] + gz * to[2]));
      footprint = (float) FastMath.log2(width * width / (slant * Math.max(1e-30f, doubleArea)));
    }
    if (p.normals() != null) {
      between(p.normals());
    }
    if (!front) {
      nx = -nx;
      ny = -ny;
      nz = -nz;
    }
    base();
    if (look.material.unlit()) {
      System.arraycopy(values.base, 0, emission, 0, 3);
    } else {
      emission();
    }
  }

  private void base() {
    Material mat = look.material;
    float[] base = values.base;
    for (int k = 0; k < 3; k++) {
      base[k] = mat.baseColor()[k];
    }
    float[] col = look.plain ? null : p.colors();
    if (col != null) {
      for (int k = 0; k < 3; k++) {
        base[k] *= col[a * 4 + k] * u + col[b * 4 + k] * v + col[c * 4 + k] * w;
      }
    }
    if (look.dyed && read(look.base)) {
      for (int k = 0; k < 3; k++) {
        base[k] *= texel[k];
      }
    }
  }

  private void values() {
    Material mat = look.material;
    SurfaceValues s = values;
    base();
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
    float[] glow = instance.glow;
    for (int k = 0; glow != null && k < 3; k++) {
      emission[k] *= glow[k];
    }
  }

  /** Returns the index of refraction; 0 in the file stands for a perfect mirror's. */
  static float ior(Material m) {
    return m.specular().ior() == 0 ? 1e3f : m.specular().ior();
  }

  /** Stores a set of texture coordinates, 0 if the mesh does not have it. */
  public void coordinates(int set, float[] out) {
    float[] t = set < p.uvs().length ? p.uvs()[set] : null;
    for (int k = 0; k < 2; k++) {
      out[k] = t == null ? 0 : t[a * 2 + k] * u + t[b * 2 + k] * v + t[c * 2 + k] * w;
    }
  }

  private void dielectric(Material mat, SurfaceValues s) {
    Material.Specular p = mat.specular();
    s.ior = ior(mat);
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
  public void emissionAt(Instance in, int prim, int triangle, float bv, float bw, float t) {
    at(in, prim, triangle, bv, bw, t);
    look = in.looks[prim];
    footprint = Float.NEGATIVE_INFINITY;
    alpha();
    emission();
  }

  /** Returns the luminance that a triangle gives off on average, coverage counted. */
  float meanEmission(Instance in, int prim, int triangle) {
    at(in, prim, triangle, 1 / 3f, 1 / 3f, 0);
    look = in.looks[prim];
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
}
