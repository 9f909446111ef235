package posada.core.geometry;

/**
 * Triangles one after the other, tested in plain Java.
 *
 * <p>The test is watertight: each corner is moved into the ray's frame by itself, so that two
 * triangles see a shared edge with exactly opposite signs. Source: S. Woop et al., "Watertight
 * Ray/Triangle Intersection", JCGT 2(1), 2013; a point on an edge counts as inside.
 *
 * <p>9 floats each, in slot order: x, y, z of the three corners.
 */
final class TriangleList implements Leaves {
  private static final int STRIDE = 9;
  private final float[] corners;
  private final int[] order;

  TriangleList(float[] positions, int[] indices, int[] order) {
    this.order = order;
    corners = new float[order.length * STRIDE];
    for (int slot = 0; slot < order.length; slot++) {
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
  public boolean test(Ray r, int first, int count, int near, boolean any, int stackBase) {
    boolean hit = false;
    for (int slot = first; slot < first + count; slot++) {
      hit |=
          switch (r.major) {
            case 0 -> test(r, corners, slot * STRIDE, 1, 2, 0, r.oy, r.oz, r.ox, near, order[slot]);
            case 1 -> test(r, corners, slot * STRIDE, 2, 0, 1, r.oz, r.ox, r.oy, near, order[slot]);
            default ->
                test(r, corners, slot * STRIDE, 0, 1, 2, r.ox, r.oy, r.oz, near, order[slot]);
          };
      if (any && hit) {
        return true;
      }
    }
    return false;
  }

  /** Tests the triangle at {@code t[o]} with the axes in the ray's order, the major one last. */
  static boolean test(
      Ray r,
      float[] t,
      int o,
      int ku,
      int kv,
      int kw,
      float ou,
      float ov,
      float ow,
      int near,
      int number) {
    final float su = -r.shearU, sv = -r.shearV;
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
    if ((a < 0 || b < 0 || c < 0) && (a > 0 || b > 0 || c > 0)) {
      return false;
    }
    final float det = a + b + c;
    if (det == 0) {
      return false;
    }
    final float d = Math.fma(a, aw, Math.fma(b, bw, c * cw)) * r.shearW / det;
    return r.take(Tree.bits(d), near, number, b / det, c / det);
  }
}
