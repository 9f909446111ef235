package posada.core.geometry;

/**
 * The nodes of a bounding volume hierarchy, with a way of walking through them. Immutable and safe
 * to walk from many threads, each with a {@link Ray} of its own.
 *
 * <p>There are two ways: two children a node in plain Java, and eight a node with the vector unit.
 * Both test boxes by the same arithmetic: one fused {@code plane * inverse direction - origin *
 * inverse direction}, which grows with the plane even when rounded, so that a box that is met is
 * never hidden by one around it; and both find the same hits, bit for bit, whatever their leaves.
 *
 * <p>Distances are compared as the raw bits of floats, in whole numbers, which needs neither
 * branches nor care for NaN. The order is right for numbers of 0 or more; a negative far side stays
 * negative and is a miss, a negative near side is clamped to 0.
 */
abstract class Tree {
  /** Widens a box's far side against rounding of the slab test, in units of the last place. */
  static final int SLACK = 4;

  /** Places that a walk may need on a ray's stack. */
  static final int STACK = 7 * BvhBuilder.MAX_DEPTH + 8;

  /** Primitives in leaf order to their numbers as given; -1 where a leaf has room to spare. */
  final int[] order;

  /** As the kind of tree lays them out; references are the raw bits of numbers. */
  final float[] nodes;

  Tree(float[] nodes, int[] order) {
    this.nodes = nodes;
    this.order = order;
  }

  /**
   * Returns the tree of a finished build, for the fastest walk this machine has.
   *
   * @param stride slots that each leaf takes at least
   * @param leaves what will stand in its leaves
   */
  static Tree of(BvhBuilder b, int primitives, int stride, Class<? extends Leaves> leaves) {
    return of(b, primitives, stride, leaves, VectorPath.ON);
  }

  static Tree of(
      BvhBuilder b, int primitives, int stride, Class<? extends Leaves> leaves, boolean vector) {
    Leafing l = new Leafing(b, primitives, stride);
    return vector ? WideTree.of(b, l, leaves) : BinaryTree.of(b, l, leaves);
  }

  /** Returns the walk to take for a ray. */
  abstract Walk walk(Ray r);

  /** Visits the leaves along the ray, near ones first. */
  final void nearest(Ray r, Leaves leaves) {
    walk(r).nearest(nodes, r, leaves);
  }

  /** Visits the leaves along the ray until there is a hit; returns true if there was. */
  final boolean any(Ray r, Leaves leaves) {
    return walk(r).any(nodes, r, leaves);
  }

  /**
   * Returns a tree of the same shape around leaves that have moved.
   *
   * @param leaves in the same order as those it was built for
   */
  abstract Tree refitted(Leaves.Boxes leaves);

  /** Returns the same tree in memory of its own. */
  abstract Tree copy();

  /** Returns the sum of the surfaces of all boxes: what a walk costs grows with it. */
  abstract double surface();

  final long bytes() {
    return 4L * (nodes.length + order.length);
  }

  /** Gives each leaf its slots, in the order of a walk from left to right. */
  static final class Leafing {
    final int[] order;
    private final BvhBuilder from;
    private final int stride;
    private int used;

    Leafing(BvhBuilder from, int primitives, int stride) {
      this.from = from;
      this.stride = stride;
      int slots = stride == 1 ? primitives : leaves(from, 0) * stride;
      order = new int[slots];
    }

    private static int leaves(BvhBuilder b, int ref) {
      if (ref < 0) {
        return BvhBuilder.leafCount(ref) > 0 ? 1 : 0;
      }
      int o = ref * BvhBuilder.NODE;
      return leaves(b, bits(b.nodes[o + BvhBuilder.LEFT]))
          + leaves(b, bits(b.nodes[o + BvhBuilder.RIGHT]));
    }

    /** Returns the reference of a leaf whose primitives now have slots. */
    int slots(int ref) {
      int count = BvhBuilder.leafCount(ref);
      if (count == 0) {
        return BvhBuilder.leaf(0, 0);
      }
      int first = used;
      used += stride == 1 ? count : stride;
      for (int i = 0; i < used - first; i++) {
        order[first + i] = i < count ? from.primitive(BvhBuilder.leafFirst(ref) + i) : -1;
      }
      return BvhBuilder.leaf(first, count);
    }
  }

  static int bits(float f) {
    return Float.floatToRawIntBits(f);
  }
}
