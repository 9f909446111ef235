package posada.formats.gltf;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import posada.core.geometry.Vec3;
import posada.core.scene.Primitive;

/** Gives points and lines a body: points become octahedra, lines four-sided rods. */
final class Wires {
  /** Thickness of a line over the mesh's size. */
  private static final double THICKNESS = 0.002;

  private static final int POINTS = 0;
  private static final int LINES = 1;
  private static final int LOOP = 2;

  private final float[] at;
  private final float[] colors;
  private final int material;
  private final double radius;
  private final List<float[]> positions = new ArrayList<>();
  private final List<float[]> tints = new ArrayList<>();
  private final List<Integer> indices = new ArrayList<>();

  Wires(float[] at, float[] colors, int material) {
    this.at = at;
    this.colors = colors;
    this.material = material;
    posada.core.geometry.Bounds b = new posada.core.geometry.Bounds();
    b.addAll(at);
    radius = Math.max(1e-6, b.diagonal() * THICKNESS / 2);
  }

  /**
   * Returns the triangles.
   *
   * @param mode 0 points, 1 lines, 2 a loop, 3 a strip
   * @param order of the vertices
   */
  Primitive of(int mode, int[] order) {
    if (mode == POINTS) {
      for (int v : order) {
        Vec3 p = point(v);
        body(p.plus(new Vec3(0, 0, -radius)), v, p.plus(new Vec3(0, 0, radius)), v, 0);
      }
    } else {
      int step = mode == LINES ? 2 : 1;
      int end = mode == LOOP ? order.length : order.length - 1;
      for (int i = 0; i < end; i += step) {
        int v = order[i], w = order[(i + 1) % order.length];
        body(point(v), v, point(w), w, 1);
      }
    }
    float[] p = join(positions, 3);
    int[] t = indices.stream().mapToInt(Integer::intValue).toArray();
    return new Primitive(
        p, null, null, new float[0][], colors == null ? null : join(tints, 4), t, material);
  }

  private Vec3 point(int v) {
    return new Vec3(at[v * 3], at[v * 3 + 1], at[v * 3 + 2]);
  }

  private static float[] join(List<float[]> parts, int each) {
    float[] all = new float[parts.size() * each];
    for (int i = 0; i < parts.size(); i++) {
      System.arraycopy(parts.get(i), 0, all, i * each, each);
    }
    return all;
  }

  private void add(Vec3 p, int like) {
    positions.add(new float[] {(float) p.x(), (float) p.y(), (float) p.z()});
    if (colors != null) {
      tints.add(Arrays.copyOfRange(colors, like * 4, like * 4 + 4));
    }
  }

  /**
   * A rod with two rings of four and closed ends, or without length two pyramids on one ring.
   *
   * @param rings 1 for a rod, 0 for pyramids
   */
  private void body(Vec3 a, int like, Vec3 b, int likeEnd, int rings) {
    Vec3 along = b.minus(a);
    if (!(along.length() > 0)) {
      return;
    }
    along = along.normalized();
    Vec3 helper = Math.abs(along.y()) < 0.9 ? new Vec3(0, 1, 0) : new Vec3(1, 0, 0);
    Vec3 x = along.cross(helper).normalized().times(radius);
    Vec3 y = along.cross(x);
    int o = positions.size();
    add(a, like);
    add(b, likeEnd);
    Vec3[] ring = {x, y, x.times(-1), y.times(-1)};
    Vec3 middle = a.plus(b).times(0.5);
    for (Vec3 r : ring) {
      add((rings == 1 ? a : middle).plus(r), like);
    }
    if (rings == 1) {
      for (Vec3 r : ring) {
        add(b.plus(r), likeEnd);
      }
    }
    for (int i = 0; i < 4; i++) {
      int p = o + 2 + i, q = o + 2 + (i + 1) % 4;
      triangle(o, q, p);
      if (rings == 1) {
        triangle(p, q, p + 4);
        triangle(q, q + 4, p + 4);
        triangle(o + 1, p + 4, q + 4);
      } else {
        triangle(o + 1, p, q);
      }
    }
  }

  private void triangle(int a, int b, int c) {
    indices.addAll(List.of(a, b, c));
  }
}
