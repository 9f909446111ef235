package posada.core.geometry;

import java.util.List;
import posada.core.parallel.Workers;

/**
 * The top level: a hierarchy over placed meshes. A ray is carried into each mesh's own space
 * without renormalising its direction, so that distances stay comparable. Hits name instance and
 * triangle. Immutable.
 */
public final class InstanceBvh implements Leaves {
  /**
   * One placed mesh.
   *
   * @param mesh the mesh's hierarchy
   * @param bounds the mesh's bounds in its own space, over the whole shutter
   * @param toWorld placements at evenly spaced times from the shutter's opening to its closing, one
   *     if it stands still; each invertible
   */
  public record Placed(TriangleBvh mesh, Bounds bounds, List<Affine> toWorld) {}

  private static final int STRIDE = 12;
  private final Tree tree;
  private final TriangleBvh[] meshes;
  private final float[] boxes;

  /** World to mesh of those that stand still. */
  private final float[] toMesh;

  /** Mesh to world at each time, of those that move; else null. */
  private final float[][] moving;

  public InstanceBvh(List<Placed> placed, Workers workers) {
    boxes = new float[placed.size() * 6];
    meshes = new TriangleBvh[placed.size()];
    toMesh = new float[placed.size() * STRIDE];
    moving = new float[placed.size()][];
    for (int i = 0; i < meshes.length; i++) {
      Placed p = placed.get(i);
      meshes[i] = p.mesh();
      box(p, i * 6);
      if (p.toWorld().size() == 1) {
        System.arraycopy(p.toWorld().get(0).inverse().toFloats(), 0, toMesh, i * STRIDE, STRIDE);
      } else {
        moving[i] = new float[p.toWorld().size() * STRIDE];
        for (int k = 0; k < p.toWorld().size(); k++) {
          System.arraycopy(p.toWorld().get(k).toFloats(), 0, moving[i], k * STRIDE, STRIDE);
        }
      }
    }
    tree =
        Tree.of(
            new BvhBuilder(boxes, BvhBuilder.Costs.SINGLE, workers),
            meshes.length,
            1,
            InstanceBvh.class);
  }

  private void box(Placed p, int o) {
    Bounds b = new Bounds();
    for (Affine a : p.toWorld()) {
      b.add(p.bounds(), a);
    }
    // Room for the rounding of the ray on its way into the mesh's space.
    double slack = 1e-6 * (b.min().length() + b.max().length());
    double[] lo = {b.min().x(), b.min().y(), b.min().z()};
    double[] hi = {b.max().x(), b.max().y(), b.max().z()};
    for (int k = 0; k < 3; k++) {
      boxes[o + k] = (float) (lo[k] - slack);
      boxes[o + 3 + k] = (float) (hi[k] + slack);
    }
  }

  /** Shortens the ray to its nearest hit, if there is one. */
  public void intersect(Ray r) {
    tree.nearest(r, this, 0);
  }

  /** Returns true if anything is hit nearer than the ray's end. */
  public boolean occluded(Ray r) {
    return tree.any(r, this, 0);
  }

  @Override
  public long bytes() {
    long sum = tree.bytes() + 4L * (boxes.length + toMesh.length + moving.length);
    for (float[] m : moving) {
      sum += m == null ? 0 : 4L * m.length;
    }
    return sum;
  }

  @Override
  public void bounds(int first, int count, float[] box) {
    System.arraycopy(boxes, tree.order[first] * 6, box, 0, 6);
  }

  @Override
  public boolean test(Ray r, int first, int count, int near, boolean any, int stackBase) {
    if (count == 0) {
      return false;
    }
    final float ox = r.ox, oy = r.oy, oz = r.oz, dx = r.dx, dy = r.dy, dz = r.dz;
    final int instance = tree.order[first];
    float[] m = toMesh;
    int o = instance * STRIDE;
    if (moving[instance] != null) {
      m = r.placement;
      o = 0;
      placeAt(moving[instance], r.time, m);
    }
    r.entered = instance;
    r.floor = near;
    r.place(
        m[o] * ox + m[o + 1] * oy + m[o + 2] * oz + m[o + 3],
        m[o + 4] * ox + m[o + 5] * oy + m[o + 6] * oz + m[o + 7],
        m[o + 8] * ox + m[o + 9] * oy + m[o + 10] * oz + m[o + 11],
        m[o] * dx + m[o + 1] * dy + m[o + 2] * dz,
        m[o + 4] * dx + m[o + 5] * dy + m[o + 6] * dz,
        m[o + 8] * dx + m[o + 9] * dy + m[o + 10] * dz);
    final boolean done = meshes[instance].walk(r, any, stackBase);
    r.place(ox, oy, oz, dx, dy, dz);
    return done;
  }

  /**
   * Stores the inverse of a placement between its keys, which is interpolated entry by entry.
   *
   * @param keys rows of 3 by 4, a set for each key
   * @param time 0 .. 1
   */
  private static void placeAt(float[] keys, float time, float[] out) {
    at(keys, time, out);
    final float a = out[0], b = out[1], c = out[2], tx = out[3];
    final float d = out[4], e = out[5], f = out[6], ty = out[7];
    final float g = out[8], h = out[9], i = out[10], tz = out[11];
    final float k = 1 / (a * (e * i - f * h) - b * (d * i - f * g) + c * (d * h - e * g));
    out[0] = (e * i - f * h) * k;
    out[1] = (c * h - b * i) * k;
    out[2] = (b * f - c * e) * k;
    out[4] = (f * g - d * i) * k;
    out[5] = (a * i - c * g) * k;
    out[6] = (c * d - a * f) * k;
    out[8] = (d * h - e * g) * k;
    out[9] = (b * g - a * h) * k;
    out[10] = (a * e - b * d) * k;
    for (int r = 0; r < 12; r += 4) {
      out[r + 3] = -(out[r] * tx + out[r + 1] * ty + out[r + 2] * tz);
    }
  }

  /** Stores the placement at a time, 0 .. 1, between evenly spaced keys of 12 floats. */
  public static void at(float[] keys, float time, float[] out) {
    int segments = keys.length / STRIDE - 1;
    float s = time * segments;
    int k = Math.max(0, Math.min(segments - 1, (int) s));
    float f = s - k;
    for (int j = 0; j < STRIDE; j++) {
      float from = keys[k * STRIDE + j];
      out[j] = from + (keys[(k + 1) * STRIDE + j] - from) * f;
    }
  }
}
