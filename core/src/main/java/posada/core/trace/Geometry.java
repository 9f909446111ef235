package posada.core.trace;

import posada.core.scene.Mesh;
import posada.core.scene.Scene;

/** The hierarchies of all meshes of a scene, built once and shared by its frames. Immutable. */
public final class Geometry {
  private final MeshGeometry[] meshes;

  private Geometry(MeshGeometry[] meshes) {
    this.meshes = meshes;
  }

  /** Builds the hierarchy of each mesh that has triangles. Cost: O(n log n) in triangles. */
  public static Geometry build(Scene scene, Workers workers) {
    MeshGeometry[] built = new MeshGeometry[scene.meshes().size()];
    workers.each(
        built.length,
        i -> {
          Mesh m = scene.meshes().get(i);
          if (m.triangles() > 0) {
            built[i] = new MeshGeometry(m);
          }
        });
    return new Geometry(built);
  }

  /** Returns the mesh's geometry, or null if it has no triangles. */
  MeshGeometry mesh(int index) {
    return meshes[index];
  }

  /** Returns the bytes that the hierarchies take. */
  public long bytes() {
    long sum = 0;
    for (MeshGeometry m : meshes) {
      sum += m == null ? 0 : m.bvh.bytes();
    }
    return sum;
  }
}
