package posada.core.trace;

import posada.core.geometry.Ray;
import posada.core.image.SrgbTransfer;
import posada.core.scene.Material;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.Texture;
import posada.core.scene.TextureUse;

/** What a ray meets: place, normals and material values there. Scratch of one worker thread. */
final class SurfacePoint {
  /** Rounding errors of a hit, in units of the coordinates they come from (about 12 ulp). */
  private static final float ROUNDING = 8e-7f;

  private final Scene scene;
  float x, y, z;

  /** Unit normals in world space, turned to the side the ray came from. */
  float gx, gy, gz, nx, ny, nz;

  /** True if the ray came from the front. */
  boolean front;

  /** Metres to step off the surface so that it is not met again. */
  float offset;

  int areaLight;
  Material material;
  final float[] base = new float[3];
  float alpha;
  float metallic, roughness;
  final float[] emission = new float[3];
  private final float[] texel = new float[4];
  private final float[] uv = new float[2];

  SurfacePoint(Scene scene) {
    this.scene = scene;
  }

  /** Fills in everything at the ray's hit. */
  void fill(Stage stage, Ray ray) {
    Stage.Instance in = stage.instances[ray.instance];
    int prim = in.mesh.primitiveOf(ray.triangle);
    Primitive p = in.mesh.primitives.get(prim);
    int t = (ray.triangle - in.mesh.firstTriangle(prim)) * 3;
    int a = p.indices()[t], b = p.indices()[t + 1], c = p.indices()[t + 2];
    float v = ray.u, w = ray.v, u = 1 - v - w;
    areaLight = in.areaLight[prim];
    material = scene.materials().get(p.material());
    place(in, p.positions(), a * 3, b * 3, c * 3, u, v, w);
    front = gx * ray.dx + gy * ray.dy + gz * ray.dz <= 0;
    smooth(in, p, a, b, c, u, v, w);
    values(p, a, b, c, u, v, w);
    if (material.normalTexture() != null) {
      bump(in, p, a, b, c, u, v, w);
    }
    if (!front) {
      gx = -gx;
      gy = -gy;
      gz = -gz;
      nx = -nx;
      ny = -ny;
      nz = -nz;
    }
    keepVisible(-ray.dx, -ray.dy, -ray.dz);
  }

  private void place(Stage.Instance in, float[] q, int a, int b, int c, float u, float v, float w) {
    float[] m = in.toWorld;
    float lx = q[a] * u + q[b] * v + q[c] * w;
    float ly = q[a + 1] * u + q[b + 1] * v + q[c + 1] * w;
    float lz = q[a + 2] * u + q[b + 2] * v + q[c + 2] * w;
    x = m[0] * lx + m[1] * ly + m[2] * lz + m[3];
    y = m[4] * lx + m[5] * ly + m[6] * lz + m[7];
    z = m[8] * lx + m[9] * ly + m[10] * lz + m[11];
    offset = ROUNDING * (Math.max(Math.abs(x), Math.max(Math.abs(y), Math.abs(z))) + in.extent);
    float e1x = q[b] - q[a], e1y = q[b + 1] - q[a + 1], e1z = q[b + 2] - q[a + 2];
    float e2x = q[c] - q[a], e2y = q[c + 1] - q[a + 1], e2z = q[c + 2] - q[a + 2];
    worldNormal(in, e1y * e2z - e1z * e2y, e1z * e2x - e1x * e2z, e1x * e2y - e1y * e2x);
    gx = nx;
    gy = ny;
    gz = nz;
  }

  private void worldNormal(Stage.Instance in, float lx, float ly, float lz) {
    float[] n = in.normal;
    float wx = n[0] * lx + n[1] * ly + n[2] * lz;
    float wy = n[3] * lx + n[4] * ly + n[5] * lz;
    float wz = n[6] * lx + n[7] * ly + n[8] * lz;
    // Scaled first, so that tiny triangles of tiny scenes do not underflow when squared.
    float most = Math.max(Math.abs(wx), Math.max(Math.abs(wy), Math.abs(wz)));
    if (!(most > 0)) {
      nx = 0;
      ny = 1;
      nz = 0;
      return;
    }
    wx /= most;
    wy /= most;
    wz /= most;
    float l = 1 / (float) Math.sqrt(wx * wx + wy * wy + wz * wz);
    nx = wx * l;
    ny = wy * l;
    nz = wz * l;
  }

  private void smooth(
      Stage.Instance in, Primitive p, int a, int b, int c, float u, float v, float w) {
    float[] q = p.normals();
    if (q == null) {
      return;
    }
    worldNormal(
        in,
        q[a * 3] * u + q[b * 3] * v + q[c * 3] * w,
        q[a * 3 + 1] * u + q[b * 3 + 1] * v + q[c * 3 + 1] * w,
        q[a * 3 + 2] * u + q[b * 3 + 2] * v + q[c * 3 + 2] * w);
  }

  private void values(Primitive p, int a, int b, int c, float u, float v, float w) {
    Material m = material;
    for (int k = 0; k < 3; k++) {
      base[k] = m.baseColor()[k];
      emission[k] = m.emission()[k];
    }
    alpha = m.baseColor()[3];
    metallic = m.metallic();
    roughness = m.roughness();
    float[] col = p.colors();
    if (col != null) {
      for (int k = 0; k < 3; k++) {
        base[k] *= col[a * 4 + k] * u + col[b * 4 + k] * v + col[c * 4 + k] * w;
      }
      alpha *= col[a * 4 + 3] * u + col[b * 4 + 3] * v + col[c * 4 + 3] * w;
    }
    if (m.baseTexture() != null && coordinates(m.baseTexture(), p, a, b, c, u, v, w)) {
      read(m.baseTexture(), true);
      for (int k = 0; k < 3; k++) {
        base[k] *= texel[k];
      }
      alpha *= texel[3];
    }
    TextureUse mr = m.metallicRoughnessTexture();
    if (mr != null && coordinates(mr, p, a, b, c, u, v, w)) {
      read(mr, false);
      roughness *= texel[1];
      metallic *= texel[2];
    }
    if (m.emissionTexture() != null && coordinates(m.emissionTexture(), p, a, b, c, u, v, w)) {
      read(m.emissionTexture(), true);
      for (int k = 0; k < 3; k++) {
        emission[k] *= texel[k];
      }
    }
    if (m.alphaMode() == posada.core.scene.AlphaMode.OPAQUE) {
      alpha = 1;
    } else if (m.alphaMode() == posada.core.scene.AlphaMode.MASK) {
      alpha = alpha >= m.alphaCutoff() ? 1 : 0;
    }
  }

  /** Stores the emission at a point of a primitive, for light sampling. */
  void emissionAt(Primitive p, int triangle, float v, float w) {
    material = scene.materials().get(p.material());
    int a = p.indices()[triangle * 3];
    int b = p.indices()[triangle * 3 + 1];
    int c = p.indices()[triangle * 3 + 2];
    values(p, a, b, c, 1 - v - w, v, w);
  }

  private boolean coordinates(
      TextureUse t, Primitive p, int a, int b, int c, float u, float v, float w) {
    float[] q = t.uvSet() == 1 ? p.uv1() : p.uv0();
    if (q == null) {
      return false;
    }
    float s = q[a * 2] * u + q[b * 2] * v + q[c * 2] * w;
    float r = q[a * 2 + 1] * u + q[b * 2 + 1] * v + q[c * 2 + 1] * w;
    float[] m = t.transform();
    uv[0] = m == null ? s : m[0] * s + m[1] * r + m[2];
    uv[1] = m == null ? r : m[3] * s + m[4] * r + m[5];
    return true;
  }

  private void read(TextureUse use, boolean color) {
    Texture t = scene.textures().get(use.texture());
    int w = t.image().width(), h = t.image().height();
    float s = uv[0] * w, r = uv[1] * h;
    if (t.nearest()) {
      java.util.Arrays.fill(texel, 0);
      add(t, (int) Math.floor(s), (int) Math.floor(r), 1, color);
      return;
    }
    s -= 0.5f;
    r -= 0.5f;
    int i = (int) Math.floor(s), j = (int) Math.floor(r);
    float fs = s - i, fr = r - j;
    java.util.Arrays.fill(texel, 0);
    add(t, i, j, (1 - fs) * (1 - fr), color);
    add(t, i + 1, j, fs * (1 - fr), color);
    add(t, i, j + 1, (1 - fs) * fr, color);
    add(t, i + 1, j + 1, fs * fr, color);
  }

  private void add(Texture t, int i, int j, float weight, boolean color) {
    int w = t.image().width(), h = t.image().height();
    int argb = t.image().rgba()[wrap(j, h, t.wrapV()) * w + wrap(i, w, t.wrapU())];
    for (int k = 0; k < 3; k++) {
      int e = argb >>> (16 - 8 * k) & 255;
      texel[k] += weight * (color ? SrgbTransfer.decode8(e) : e / 255f);
    }
    texel[3] += weight * (argb >>> 24) / 255f;
  }

  private static int wrap(int i, int n, Texture.Wrap wrap) {
    return switch (wrap) {
      case REPEAT -> Math.floorMod(i, n);
      case CLAMP -> Math.max(0, Math.min(n - 1, i));
      case MIRROR -> {
        int m = Math.floorMod(i, 2 * n);
        yield m < n ? m : 2 * n - 1 - m;
      }
    };
  }

  /** Bends the normal by the normal map, along given tangents or those of the coordinates. */
  private void bump(
      Stage.Instance in, Primitive p, int a, int b, int c, float u, float v, float w) {
    TextureUse use = material.normalTexture();
    if (!coordinates(use, p, a, b, c, u, v, w)) {
      return;
    }
    float[] q = p.positions();
    float tx, ty, tz, hand;
    float[] tan = p.tangents();
    if (tan != null) {
      tx = tan[a * 4] * u + tan[b * 4] * v + tan[c * 4] * w;
      ty = tan[a * 4 + 1] * u + tan[b * 4 + 1] * v + tan[c * 4 + 1] * w;
      tz = tan[a * 4 + 2] * u + tan[b * 4 + 2] * v + tan[c * 4 + 2] * w;
      hand = tan[a * 4 + 3];
    } else {
      float[] s = use.uvSet() == 1 ? p.uv1() : p.uv0();
      float u1 = s[b * 2] - s[a * 2], v1 = s[b * 2 + 1] - s[a * 2 + 1];
      float u2 = s[c * 2] - s[a * 2], v2 = s[c * 2 + 1] - s[a * 2 + 1];
      float det = u1 * v2 - u2 * v1;
      if (det == 0) {
        return;
      }
      // Texture coordinates grow downwards, so the bitangent of a right-handed layout is flipped.
      hand = det > 0 ? -1 : 1;
      float k = 1 / det;
      tx = (v2 * (q[b * 3] - q[a * 3]) - v1 * (q[c * 3] - q[a * 3])) * k;
      ty = (v2 * (q[b * 3 + 1] - q[a * 3 + 1]) - v1 * (q[c * 3 + 1] - q[a * 3 + 1])) * k;
      tz = (v2 * (q[b * 3 + 2] - q[a * 3 + 2]) - v1 * (q[c * 3 + 2] - q[a * 3 + 2])) * k;
    }
    float[] m = in.toWorld;
    float wx = m[0] * tx + m[1] * ty + m[2] * tz;
    float wy = m[4] * tx + m[5] * ty + m[6] * tz;
    float wz = m[8] * tx + m[9] * ty + m[10] * tz;
    float along = wx * nx + wy * ny + wz * nz;
    wx -= nx * along;
    wy -= ny * along;
    wz -= nz * along;
    float l = (float) Math.sqrt(wx * wx + wy * wy + wz * wz);
    if (!(l > 0)) {
      return;
    }
    wx /= l;
    wy /= l;
    wz /= l;
    float bx = (ny * wz - nz * wy) * hand;
    float by = (nz * wx - nx * wz) * hand;
    float bz = (nx * wy - ny * wx) * hand;
    read(use, false);
    float s = (2 * texel[0] - 1) * material.normalScale();
    float r = (2 * texel[1] - 1) * material.normalScale();
    float d = Math.max(1e-3f, 2 * texel[2] - 1);
    float x0 = wx * s + bx * r + nx * d;
    float y0 = wy * s + by * r + ny * d;
    float z0 = wz * s + bz * r + nz * d;
    float k = 1 / (float) Math.sqrt(x0 * x0 + y0 * y0 + z0 * z0);
    nx = x0 * k;
    ny = y0 * k;
    nz = z0 * k;
  }

  /** Turns a shading normal that faces away from the viewer just far enough to be seen. */
  private void keepVisible(float vx, float vy, float vz) {
    float d = nx * vx + ny * vy + nz * vz;
    if (d >= 0.01f) {
      return;
    }
    float k = 0.01f - d;
    nx += vx * k;
    ny += vy * k;
    nz += vz * k;
    float l = 1 / (float) Math.sqrt(nx * nx + ny * ny + nz * nz);
    nx *= l;
    ny *= l;
    nz *= l;
  }
}
