package posada.core.trace;

import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.ConcurrentHashMap;
import posada.core.parallel.Workers;
import posada.core.scene.Mesh;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;

/**
 * The hierarchies of all meshes of a scene at rest, built once and shared by its frames. A bent
 * mesh takes over the tree of the mesh at rest with new boxes; so a frame comes out the same
 * whichever frames were rendered before it. Safe for several threads.
 */
public final class Geometry {
  /** Triangles from which building one mesh is worth spreading over the workers. */
  private static final int LARGE = 20_000;

  private final Scene scene;
  private final MeshGeometry[] meshes;

  /** Trees at rest with room for two shapes, of meshes that bend while the shutter is open. */
  private final ConcurrentHashMap<Integer, MeshGeometry> blurred = new ConcurrentHashMap<>();

  private Geometry(Scene scene, MeshGeometry[] meshes) {
    this.scene = scene;
    this.meshes = meshes;
  }

  /** Builds the hierarchy of each mesh that has triangles. Cost: O(n log n) in triangles. */
  public static Geometry build(Scene scene, Workers workers, Stop stop) {
    MeshGeometry[] built = new MeshGeometry[scene.meshes().size()];
    // Large meshes use all workers one after the other; small ones get a worker each.
    List<Integer> small = new ArrayList<>();
    for (int i = 0; i < built.length; i++) {
      Mesh m = scene.meshes().get(i);
      if (m.triangles() > LARGE) {
        stop.check();
        built[i] = new MeshGeometry(m.primitives(), null, workers);
      } else if (m.triangles() > 0) {
        small.add(i);
      }
    }
    workers.each(
        small.size(),
        k -> {
          int i = small.get(k);
          stop.check();
          built[i] = new MeshGeometry(scene.meshes().get(i).primitives(), null, Workers.CALLER);
        });
    return new Geometry(scene, built);
  }

  /** Returns the mesh's geometry at rest, or null if it has no triangles. */
  MeshGeometry mesh(int index) {
    return meshes[index];
  }

  /**
   * Returns the geometry of a bent mesh.
   *
   * @param closing primitives when the shutter closes; null if they keep their shape meanwhile
   */
  MeshGeometry bent(int index, List<Primitive> opening, List<Primitive> closing, Workers workers) {
    MeshGeometry rest = meshes[index];
    if (closing != null) {
      List<Primitive> p = scene.meshes().get(index).primitives();
      rest = blurred.computeIfAbsent(index, i -> new MeshGeometry(p, p, Workers.CALLER));
    }
    return rest.moved(opening, closing, workers);
  }

  /** Returns the bytes that the hierarchies take. */
  public long bytes() {
    long sum = 0;
    for (MeshGeometry m : meshes) {
      sum += m == null ? 0 : m.bvh.bytes();
    }
    for (MeshGeometry m : blurred.values()) {
      sum += m.bvh.bytes();
    }
    return sum;
  }
}
