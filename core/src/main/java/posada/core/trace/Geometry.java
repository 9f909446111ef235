package posada.core.trace;

import java.util.ArrayList;
import java.util.List;
import posada.core.parallel.Workers;
import posada.core.scene.Mesh;
import posada.core.scene.Scene;

/** The hierarchies of all meshes of a scene, built once and shared by its frames. Immutable. */
public final class Geometry {
  /** Triangles from which building one mesh is worth spreading over the workers. */
  private static final int LARGE = 20_000;

  private final MeshGeometry[] meshes;

  private Geometry(MeshGeometry[] meshes) {
    this.meshes = meshes;
  }

  /** Builds the hierarchy of each mesh that has triangles. Cost: O(n log n) in triangles. */
  public static Geometry build(Scene scene, Workers workers) {
    MeshGeometry[] built = new MeshGeometry[scene.meshes().size()];
    // Large meshes use all workers one after the other; small ones get a worker each.
    List<Integer> small = new ArrayList<>();
    for (int i = 0; i < built.length; i++) {
      Mesh m = scene.meshes().get(i);
      if (m.triangles() > LARGE) {
        built[i] = new MeshGeometry(m, workers);
      } else if (m.triangles() > 0) {
        small.add(i);
      }
    }
    workers.each(
        small.size(),
        k -> {
          int i = small.get(k);
          built[i] = new MeshGeometry(scene.meshes().get(i), Workers.CALLER);
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
