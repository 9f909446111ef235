package posada.core.geometry;

import java.util.List;

/**
 * The top level: a hierarchy over placed meshes. A ray is carried into each mesh's own space
 * without renormalising its direction, so that distances stay comparable. Hits name instance and
 * triangle.
 */
public final class InstanceBvh extends Bvh {
  /**
   * One placed mesh.
   *
   * @param mesh the mesh's hierarchy
   * @param bounds the mesh's bounds in its own space
   * @param toWorld placement; invertible
   */
  public record Placed(TriangleBvh mesh, Bounds bounds, Affine toWorld) {}

  private static final int STRIDE = 12;
  private final TriangleBvh[] meshes;
  private final float[] toObject;

  public InstanceBvh(List<Placed> placed) {
    super(boxes(placed), 1);
    meshes = new TriangleBvh[placed.size()];
    toObject = new float[placed.size() * STRIDE];
    for (int i = 0; i < meshes.length; i++) {
      meshes[i] = placed.get(i).mesh();
      System.arraycopy(
          placed.get(i).toWorld().inverse().toFloats(), 0, toObject, i * STRIDE, STRIDE);
    }
  }

  private static float[] boxes(List<Placed> placed) {
    float[] box = new float[placed.size() * 6];
    for (int i = 0; i < placed.size(); i++) {
      Bounds b = new Bounds();
      b.add(placed.get(i).bounds(), placed.get(i).toWorld());
      double slack = 1e-6 * (b.min().length() + b.max().length());
      Vec3 lo = b.min();
      Vec3 hi = b.max();
      box[i * 6] = (float) (lo.x() - slack);
      box[i * 6 + 1] = (float) (lo.y() - slack);
      box[i * 6 + 2] = (float) (lo.z() - slack);
      box[i * 6 + 3] = (float) (hi.x() + slack);
      box[i * 6 + 4] = (float) (hi.y() + slack);
      box[i * 6 + 5] = (float) (hi.z() + slack);
    }
    return box;
  }

  /** Shortens the ray to its nearest hit, if there is one. */
  public void intersect(Ray r) {
    traverse(r, false, 0);
  }

  /** Returns true if anything is hit nearer than the ray's end. */
  public boolean occluded(Ray r) {
    return traverse(r, true, 0);
  }

  @Override
  protected boolean leaf(Ray r, int first, int end, boolean any, int stackBase) {
    final float ox = r.ox, oy = r.oy, oz = r.oz, dx = r.dx, dy = r.dy, dz = r.dz;
    final float ix = r.ix, iy = r.iy, iz = r.iz;
    for (int slot = first; slot < end; slot++) {
      final int instance = order[slot];
      final int o = instance * STRIDE;
      final float[] m = toObject;
      final int wasInstance = r.instance;
      final int wasTriangle = r.triangle;
      final float end0 = r.tMax;
      r.set(
          m[o] * ox + m[o + 1] * oy + m[o + 2] * oz + m[o + 3],
          m[o + 4] * ox + m[o + 5] * oy + m[o + 6] * oz + m[o + 7],
          m[o + 8] * ox + m[o + 9] * oy + m[o + 10] * oz + m[o + 11],
          m[o] * dx + m[o + 1] * dy + m[o + 2] * dz,
          m[o + 4] * dx + m[o + 5] * dy + m[o + 6] * dz,
          m[o + 8] * dx + m[o + 9] * dy + m[o + 10] * dz,
          end0);
      final boolean done = meshes[instance].intersect(r, any, stackBase);
      if (r.triangle >= 0) {
        r.instance = instance;
      } else {
        r.instance = wasInstance;
        r.triangle = wasTriangle;
      }
      r.ox = ox;
      r.oy = oy;
      r.oz = oz;
      r.dx = dx;
      r.dy = dy;
      r.dz = dz;
      r.ix = ix;
      r.iy = iy;
      r.iz = iz;
      if (done) {
        return true;
      }
    }
    return false;
  }
}
