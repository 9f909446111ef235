package posada.core.geometry;

/**
 * Two children a node, in plain Java: the way that works everywhere. Nodes are laid out as {@link
 * BvhBuilder} does, parents before children, without gaps.
 */
final class BinaryTree extends Tree {
  private final float[] nodes;

  private BinaryTree(float[] nodes, int[] order) {
    super(order);
    this.nodes = nodes;
  }

  static BinaryTree of(BvhBuilder b, Leafing l) {
    Packing p = new Packing(b, l);
    p.inner(0);
    return new BinaryTree(java.util.Arrays.copyOf(p.to, p.count * BvhBuilder.NODE), l.order);
  }

  /** Copies nodes in the order of a walk, so that the gaps go and neighbours lie close. */
  private static final class Packing {
    private final float[] from;
    private final Leafing leafing;
    private final float[] to;
    private int count;

    Packing(BvhBuilder b, Leafing leafing) {
      from = b.nodes;
      this.leafing = leafing;
      to = new float[from.length];
    }

    int inner(int node) {
      int me = count++;
      int o = me * BvhBuilder.NODE;
      int s = node * BvhBuilder.NODE;
      System.arraycopy(from, s, to, o, 12);
      to[o + BvhBuilder.LEFT] = Float.intBitsToFloat(child(bits(from[s + BvhBuilder.LEFT])));
      to[o + BvhBuilder.RIGHT] = Float.intBitsToFloat(child(bits(from[s + BvhBuilder.RIGHT])));
      return me;
    }

    private int child(int ref) {
      return ref < 0 ? leafing.slots(ref) : inner(ref);
    }
  }

  @Override
  long bytes() {
    return 4L * (nodes.length + order.length);
  }

  @Override
  double surface() {
    double sum = 0;
    for (int o = 0; o < nodes.length; o += BvhBuilder.NODE) {
      sum += BvhBuilder.area(nodes, o) + BvhBuilder.area(nodes, o + 6);
    }
    return sum;
  }

  @Override
  Tree refitted(Leaves leaves) {
    float[] n = nodes.clone();
    float[] box = new float[6];
    for (int o = n.length - BvhBuilder.NODE; o >= 0; o -= BvhBuilder.NODE) {
      for (int c = 0; c < 2; c++) {
        int ref = bits(n[o + BvhBuilder.LEFT + c]);
        if (ref < 0) {
          leaves.bounds(BvhBuilder.leafFirst(ref), BvhBuilder.leafCount(ref), box);
        } else {
          int s = ref * BvhBuilder.NODE;
          System.arraycopy(n, s, box, 0, 6);
          BvhBuilder.grow(box, 0, n, s + 6);
        }
        System.arraycopy(box, 0, n, o + 6 * c, 6);
      }
    }
    return new BinaryTree(n, order);
  }

  @Override
  boolean walk(Ray r, Leaves leaves, boolean any, int stackBase) {
    return switch (r.octant) {
      case 0 -> BinaryWalk.OCTANT_0.walk(nodes, r, leaves, any, stackBase);
      case 1 -> BinaryWalk.OCTANT_1.walk(nodes, r, leaves, any, stackBase);
      case 2 -> BinaryWalk.OCTANT_2.walk(nodes, r, leaves, any, stackBase);
      case 3 -> BinaryWalk.OCTANT_3.walk(nodes, r, leaves, any, stackBase);
      case 4 -> BinaryWalk.OCTANT_4.walk(nodes, r, leaves, any, stackBase);
      case 5 -> BinaryWalk.OCTANT_5.walk(nodes, r, leaves, any, stackBase);
      case 6 -> BinaryWalk.OCTANT_6.walk(nodes, r, leaves, any, stackBase);
      default -> BinaryWalk.OCTANT_7.walk(nodes, r, leaves, any, stackBase);
    };
  }
}
