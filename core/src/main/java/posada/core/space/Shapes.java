package posada.core.space;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import posada.core.geometry.Bounds;
import posada.core.geometry.Vec3;
import posada.core.image.SrgbTransfer;
import posada.core.image.TexelImage;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;

/** Makes plain shapes of meshes. */
public final class Shapes {
  /** Texels of a picture that its colour is taken from. */
  private static final int PROBES = 4096;

  /** How bright a lamp is shown at the least. */
  private static final float LAMP = 0.9f;

  private Shapes() {}

  /**
   * Returns a shape for each mesh of a scene, each vertex in the colour of its material.
   *
   * @param most triangles of each shape; larger ones are simplified to about so many
   * @param fewest where fewer are allowed and there are more, the box around it is the shape
   */
  public static List<Shape> of(Scene scene, int[] most, int fewest) {
    float[][] colors = scene.materials().stream().map(m -> color(scene, m)).toArray(float[][]::new);
    List<Shape> all = new ArrayList<>();
    for (int m = 0; m < most.length; m++) {
      Shape s = shape(scene.meshes().get(m), colors);
      boolean box = most[m] < fewest && most[m] < s.triangles();
      all.add(box ? box(s) : simplified(s, most[m]));
    }
    return all;
  }

  /** Returns about how a material looks: linear red, green, blue, 0 .. 1. */
  static float[] color(Scene scene, Material m) {
    float[] c = m.baseColor().clone();
    if (m.baseTexture() != null) {
      float[] mean = mean(scene.textures().get(m.baseTexture().texture()).image());
      for (int i = 0; i < 3; i++) {
        c[i] *= mean[i];
      }
    }
    float[] e = m.emission();
    float most = Math.max(e[0], Math.max(e[1], e[2]));
    float[] out = new float[3];
    for (int i = 0; i < 3; i++) {
      float glow = most > 0 && m.emissionTexture() == null ? LAMP * e[i] / most : 0;
      out[i] = Math.min(1, Math.max(c[i], glow));
    }
    return out;
  }

  private static float[] mean(TexelImage image) {
    int[] texels = image.rgba();
    int step = Math.max(1, texels.length / PROBES);
    double[] sum = new double[3];
    int n = 0;
    for (int i = 0; i < texels.length; i += step) {
      for (int k = 0; k < 3; k++) {
        sum[k] += SrgbTransfer.decode8(texels[i] >> (16 - 8 * k) & 255);
      }
      n++;
    }
    return new float[] {(float) (sum[0] / n), (float) (sum[1] / n), (float) (sum[2] / n)};
  }

  private static Shape shape(Mesh m, float[][] colors) {
    int vertices = m.primitives().stream().mapToInt(Primitive::vertices).sum();
    int triangles = m.triangles();
    float[] positions = new float[3 * vertices];
    byte[] normals = new byte[3 * vertices];
    byte[] rgb = new byte[3 * vertices];
    int[] indices = new int[3 * triangles];
    int v = 0;
    int t = 0;
    for (Primitive p : m.primitives()) {
      System.arraycopy(p.positions(), 0, positions, 3 * v, p.positions().length);
      float[] n = p.normals() == null ? smooth(p) : p.normals();
      float[] c = colors[p.material()];
      int each = p.colors() == null ? 0 : p.colors().length / p.vertices();
      for (int i = 0; i < p.vertices(); i++) {
        for (int k = 0; k < 3; k++) {
          normals[3 * (v + i) + k] = (byte) Math.round(127 * n[3 * i + k]);
          float own = each == 0 ? 1 : Math.max(0, Math.min(1, p.colors()[each * i + k]));
          rgb[3 * (v + i) + k] = (byte) Math.round(255 * c[k] * own);
        }
      }
      for (int i : p.indices()) {
        indices[t++] = v + i;
      }
      v += p.vertices();
    }
    return new Shape(positions, normals, rgb, indices);
  }

  /** Returns normals of faces, mixed at vertices by the faces' areas. */
  private static float[] smooth(Primitive p) {
    float[] x = p.positions();
    double[] sum = new double[x.length];
    int[] t = p.indices();
    for (int i = 0; i < t.length; i += 3) {
      Vec3 a = at(x, t[i]);
      Vec3 n = at(x, t[i + 1]).minus(a).cross(at(x, t[i + 2]).minus(a));
      for (int k = 0; k < 3; k++) {
        sum[3 * t[i + k]] += n.x();
        sum[3 * t[i + k] + 1] += n.y();
        sum[3 * t[i + k] + 2] += n.z();
      }
    }
    float[] out = new float[x.length];
    for (int i = 0; i < x.length; i += 3) {
      Vec3 n = new Vec3(sum[i], sum[i + 1], sum[i + 2]).normalized();
      out[i] = (float) n.x();
      out[i + 1] = (float) n.y();
      out[i + 2] = (float) n.z();
    }
    return out;
  }

  private static Vec3 at(float[] x, int i) {
    return new Vec3(x[3 * i], x[3 * i + 1], x[3 * i + 2]);
  }

  /** Returns a shape of about as many triangles as are allowed. */
  private static Shape simplified(Shape s, int most) {
    Shape now = s;
    // A surface in a grid of n cells across meets about n x n of them, two triangles each.
    for (double cells = Math.sqrt(most); now.triangles() > most && cells >= 1; cells *= 0.75) {
      now = clustered(s, cells);
    }
    return now;
  }

  /**
   * Joins all vertices within each cell of a grid; triangles that fall together are left out.
   *
   * <p>Source: J. Rossignac, P. Borrel, "Multi-resolution 3D approximations for rendering complex
   * scenes", Modeling in Computer Graphics, 1993.
   *
   * @param cells along the longest side
   */
  static Shape clustered(Shape s, double cells) {
    Bounds b = new Bounds();
    b.addAll(s.positions());
    Vec3 lo = b.min();
    Vec3 size = b.max().minus(lo);
    double cell = Math.max(size.x(), Math.max(size.y(), size.z())) / cells;
    if (!(cell > 0)) {
      return s;
    }
    Map<Long, Integer> numbers = new HashMap<>();
    int[] to = new int[s.vertices()];
    int[] count = new int[s.vertices()];
    double[] sum = new double[3 * s.vertices()];
    long[] normal = new long[3 * s.vertices()];
    long[] color = new long[3 * s.vertices()];
    for (int i = 0; i < to.length; i++) {
      long key = 0;
      for (int k = 0; k < 3; k++) {
        double low = k == 0 ? lo.x() : k == 1 ? lo.y() : lo.z();
        key = key << 21 | (long) ((s.positions()[3 * i + k] - low) / cell) & 0x1fffff;
      }
      Integer known = numbers.putIfAbsent(key, numbers.size());
      int n = known == null ? numbers.size() - 1 : known;
      to[i] = n;
      count[n]++;
      for (int k = 0; k < 3; k++) {
        sum[3 * n + k] += s.positions()[3 * i + k];
        normal[3 * n + k] += s.normals()[3 * i + k];
        color[3 * n + k] += s.colors()[3 * i + k] & 255;
      }
    }
    int n = numbers.size();
    float[] positions = new float[3 * n];
    byte[] normals = new byte[3 * n];
    byte[] colors = new byte[3 * n];
    for (int i = 0; i < 3 * n; i++) {
      positions[i] = (float) (sum[i] / count[i / 3]);
      normals[i] = (byte) (normal[i] / count[i / 3]);
      colors[i] = (byte) (color[i] / count[i / 3]);
    }
    List<Integer> kept = new ArrayList<>();
    for (int i = 0; i < s.indices().length; i += 3) {
      int a = to[s.indices()[i]];
      int c = to[s.indices()[i + 1]];
      int d = to[s.indices()[i + 2]];
      if (a != c && c != d && d != a) {
        kept.add(a);
        kept.add(c);
        kept.add(d);
      }
    }
    return new Shape(
        positions, normals, colors, kept.stream().mapToInt(Integer::intValue).toArray());
  }

  /** Returns the box around a mesh as a shape. */
  static Shape box(Shape s) {
    Bounds b = new Bounds();
    for (int i : s.indices()) {
      b.add(s.positions()[3 * i], s.positions()[3 * i + 1], s.positions()[3 * i + 2]);
    }
    if (b.empty()) {
      return new Shape(new float[0], new byte[0], new byte[0], new int[0]);
    }
    float[] lo = {(float) b.min().x(), (float) b.min().y(), (float) b.min().z()};
    float[] hi = {(float) b.max().x(), (float) b.max().y(), (float) b.max().z()};
    float[] positions = new float[72];
    byte[] normals = new byte[72];
    byte[] colors = new byte[72];
    int[] indices = new int[36];
    for (int face = 0; face < 6; face++) {
      int axis = face / 2;
      boolean high = face % 2 == 1;
      for (int k = 0; k < 4; k++) {
        boolean u = (k == 1 || k == 2) == high;
        boolean v = k >= 2;
        int at = 3 * (4 * face + k);
        positions[at + axis] = high ? hi[axis] : lo[axis];
        positions[at + (axis + 1) % 3] = u ? hi[(axis + 1) % 3] : lo[(axis + 1) % 3];
        positions[at + (axis + 2) % 3] = v ? hi[(axis + 2) % 3] : lo[(axis + 2) % 3];
        normals[at + axis] = (byte) (high ? 127 : -127);
        System.arraycopy(s.colors(), 0, colors, at, 3);
      }
      int[] corners = {0, 1, 2, 0, 2, 3};
      for (int k = 0; k < 6; k++) {
        indices[6 * face + k] = 4 * face + corners[k];
      }
    }
    return new Shape(positions, normals, colors, indices);
  }
}
