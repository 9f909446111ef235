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
    final float[] n = nodes;
    final long[] stack = r.stack;
    final float ix = r.ix, iy = r.iy, iz = r.iz;
    final float ox = r.ox, oy = r.oy, oz = r.oz;
    int end = bits(r.tMax);
    int top = stackBase;
    int ref = 0;
    int at = 0;
    while (true) {
      if (ref >= 0) {
        final int o = ref * BvhBuilder.NODE;
        int a = bits((n[o] - ox) * ix), b = bits((n[o + 3] - ox) * ix);
        int near = Math.min(a, b), far = Math.max(a, b);
        a = bits((n[o + 1] - oy) * iy);
        b = bits((n[o + 4] - oy) * iy);
        near = Math.max(near, Math.min(a, b));
        far = Math.min(far, Math.max(a, b));
        a = bits((n[o + 2] - oz) * iz);
        b = bits((n[o + 5] - oz) * iz);
        final int leftNear = Math.max(Math.max(near, Math.min(a, b)), 0);
        final int leftFar = Math.min(Math.min(far, Math.max(a, b)), end);
        a = bits((n[o + 6] - ox) * ix);
        b = bits((n[o + 9] - ox) * ix);
        near = Math.min(a, b);
        far = Math.max(a, b);
        a = bits((n[o + 7] - oy) * iy);
        b = bits((n[o + 10] - oy) * iy);
        near = Math.max(near, Math.min(a, b));
        far = Math.min(far, Math.max(a, b));
        a = bits((n[o + 8] - oz) * iz);
        b = bits((n[o + 11] - oz) * iz);
        final int rightNear = Math.max(Math.max(near, Math.min(a, b)), 0);
        final int rightFar = Math.min(Math.min(far, Math.max(a, b)), end);
        final boolean left = leftNear <= leftFar + SLACK;
        final boolean right = rightNear <= rightFar + SLACK;
        final int l = bits(n[o + BvhBuilder.LEFT]);
        final int g = bits(n[o + BvhBuilder.RIGHT]);
        if (left) {
          ref = l;
          at = leftNear;
          if (right) {
            final boolean leftFirst = leftNear <= rightNear;
            stack[top++] =
                leftFirst
                    ? (long) rightNear << 32 | g & 0xffffffffL
                    : (long) leftNear << 32 | l & 0xffffffffL;
            ref = leftFirst ? l : g;
            at = leftFirst ? leftNear : rightNear;
          }
          continue;
        }
        if (right) {
          ref = g;
          at = rightNear;
          continue;
        }
      } else {
        if (leaves.test(r, BvhBuilder.leafFirst(ref), BvhBuilder.leafCount(ref), at, any, top)) {
          return true;
        }
        end = bits(r.tMax);
      }
      do {
        if (top == stackBase) {
          return false;
        }
        final long next = stack[--top];
        ref = (int) next;
        at = (int) (next >>> 32);
      } while (at > end);
    }
  }
}
