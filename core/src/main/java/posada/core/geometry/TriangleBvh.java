package posada.core.geometry;

/**
 * The hierarchy over one mesh's triangles, in the mesh's own space.
 *
 * <p>Triangles are kept in leaf order, 9 floats each: first corner, edge to the second, edge to the
 * third. Hits are two-sided. Source: T. Möller and B. Trumbore, "Fast, Minimum Storage Ray/Triangle
 * Intersection", 1997.
 */
public final class TriangleBvh extends Bvh {
  private static final int STRIDE = 9;
  private final float[] tri;

  /**
   * @param positions x, y, z of each vertex, finite
   * @param indices three vertices for each triangle, in range
   */
  public TriangleBvh(float[] positions, int[] indices) {
    super(boxes(positions, indices), 4);
    tri = new float[order.length * STRIDE];
    for (int slot = 0; slot < order.length; slot++) {
      int a = indices[order[slot] * 3] * 3;
      int b = indices[order[slot] * 3 + 1] * 3;
      int c = indices[order[slot] * 3 + 2] * 3;
      for (int k = 0; k < 3; k++) {
        tri[slot * STRIDE + k] = positions[a + k];
        tri[slot * STRIDE + 3 + k] = positions[b + k] - positions[a + k];
        tri[slot * STRIDE + 6 + k] = positions[c + k] - positions[a + k];
      }
    }
  }

  private static float[] boxes(float[] p, int[] idx) {
    float[] box = new float[idx.length * 2];
    for (int t = 0; t < idx.length / 3; t++) {
      int a = idx[t * 3] * 3;
      int b = idx[t * 3 + 1] * 3;
      int c = idx[t * 3 + 2] * 3;
      for (int k = 0; k < 3; k++) {
        box[t * 6 + k] = Math.min(p[a + k], Math.min(p[b + k], p[c + k]));
        box[t * 6 + 3 + k] = Math.max(p[a + k], Math.max(p[b + k], p[c + k]));
      }
    }
    return box;
  }

  @Override
  public long bytes() {
    return super.bytes() + 4L * tri.length;
  }

  /** Shortens the ray to its nearest hit in this mesh, if there is one. */
  public void intersect(Ray r) {
    traverse(r, false, 0);
  }

  /** Returns true if anything is hit nearer than the ray's end. */
  boolean intersect(Ray r, boolean any, int stackBase) {
    return traverse(r, any, stackBase);
  }

  @Override
  protected boolean leaf(Ray r, int first, int end, boolean any, int stackBase) {
    final float[] t = tri;
    for (int slot = first, o = first * STRIDE; slot < end; slot++, o += STRIDE) {
      final float e1x = t[o + 3], e1y = t[o + 4], e1z = t[o + 5];
      final float e2x = t[o + 6], e2y = t[o + 7], e2z = t[o + 8];
      final float px = r.dy * e2z - r.dz * e2y;
      final float py = r.dz * e2x - r.dx * e2z;
      final float pz = r.dx * e2y - r.dy * e2x;
      final float det = e1x * px + e1y * py + e1z * pz;
      if (det == 0) {
        continue;
      }
      final float inv = 1 / det;
      final float sx = r.ox - t[o], sy = r.oy - t[o + 1], sz = r.oz - t[o + 2];
      final float u = (sx * px + sy * py + sz * pz) * inv;
      if (!(u >= 0 && u <= 1)) {
        continue;
      }
      final float qx = sy * e1z - sz * e1y;
      final float qy = sz * e1x - sx * e1z;
      final float qz = sx * e1y - sy * e1x;
      final float v = (r.dx * qx + r.dy * qy + r.dz * qz) * inv;
      if (!(v >= 0 && u + v <= 1)) {
        continue;
      }
      final float d = (e2x * qx + e2y * qy + e2z * qz) * inv;
      if (d > 0 && d < r.tMax) {
        r.tMax = d;
        r.u = u;
        r.v = v;
        r.triangle = order[slot];
        if (any) {
          return true;
        }
      }
    }
    return false;
  }
}
