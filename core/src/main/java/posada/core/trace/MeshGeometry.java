package posada.core.trace;

import java.util.List;
import posada.core.geometry.Bounds;
import posada.core.geometry.TriangleBvh;
import posada.core.parallel.Workers;
import posada.core.scene.Mesh;
import posada.core.scene.Primitive;

/** One mesh ready for tracing: the hierarchy over all its primitives' triangles. Immutable. */
final class MeshGeometry {
  final List<Primitive> primitives;
  final Bounds bounds;
  final TriangleBvh bvh;

  /** Number of the first triangle of each primitive, and the total at the end. */
  private final int[] firstTriangle;

  MeshGeometry(Mesh mesh, Workers workers) {
    primitives = mesh.primitives();
    bounds = mesh.bounds();
    firstTriangle = new int[primitives.size() + 1];
    int vertices = 0;
    for (int i = 0; i < primitives.size(); i++) {
      firstTriangle[i + 1] = firstTriangle[i] + primitives.get(i).triangles();
      vertices += primitives.get(i).vertices();
    }
    bvh =
        primitives.size() == 1
            ? new TriangleBvh(primitives.get(0).positions(), primitives.get(0).indices(), workers)
            : merged(vertices, workers);
  }

  private TriangleBvh merged(int vertices, Workers workers) {
    float[] positions = new float[vertices * 3];
    int[] indices = new int[firstTriangle[primitives.size()] * 3];
    int v = 0;
    int t = 0;
    for (Primitive p : primitives) {
      System.arraycopy(p.positions(), 0, positions, v * 3, p.positions().length);
      for (int i : p.indices()) {
        indices[t++] = v + i;
      }
      v += p.vertices();
    }
    return new TriangleBvh(positions, indices, workers);
  }

  int primitiveOf(int triangle) {
    int i = 0;
    while (triangle >= firstTriangle[i + 1]) {
      i++;
    }
    return i;
  }

  int firstTriangle(int primitive) {
    return firstTriangle[primitive];
  }
}
