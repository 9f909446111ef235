package posada.core.space;

import java.util.ArrayList;
import java.util.Arrays;
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
    float[][] colors = colors(scene);
    List<Shape> all = new ArrayList<>();
    for (int m = 0; m < most.length; m++) {
      Shape s = shape(scene.meshes().get(m), colors);
      boolean box = most[m] < fewest && most[m] < s.triangles();
      all.add(box ? box(s) : simplified(s, most[m]));
    }
    return all;
  }

  /** Returns about how each material looks: linear red, green, blue, 0 .. 1. */
  static float[][] colors(Scene scene) {
    return scene.materials().stream().map(m -> color(scene, m)).toArray(float[][]::new);
  }

  /** Returns about how a material looks: linear red, green, blue, 0 .. 1. */
  private static float[] color(Scene scene, Material m) {
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

  static Shape shape(Mesh m, float[][] colors) {
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
  static float[] smooth(Primitive p) {
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

  /**
   * A shape of fewer vertices.
   *
   * @param to for each vertex of what it was made of, the one that it became part of
   */
  record Fewer(Shape shape, int[] to) {}

  private static Shape simplified(Shape s, int most) {
    return s.triangles() <= most ? s : fewer(s, most).shape();
  }

  /** Returns a shape of about as many triangles as are allowed. */
  static Fewer fewer(Shape s, int most) {
    int[] own = new int[s.vertices()];
    Arrays.setAll(own, i -> i);
    Fewer now = new Fewer(s, own);
    // A surface in a grid of n cells across meets about n x n of them, two triangles each.
    for (double cells = Math.sqrt(most);
        now.shape.triangles() > most && cells >= 1;
        cells *= 0.75) {
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
  private static Fewer clustered(Shape s, double cells) {
    Bounds b = new Bounds();
    b.addAll(s.positions());
    int[] to = new int[s.vertices()];
    if (b.empty()) {
      return new Fewer(s, to);
    }
    Vec3 lo = b.min();
    Vec3 size = b.max().minus(lo);
    double cell = Math.max(size.x(), Math.max(size.y(), size.z())) / cells;
    Map<Long, Integer> numbers = new HashMap<>();
    for (int i = 0; i < to.length; i++) {
      long key = 0;
      for (int k = 0; k < 3; k++) {
        double low = k == 0 ? lo.x() : k == 1 ? lo.y() : lo.z();
        long at = cell > 0 ? (long) ((s.positions()[3 * i + k] - low) / cell) : 0;
        key = key << 21 | at & 0x1fffff;
      }
      Integer known = numbers.putIfAbsent(key, numbers.size());
      to[i] = known == null ? numbers.size() - 1 : known;
    }
    int n = numbers.size();
    int[] kept = new int[s.indices().length];
    int corners = 0;
    for (int i = 0; i < s.indices().length; i += 3) {
      int a = to[s.indices()[i]];
      int c = to[s.indices()[i + 1]];
      int d = to[s.indices()[i + 2]];
      if (a != c && c != d && d != a) {
        kept[corners++] = a;
        kept[corners++] = c;
        kept[corners++] = d;
      }
    }
    byte[] colors = new byte[3 * n];
    float[] sum = new float[3 * n];
    float[] mean = new float[3 * s.vertices()];
    for (int i = 0; i < mean.length; i++) {
      mean[i] = s.colors()[i] & 255;
    }
    mean(mean, to, sum);
    for (int i = 0; i < sum.length; i++) {
      colors[i] = (byte) Math.round(sum[i]);
    }
    float[] positions = new float[3 * n];
    mean(s.positions(), to, positions);
    float[] normals = new float[3 * s.vertices()];
    for (int i = 0; i < normals.length; i++) {
      normals[i] = s.normals()[i] / 127f;
    }
    float[] normal = new float[3 * n];
    mean(normals, to, normal);
    return new Fewer(new Shape(positions, bytes(normal), colors, Arrays.copyOf(kept, corners)), to);
  }

  /** Writes the means of three numbers for each vertex over those that became one. */
  static void mean(float[] of, int[] to, float[] out) {
    int[] count = new int[out.length / 3];
    double[] sum = new double[out.length];
    for (int i = 0; i < to.length; i++) {
      count[to[i]]++;
      for (int k = 0; k < 3; k++) {
        sum[3 * to[i] + k] += of[3 * i + k];
      }
    }
    for (int i = 0; i < out.length; i++) {
      out[i] = (float) (sum[i] / Math.max(1, count[i / 3]));
    }
  }

  /** Returns numbers from -1 to 1 as bytes from -127 to 127. */
  static byte[] bytes(float[] v) {
    byte[] b = new byte[v.length];
    for (int i = 0; i < v.length; i++) {
      b[i] = (byte) Math.round(127 * v[i]);
    }
    return b;
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
