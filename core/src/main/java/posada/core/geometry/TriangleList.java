package posada.core.geometry;

import posada.core.parallel.Workers;

/**
 * Triangles one after the other, tested in plain Java.
 *
 * <p>The test is watertight: each corner is moved into the ray's frame by itself, so that two
 * triangles see a shared edge with exactly opposite signs. Source: S. Woop et al., "Watertight
 * Ray/Triangle Intersection", JCGT 2(1), 2013; a point on an edge counts as inside.
 *
 * <p>9 floats each, in slot order: x, y, z of the three corners.
 */
final class TriangleList implements Leaves.OfTriangles {
  private static final int STRIDE = 9;
  private final float[] corners;
  private final int[] order;

  TriangleList(float[] positions, int[] indices, int[] order, Workers workers) {
    this.order = order;
    corners = new float[order.length * STRIDE];
    workers.ranges(order.length, (from, to) -> fill(positions, indices, from, to));
  }

  private TriangleList(float[] corners, int[] order) {
    this.corners = corners;
    this.order = order;
  }

  @Override
  public TriangleList copy(int[] order) {
    return new TriangleList(corners.clone(), order);
  }

  private void fill(float[] positions, int[] indices, int from, int to) {
    for (int slot = from; slot < to; slot++) {
      for (int c = 0; c < 3; c++) {
        System.arraycopy(
            positions, indices[order[slot] * 3 + c] * 3, corners, slot * STRIDE + 3 * c, 3);
      }
    }
  }

  @Override
  public long bytes() {
    return 4L * corners.length;
  }

  @Override
  public void bounds(int first, int count, float[] box) {
    BvhBuilder.setEmpty(box, 0);
    for (int i = first * STRIDE; i < (first + count) * STRIDE; i += 3) {
      TriangleBvh.grow(box, 0, corners, i);
    }
  }

  @Override
  public boolean test(Ray r, int first, int count, int near, boolean any) {
    boolean hit = false;
    for (int slot = first; slot < first + count && !(any && hit); slot++) {
      hit |= test(r, corners, slot * STRIDE, Ray.OWN_BOX, order[slot]);
    }
    return any && hit;
  }

  /** Tests the triangle at {@code t[o]}; returns true if the ray has taken its hit. */
  static boolean test(Ray r, float[] t, int o, int near, int number) {
    // The numbers of the axes are known to the compiler in each of these.
    return switch (r.major) {
      case 0 -> test(r, t, o, 1, 2, 0, near, number);
      case 1 -> test(r, t, o, 2, 0, 1, near, number);
      default -> test(r, t, o, 0, 1, 2, near, number);
    };
  }

  private static boolean test(
      Ray r, float[] t, int o, int ku, int kv, int kw, int near, int number) {
    final float su = -r.shearU, sv = -r.shearV;
    final float ou = r.originU, ov = r.originV, ow = r.originW;
    final float aw = t[o + kw] - ow, bw = t[o + 3 + kw] - ow, cw = t[o + 6 + kw] - ow;
    final float au = Math.fma(aw, su, t[o + ku] - ou);
    final float bu = Math.fma(bw, su, t[o + 3 + ku] - ou);
    final float cu = Math.fma(cw, su, t[o + 6 + ku] - ou);
    final float av = Math.fma(aw, sv, t[o + kv] - ov);
    final float bv = Math.fma(bw, sv, t[o + 3 + kv] - ov);
    final float cv = Math.fma(cw, sv, t[o + 6 + kv] - ov);
    final float a = cu * bv - cv * bu;
    final float b = au * cv - av * cu;
    final float c = bu * av - bv * au;
    // Outside if one is negative and one is positive: read off the signs, without branches for
    // each; adding 0 makes a positive zero of a negative one.
    final int i = Tree.bits(a + 0f), j = Tree.bits(b + 0f), k = Tree.bits(c + 0f);
    if (((i | j | k) & (-i | -j | -k)) < 0) {
      return false;
    }
    // Without area the sum is 0, and what is divided by it is no positive number: no hit.
    final float det = a + b + c;
    final float d = Math.fma(a, aw, Math.fma(b, bw, c * cw)) * r.shearW / det;
    final int distance = Tree.bits(d);
    if (!r.reaches(distance)) {
      return false;
    }
    final int from = near == Ray.OWN_BOX ? r.nearOf(t, o, 3, 1) : near;
    return r.accept(distance, from, number, b / det, c / det);
  }
}
