package posada.core.geometry;

import posada.core.parallel.Workers;

/** A hierarchy over spheres that rays pass through without being stopped. Immutable. */
public final class SphereBvh implements Leaves {
  private static final int STRIDE = 4;
  private final float[] spheres;
  private final Tree tree;

  /**
   * @param spheres x, y, z and radius for each, metres, finite
   */
  public SphereBvh(float[] spheres) {
    this.spheres = spheres;
    int n = spheres.length / STRIDE;
    float[] boxes = new float[n * 6];
    for (int i = 0; i < n; i++) {
      box(i, boxes, i * 6);
    }
    tree =
        Tree.of(
            new BvhBuilder(boxes, BvhBuilder.Costs.SINGLE, Workers.CALLER), n, 1, SphereBvh.class);
  }

  private void box(int i, float[] out, int at) {
    float r = spheres[i * STRIDE + 3] * 1.0001f;
    for (int k = 0; k < 3; k++) {
      out[at + k] = spheres[i * STRIDE + k] - r;
      out[at + 3 + k] = spheres[i * STRIDE + k] + r;
    }
  }

  /** Stores in the ray which spheres its line enters from outside before its end, in any order. */
  public void pass(Ray r) {
    r.sphereCount = 0;
    tree.nearest(r, this);
  }

  @Override
  public boolean test(Ray r, int first, int count, int near, boolean any) {
    if (count == 0) {
      return false;
    }
    int i = tree.order[first];
    int o = i * STRIDE;
    float cx = spheres[o] - r.ox, cy = spheres[o + 1] - r.oy, cz = spheres[o + 2] - r.oz;
    float dd = r.dx * r.dx + r.dy * r.dy + r.dz * r.dz;
    float t = (cx * r.dx + cy * r.dy + cz * r.dz) / dd;
    float px = cx - t * r.dx, py = cy - t * r.dy, pz = cz - t * r.dz;
    float rest = spheres[o + 3] * spheres[o + 3] - (px * px + py * py + pz * pz);
    if (rest > 0 && t > 0) {
      float enter = t - (float) Math.sqrt(rest / dd);
      if (enter > 0 && enter < r.tMax) {
        r.passes(i);
      }
    }
    return false;
  }

  @Override
  public long bytes() {
    return tree.bytes() + 4L * spheres.length;
  }
}
