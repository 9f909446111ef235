package posada.core.geometry;

import java.util.Arrays;
import java.util.List;
import posada.core.parallel.Workers;

/**
 * Meshes that never move, in one hierarchy in world space: rays need not enter each of them by
 * itself. Immutable.
 */
public final class JoinedMeshes {
  /**
   * One of the meshes.
   *
   * @param positions x, y, z of each vertex, in its own space
   * @param indices three vertices for each triangle
   */
  public record Member(float[] positions, int[] indices, Affine toWorld) {}

  /** No meshes. */
  public static final JoinedMeshes NONE = new JoinedMeshes(null, new int[1], new int[0]);

  /** Null if there are no meshes. */
  private final TriangleBvh bvh;

  /** Number of the first triangle of each mesh, and the total at the end. */
  private final int[] first;

  /** The instance that each mesh is. */
  private final int[] numbers;

  private JoinedMeshes(TriangleBvh bvh, int[] first, int[] numbers) {
    this.bvh = bvh;
    this.first = first;
    this.numbers = numbers;
  }

  /** Joins meshes, which are instances 0, 1 and so on. Cost: O(n log n) in triangles. */
  public static JoinedMeshes of(List<Member> members, Workers workers) {
    if (members.isEmpty()) {
      return NONE;
    }
    int[] first = new int[members.size() + 1];
    int vertices = 0;
    for (int i = 0; i < members.size(); i++) {
      first[i + 1] = first[i] + members.get(i).indices().length / 3;
      vertices += members.get(i).positions().length / 3;
    }
    float[] positions = new float[vertices * 3];
    int[] indices = new int[first[members.size()] * 3];
    int v = 0;
    int t = 0;
    for (Member m : members) {
      float[] p = m.positions();
      for (int index : m.indices()) {
        indices[t++] = v / 3 + index;
      }
      for (int i = 0; i < p.length; i += 3) {
        Vec3 at = m.toWorld().point(new Vec3(p[i], p[i + 1], p[i + 2]));
        positions[v++] = (float) at.x();
        positions[v++] = (float) at.y();
        positions[v++] = (float) at.z();
      }
    }
    int[] numbers = new int[members.size()];
    Arrays.setAll(numbers, i -> i);
    return new JoinedMeshes(new TriangleBvh(positions, indices, workers), first, numbers);
  }

  /** Returns the same meshes as other instances. */
  public JoinedMeshes numbered(int[] instances) {
    return new JoinedMeshes(bvh, first, instances);
  }

  /** Returns the same meshes in memory of their own. */
  JoinedMeshes copy() {
    return bvh == null ? this : new JoinedMeshes(bvh.copy(), first, numbers);
  }

  /** Returns the bytes that the hierarchy takes. */
  public long bytes() {
    return bvh == null ? 0 : bvh.bytes();
  }

  /** Shortens the ray to its nearest hit, which {@link #name} must name. */
  void intersect(Ray r) {
    if (bvh != null) {
      bvh.intersect(r);
    }
  }

  boolean occluded(Ray r) {
    return bvh != null && bvh.occluded(r);
  }

  /** Names instance and triangle of a hit. */
  void name(Ray r) {
    int member = r.member;
    // The next ray often meets the same one.
    if (member + 1 >= first.length
        || r.triangle < first[member]
        || r.triangle >= first[member + 1]) {
      int at = Arrays.binarySearch(first, r.triangle);
      member = at >= 0 ? at : -at - 2;
      // Meshes without triangles begin where the next one does.
      while (first[member + 1] == r.triangle) {
        member++;
      }
      r.member = member;
    }
    r.instance = numbers[member];
    r.triangle -= first[member];
  }
}
