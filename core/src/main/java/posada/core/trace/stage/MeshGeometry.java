package posada.core.trace.stage;

import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.JoinedMeshes;
import posada.core.geometry.TriangleBvh;
import posada.core.parallel.Workers;
import posada.core.scene.Primitive;

/** One mesh ready for tracing: the hierarchy over all its primitives' triangles. Immutable. */
public final class MeshGeometry {
  public final Bounds bounds;

  /** Null if the mesh is only known as part of {@link Geometry#joined}. */
  final TriangleBvh bvh;

  /** Number of the first triangle of each primitive, and the total at the end. */
  private final int[] firstTriangle;

  private final int[] indices;

  /**
   * @param opening primitives when the shutter opens
   * @param closing the same when it closes; null if they keep their shape
   */
  MeshGeometry(List<Primitive> opening, List<Primitive> closing, Workers workers) {
    this(opening, closing, true, workers);
  }

  private MeshGeometry(
      List<Primitive> opening, List<Primitive> closing, boolean build, Workers workers) {
    firstTriangle = new int[opening.size() + 1];
    for (int i = 0; i < opening.size(); i++) {
      firstTriangle[i + 1] = firstTriangle[i] + opening.get(i).triangles();
    }
    indices = indices(opening);
    bounds = bounds(opening, closing);
    bvh =
        build
            ? new TriangleBvh(
                positions(opening), closing == null ? null : positions(closing), indices, workers)
            : null;
  }

  /** Describes a mesh without building a hierarchy. */
  MeshGeometry(List<Primitive> primitives) {
    this(primitives, null, false, Workers.CALLER);
  }

  private MeshGeometry(MeshGeometry o, Bounds bounds, TriangleBvh bvh) {
    firstTriangle = o.firstTriangle;
    indices = o.indices;
    this.bounds = bounds;
    this.bvh = bvh;
  }

  /** Returns the geometry of the same mesh in another shape. */
  MeshGeometry moved(List<Primitive> opening, List<Primitive> closing, Workers workers) {
    float[] end = closing == null ? null : positions(closing);
    return new MeshGeometry(
        this, bounds(opening, closing), bvh.moved(positions(opening), end, indices, workers));
  }

  private static Bounds bounds(List<Primitive> opening, List<Primitive> closing) {
    Bounds b = new Bounds();
    opening.forEach(p -> b.addAll(p.positions()));
    if (closing != null) {
      closing.forEach(p -> b.addAll(p.positions()));
    }
    return b;
  }

  private static float[] positions(List<Primitive> primitives) {
    if (primitives.size() == 1) {
      return primitives.get(0).positions();
    }
    float[] all = new float[primitives.stream().mapToInt(p -> p.positions().length).sum()];
    int at = 0;
    for (Primitive p : primitives) {
      System.arraycopy(p.positions(), 0, all, at, p.positions().length);
      at += p.positions().length;
    }
    return all;
  }

  private int[] indices(List<Primitive> primitives) {
    if (primitives.size() == 1) {
      return primitives.get(0).indices();
    }
    int[] all = new int[firstTriangle[primitives.size()] * 3];
    int v = 0;
    int t = 0;
    for (Primitive p : primitives) {
      for (int i : p.indices()) {
        all[t++] = v + i;
      }
      v += p.vertices();
    }
    return all;
  }

  /** Returns the mesh as one of several that stand still. */
  JoinedMeshes.Member standing(List<Primitive> primitives, Affine at) {
    return new JoinedMeshes.Member(positions(primitives), indices, at);
  }

  public int primitiveOf(int triangle) {
    int i = 0;
    while (triangle >= firstTriangle[i + 1]) {
      i++;
    }
    return i;
  }

  public int firstTriangle(int primitive) {
    return firstTriangle[primitive];
  }
}
