package posada.core.geometry;

import java.util.Arrays;

/**
 * Two children a node, in plain Java: the way that works everywhere. Nodes are laid out as {@link
 * BvhBuilder} does, parents before children, without gaps.
 */
final class BinaryTree extends Tree {
  private final Walk[] octants;

  private BinaryTree(float[] nodes, int[] order, Walk[] octants) {
    super(nodes, order);
    this.octants = octants;
  }

  static BinaryTree of(BvhBuilder b, Leafing l, Class<? extends Leaves> leaves) {
    Walk[] octants = new Walk[8];
    Arrays.setAll(octants, k -> Walk.of(BinaryWalk.class, leaves, k));
    Packing p = new Packing(b, l);
    p.inner(0);
    return new BinaryTree(Arrays.copyOf(p.to, p.count * BvhBuilder.NODE), l.order, octants);
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
  double surface() {
    double sum = 0;
    for (int o = 0; o < nodes.length; o += BvhBuilder.NODE) {
      sum += BvhBuilder.area(nodes, o) + BvhBuilder.area(nodes, o + 6);
    }
    return sum;
  }

  @Override
  Tree refitted(Leaves.Boxes leaves) {
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
    return new BinaryTree(n, order, octants);
  }

  @Override
  Tree copy() {
    return new BinaryTree(nodes.clone(), order.clone(), octants);
  }

  @Override
  Walk walk(Ray r) {
    return octants[r.octant];
  }
}
