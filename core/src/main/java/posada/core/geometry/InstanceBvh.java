package posada.core.geometry;

import java.util.Arrays;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.parallel.Workers;

/**
 * The top level: meshes joined where they stand, and a hierarchy over placed meshes. A ray is
 * carried into each placed mesh's own space without renormalising its direction, so that distances
 * stay comparable. Hits name instance and triangle. Immutable.
 */
public final class InstanceBvh implements Leaves {
  /**
   * One placed mesh.
   *
   * @param number the instance that hits name
   * @param mesh the mesh's hierarchy
   * @param bounds the mesh's bounds in its own space, over the whole shutter
   * @param toWorld placements at evenly spaced times from the shutter's opening to its closing, one
   *     if it stands still; each invertible
   */
  public record Placed(int number, TriangleBvh mesh, Bounds bounds, List<Affine> toWorld) {}

  private static final int STRIDE = 12;

  /** A tree taken over whose boxes have grown this much in sum is built anew. */
  private static final double WORN = 1.25;

  private final JoinedMeshes joined;
  private final Tree tree;
  private final Shape shape;

  private final TriangleBvh[] meshes;
  private final int[] numbers;
  private final float[] boxes;

  /** World to mesh of those that stand still. */
  private final float[] toMesh;

  /** Mesh to world at each time, of those that move; else null. */
  private final float[][] moving;

  /** How a hierarchy is made, without what was placed in it. Immutable. */
  public static final class Shape {
    private final Tree tree;

    /** Surface of all boxes when the tree was built. */
    private final double fresh;

    private Shape(Tree tree, double fresh) {
      this.tree = tree;
      this.fresh = fresh;
    }
  }

  /** Builds the hierarchy over placed meshes alone. */
  public InstanceBvh(List<Placed> placed, Workers workers) {
    this(JoinedMeshes.NONE, placed, null, workers);
  }

  /**
   * @param joined meshes that are not among the placed ones
   * @param placed with ascending numbers
   * @param before the shape of another moment of the same animation, which is taken over if it
   *     still fits and changes no hit; may be null
   */
  public InstanceBvh(JoinedMeshes joined, List<Placed> placed, Shape before, Workers workers) {
    this.joined = joined;
    int n = placed.size();
    boxes = new float[n * 6];
    meshes = new TriangleBvh[n];
    numbers = new int[n];
    toMesh = new float[n * STRIDE];
    moving = new float[n][];
    workers.ranges(
        n,
        (from, to) -> {
          for (int i = from; i < to; i++) {
            place(i, placed.get(i));
          }
        });
    Tree old = null;
    if (before != null && before.tree.order.length == n && n > 1) {
      int[] order = before.tree.order;
      old =
          before.tree.refitted(
              (first, count, box) -> System.arraycopy(boxes, order[first] * 6, box, 0, 6));
    }
    if (old != null && old.surface() <= WORN * before.fresh) {
      tree = old;
      shape = new Shape(tree, before.fresh);
    } else {
      BvhBuilder b = new BvhBuilder(boxes, BvhBuilder.Costs.SINGLE, workers);
      tree = Tree.of(b, n, 1, InstanceBvh.class);
      shape = new Shape(tree, tree.surface());
    }
  }

  private InstanceBvh(InstanceBvh o) {
    joined = o.joined.copy();
    tree = o.tree.copy();
    shape = o.shape;
    Map<TriangleBvh, TriangleBvh> copies = new IdentityHashMap<>();
    meshes = new TriangleBvh[o.meshes.length];
    Arrays.setAll(meshes, i -> copies.computeIfAbsent(o.meshes[i], TriangleBvh::copy));
    numbers = o.numbers.clone();
    boxes = o.boxes;
    toMesh = o.toMesh.clone();
    moving = new float[o.moving.length][];
    Arrays.setAll(moving, i -> o.moving[i] == null ? null : o.moving[i].clone());
  }

  /** Returns the same hierarchy in memory of its own, that of the meshes included. */
  public InstanceBvh copy() {
    return new InstanceBvh(this);
  }

  /** Returns what another moment may take over. */
  public Shape shape() {
    return shape;
  }

  private void place(int i, Placed p) {
    meshes[i] = p.mesh();
    numbers[i] = p.number();
    int o = i * 6;
    Bounds world = new Bounds();
    for (Affine a : p.toWorld()) {
      world.add(p.bounds(), a);
    }
    world.store(boxes, o);
    // Room for the rounding of the ray on its way into the mesh's space.
    double most = 0;
    for (int k = 0; k < 6; k++) {
      most = Math.max(most, Math.abs(boxes[o + k]));
    }
    float slack = (float) (4e-6 * most);
    for (int k = 0; k < 3; k++) {
      boxes[o + k] -= slack;
      boxes[o + 3 + k] += slack;
    }
    if (p.toWorld().size() == 1) {
      System.arraycopy(p.toWorld().get(0).inverse().toFloats(), 0, toMesh, i * STRIDE, STRIDE);
    } else {
      moving[i] = new float[p.toWorld().size() * STRIDE];
      for (int k = 0; k < p.toWorld().size(); k++) {
        System.arraycopy(p.toWorld().get(k).toFloats(), 0, moving[i], k * STRIDE, STRIDE);
      }
    }
  }

  /** Shortens the ray to its nearest hit, if there is one. */
  public void intersect(Ray r) {
    joined.intersect(r);
    if (meshes.length > 0) {
      tree.nearest(r, this);
    }
    if (r.hit() && r.instance < 0) {
      joined.name(r);
    }
    if (r.hit()) {
      r.meets(r.instance);
    }
  }

  /** Returns true if anything is hit nearer than the ray's end. */
  public boolean occluded(Ray r) {
    if (joined.occluded(r)) {
      if (r.met != null) {
        joined.name(r);
        r.meets(r.instance);
      }
      return true;
    }
    return meshes.length > 0 && tree.any(r, this);
  }

  @Override
  public long bytes() {
    long sum = tree.bytes() + 4L * (boxes.length + toMesh.length + 2 * moving.length);
    for (float[] m : moving) {
      sum += m == null ? 0 : 4L * m.length;
    }
    return sum;
  }

  /** Returns the bytes that it takes with the hierarchies of the meshes. */
  public long wholeBytes() {
    Set<TriangleBvh> different = Collections.newSetFromMap(new IdentityHashMap<>());
    different.addAll(List.of(meshes));
    return bytes() + joined.bytes() + different.stream().mapToLong(TriangleBvh::bytes).sum();
  }

  @Override
  public boolean test(Ray r, int first, int count, int near, boolean any) {
    if (count == 0) {
      return false;
    }
    final int i = tree.order[first];
    float[] m = toMesh;
    int o = i * STRIDE;
    final Ray in = r.inner();
    if (moving[i] != null) {
      m = in.placement;
      o = 0;
      placeAt(moving[i], r.time, m);
    }
    final float ox = r.ox, oy = r.oy, oz = r.oz, dx = r.dx, dy = r.dy, dz = r.dz;
    in.place(
        m[o] * ox + m[o + 1] * oy + m[o + 2] * oz + m[o + 3],
        m[o + 4] * ox + m[o + 5] * oy + m[o + 6] * oz + m[o + 7],
        m[o + 8] * ox + m[o + 9] * oy + m[o + 10] * oz + m[o + 11],
        m[o] * dx + m[o + 1] * dy + m[o + 2] * dz,
        m[o + 4] * dx + m[o + 5] * dy + m[o + 6] * dz,
        m[o + 8] * dx + m[o + 9] * dy + m[o + 10] * dz);
    in.tMax = r.tMax;
    in.time = r.time;
    in.entered = numbers[i];
    in.floor = near;
    if (any) {
      boolean hit = meshes[i].occluded(in);
      if (hit) {
        r.meets(numbers[i]);
      }
      return hit;
    }
    in.instance = r.instance;
    in.triangle = r.triangle;
    meshes[i].intersect(in);
    if (in.instance == in.entered) {
      r.tMax = in.tMax;
      r.instance = in.instance;
      r.triangle = in.triangle;
      r.u = in.u;
      r.v = in.v;
    }
    return false;
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
