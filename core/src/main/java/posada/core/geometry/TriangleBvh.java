package posada.core.geometry;

import posada.core.parallel.Workers;

/**
 * The hierarchy over one mesh's triangles, in the mesh's own space; they may move in straight lines
 * while the shutter is open. Hits are two-sided. Immutable.
 */
public final class TriangleBvh {
  /** Measured on the three meshes of {@code bin/bench rays}. */
  private static final BvhBuilder.Costs BY_PAIRS = new BvhBuilder.Costs(4, 2, 1.2f);

  private static final BvhBuilder.Costs BY_BLOCKS = new BvhBuilder.Costs(4, 4, 0.8f);

  /** A refitted tree whose boxes have grown this much in sum is built anew. */
  private static final double WORN = 2;

  private final boolean vector;
  private final Tree tree;
  private final Leaves.OfTriangles leaves;

  /** Surface of all boxes when the tree was built, over the surface of the outermost. */
  private final double fresh;

  /**
   * @param positions x, y, z of each vertex, finite
   * @param indices three vertices for each triangle, in range
   */
  public TriangleBvh(float[] positions, int[] indices, Workers workers) {
    this(positions, null, indices, workers);
  }

  /**
   * @param opening positions when the shutter opens
   * @param closing positions when it closes; null if nothing moves
   */
  public TriangleBvh(float[] opening, float[] closing, int[] indices, Workers workers) {
    this(opening, closing, indices, workers, VectorPath.ON);
  }

  TriangleBvh(float[] opening, float[] closing, int[] indices, Workers workers, boolean vector) {
    this.vector = vector;
    boolean blocks = closing == null && vector;
    BvhBuilder.Costs costs = blocks ? BY_BLOCKS : BY_PAIRS;
    BvhBuilder b = new BvhBuilder(boxes(opening, closing, indices, workers), costs, workers);
    int stride = blocks ? costs.block() : 1;
    tree = Tree.of(b, indices.length / 3, stride, kind(closing != null, vector), vector);
    leaves = leaves(tree.order, opening, closing, indices, workers);
    fresh = tree.surface();
  }

  private TriangleBvh(Tree tree, Leaves.OfTriangles leaves, double fresh, boolean vector) {
    this.vector = vector;
    this.tree = tree;
    this.leaves = leaves;
    this.fresh = fresh;
  }

  private static Class<? extends Leaves> kind(boolean moving, boolean vector) {
    return moving ? MovingTriangles.class : vector ? TriangleBlocks.class : TriangleList.class;
  }

  private Leaves.OfTriangles leaves(
      int[] order, float[] opening, float[] closing, int[] indices, Workers workers) {
    if (closing != null) {
      return new MovingTriangles(opening, closing, indices, order);
    }
    return vector
        ? new TriangleBlocks(opening, indices, order, workers)
        : new TriangleList(opening, indices, order, workers);
  }

  /**
   * Returns the hierarchy of the same triangles after their vertices have moved: the same tree with
   * new boxes, or a new one if those overlap too much.
   */
  public TriangleBvh moved(float[] opening, float[] closing, int[] indices, Workers workers) {
    boolean sameLeaves = (closing != null) == (leaves instanceof MovingTriangles);
    if (sameLeaves) {
      Leaves.OfTriangles l = leaves(tree.order, opening, closing, indices, workers);
      Tree t = tree.refitted(l);
      if (t.surface() <= WORN * fresh) {
        return new TriangleBvh(t, l, fresh, vector);
      }
    }
    return new TriangleBvh(opening, closing, indices, workers, vector);
  }

  private static float[] boxes(float[] p, float[] q, int[] idx, Workers workers) {
    float[] box = new float[idx.length * 2];
    workers.ranges(
        idx.length / 3,
        (from, to) -> {
          for (int t = from; t < to; t++) {
            BvhBuilder.setEmpty(box, t * 6);
            for (int k = 0; k < 3; k++) {
              grow(box, t * 6, p, idx[t * 3 + k] * 3);
              if (q != null) {
                grow(box, t * 6, q, idx[t * 3 + k] * 3);
              }
            }
          }
        });
    return box;
  }

  static void grow(float[] box, int o, float[] p, int i) {
    for (int k = 0; k < 3; k++) {
      float v = p[i + k];
      box[o + k] = v < box[o + k] ? v : box[o + k];
      box[o + 3 + k] = v > box[o + 3 + k] ? v : box[o + 3 + k];
    }
  }

  /** Returns the same hierarchy in memory of its own. */
  TriangleBvh copy() {
    Tree t = tree.copy();
    return new TriangleBvh(t, leaves.copy(t.order), fresh, vector);
  }

  /** Returns the bytes that the hierarchy takes. */
  public long bytes() {
    return tree.bytes() + leaves.bytes();
  }

  /** Shortens the ray to its nearest hit in this mesh, if there is one. */
  public void intersect(Ray r) {
    tree.nearest(r, leaves);
  }

  /** Returns true if anything is hit nearer than the ray's end. */
  public boolean occluded(Ray r) {
    return tree.any(r, leaves);
  }
}
