package posada.core.trace.stage;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.atomic.AtomicReference;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.JoinedMeshes;
import posada.core.motion.Pose;
import posada.core.parallel.Recent;
import posada.core.parallel.Workers;
import posada.core.scene.Mesh;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;

/**
 * The hierarchies of all meshes of a scene at rest, built once and shared by its frames. Meshes
 * that are there once and never move are joined in one. A bent mesh takes over the tree of the mesh
 * at rest with new boxes; so a frame comes out the same whichever frames were rendered before it.
 * Safe for several threads.
 */
public final class Geometry {
  /** Triangles from which building one mesh is worth spreading over the workers. */
  private static final int LARGE = 20_000;

  /** How many times what stands, joined, may be kept for layers. */
  private static final int LAYERS = 4;

  private final Scene scene;
  private final MeshGeometry[] meshes;

  /** Trees at rest with room for two shapes, of meshes that bend while the shutter is open. */
  private final ConcurrentHashMap<Integer, MeshGeometry> blurred = new ConcurrentHashMap<>();

  /** Nodes whose meshes are joined, ascending, and their hierarchy. */
  private final int[] standing;

  private final JoinedMeshes joined;

  /** The shape of the top level of the frame placed last. */
  private final AtomicReference<InstanceBvh.Shape> top = new AtomicReference<>();

  /**
   * Geometries of layers that leave something out, rendered lately: a few times what all that
   * stands takes, so that layers which take turns build nothing twice.
   */
  private final Recent<BitSet, Geometry> without;

  private Geometry(Scene scene, MeshGeometry[] meshes, int[] standing, JoinedMeshes joined) {
    this.scene = scene;
    this.meshes = meshes;
    this.standing = standing;
    this.joined = joined;
    without = new Recent<>(LAYERS * Math.max(1, joined.bytes()), g -> g.joined.bytes());
  }

  /** Builds the hierarchy of each mesh that has triangles. Cost: O(n log n) in triangles. */
  public static Geometry build(Scene scene, Workers workers) {
    MeshGeometry[] built = new MeshGeometry[scene.meshes().size()];
    int[] standing = StandingMeshes.of(scene);
    List<JoinedMeshes.Member> members = new ArrayList<>();
    Pose rest = Pose.at(scene, 0, Set.of());
    for (int node : standing) {
      int i = scene.nodes().get(node).mesh();
      List<Primitive> primitives = scene.meshes().get(i).primitives();
      built[i] = new MeshGeometry(primitives);
      members.add(built[i].standing(primitives, rest.world(node)));
    }
    JoinedMeshes joined = JoinedMeshes.of(members, workers);
    // Large meshes use all workers one after the other; small ones get a worker each.
    List<Integer> small = new ArrayList<>();
    for (int i = 0; i < built.length; i++) {
      Mesh m = scene.meshes().get(i);
      if (built[i] != null) {
        continue;
      }
      if (m.triangles() > LARGE) {
        built[i] = new MeshGeometry(m.primitives(), null, workers);
      } else if (m.triangles() > 0) {
        small.add(i);
      }
    }
    Workers alone = Workers.CALLER.until(workers.check());
    workers.each(
        small.size(),
        k -> {
          int i = small.get(k);
          built[i] = new MeshGeometry(scene.meshes().get(i).primitives(), null, alone);
        });
    return new Geometry(scene, built, standing, joined);
  }

  /**
   * Returns the same geometry without some nodes' meshes among those that are joined; the others
   * are shared. Those made lately are kept.
   *
   * @param leftOut numbers of nodes
   */
  public Geometry without(BitSet leftOut, Workers workers) {
    if (Arrays.stream(standing).noneMatch(leftOut::get)) {
      return this;
    }
    return without.get((BitSet) leftOut.clone(), out -> madeWithout(out, workers));
  }

  private Geometry madeWithout(BitSet leftOut, Workers workers) {
    int[] kept = Arrays.stream(standing).filter(i -> !leftOut.get(i)).toArray();
    List<JoinedMeshes.Member> members = new ArrayList<>();
    Pose rest = Pose.at(scene, 0, Set.of());
    for (int node : kept) {
      int i = scene.nodes().get(node).mesh();
      members.add(meshes[i].standing(scene.meshes().get(i).primitives(), rest.world(node)));
    }
    return new Geometry(scene, meshes, kept, JoinedMeshes.of(members, workers));
  }

  /** Returns true if the same is joined for another scene of the same meshes. */
  public boolean fits(Scene other) {
    return Arrays.equals(standing, StandingMeshes.of(other));
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

  /** Returns the hierarchy over a frame's instances. */
  InstanceBvh top(Instance[] instances, Workers workers) {
    int[] numbers = new int[standing.length];
    List<InstanceBvh.Placed> placed = new ArrayList<>();
    int next = 0;
    for (int i = 0; i < instances.length; i++) {
      Instance in = instances[i];
      if (in.mesh.bvh == null) {
        numbers[next++] = i;
      } else {
        placed.add(new InstanceBvh.Placed(i, in.mesh.bvh, in.mesh.bounds, in.worlds()));
      }
    }
    InstanceBvh made = new InstanceBvh(joined.numbered(numbers), placed, top.get(), workers);
    top.set(made.shape());
    return made;
  }

  /** Returns the bytes that the hierarchies take. */
  public long bytes() {
    long sum = joined.bytes() + without.bytes();
    for (MeshGeometry m : meshes) {
      sum += m == null || m.bvh == null ? 0 : m.bvh.bytes();
    }
    for (MeshGeometry m : blurred.values()) {
      sum += m.bvh.bytes();
    }
    return sum;
  }
}
