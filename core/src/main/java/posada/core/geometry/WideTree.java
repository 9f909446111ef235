package posada.core.geometry;

import java.util.Arrays;

/**
 * Eight children a node, whose boxes are met all at once by the vector unit. Made from a binary
 * tree by opening the largest of a node's children until there are eight.
 *
 * <p>Node layout, 64 floats each, parents before children:
 *
 * <pre>
 *   0  min x of the eight    8  min y   16  min z
 *  24  max x                32  max y   40  max z
 *  48  children, as {@link BvhBuilder}'s; a place that is not used has an empty box
 * </pre>
 */
final class WideTree extends Tree {
  static final int NODE = 64;
  static final int MAX = 24;
  static final int REF = 48;
  static final int WIDTH = 8;
  private final Walk walk;

  private WideTree(float[] nodes, int[] order, Walk walk) {
    super(nodes, order);
    this.walk = walk;
  }

  static WideTree of(BvhBuilder b, Leafing l, Class<? extends Leaves> leaves) {
    Opening p = new Opening(b.nodes, l);
    p.inner(0);
    Walk walk = Walk.of(WideWalk.class, leaves, 0);
    return new WideTree(Arrays.copyOf(p.to, p.count * NODE), l.order, walk);
  }

  /** Collapses the binary tree. */
  private static final class Opening {
    private final float[] from;
    private final Leafing leafing;
    private float[] to = new float[1024 * NODE];
    private int count;

    Opening(float[] from, Leafing leafing) {
      this.from = from;
      this.leafing = leafing;
    }

    int inner(int node) {
      int[] boxes = new int[WIDTH];
      int[] refs = new int[WIDTH];
      int n = open(node, boxes, refs);
      int me = count++;
      if (to.length < count * NODE) {
        to = Arrays.copyOf(to, Math.multiplyExact(to.length / 2, 3));
      }
      for (int i = 0; i < WIDTH; i++) {
        put(me * NODE + i, i < n ? boxes[i] : -1);
      }
      for (int i = 0; i < n; i++) {
        int ref = refs[i] < 0 ? leafing.slots(refs[i]) : inner(refs[i]);
        to[me * NODE + REF + i] = Float.intBitsToFloat(ref);
      }
      return me;
    }

    /** Stores where the boxes of up to eight descendants lie and what they are. */
    private int open(int node, int[] boxes, int[] refs) {
      int n = add(node, boxes, refs, 0);
      while (n < WIDTH) {
        int widest = -1;
        float most = -1;
        for (int i = 0; i < n; i++) {
          float a = BvhBuilder.area(from, boxes[i]);
          if (refs[i] >= 0 && a > most) {
            most = a;
            widest = i;
          }
        }
        if (widest < 0) {
          break;
        }
        int opened = refs[widest];
        n--;
        boxes[widest] = boxes[n];
        refs[widest] = refs[n];
        n = add(opened, boxes, refs, n);
      }
      return n;
    }

    private int add(int node, int[] boxes, int[] refs, int n) {
      for (int c = 0; c < 2; c++) {
        int ref = bits(from[node * BvhBuilder.NODE + BvhBuilder.LEFT + c]);
        if (ref >= 0 || BvhBuilder.leafCount(ref) > 0) {
          boxes[n] = node * BvhBuilder.NODE + 6 * c;
          refs[n++] = ref;
        }
      }
      return n;
    }

    private void put(int lane, int box) {
      for (int k = 0; k < 3; k++) {
        to[lane + WIDTH * k] = box < 0 ? Float.POSITIVE_INFINITY : from[box + k];
        to[lane + MAX + WIDTH * k] = box < 0 ? Float.NEGATIVE_INFINITY : from[box + 3 + k];
      }
    }
  }

  private static void read(float[] n, int lane, float[] box) {
    for (int k = 0; k < 3; k++) {
      box[k] = n[lane + WIDTH * k];
      box[3 + k] = n[lane + MAX + WIDTH * k];
    }
  }

  @Override
  double surface() {
    double sum = 0;
    float[] box = new float[6];
    for (int o = 0; o < nodes.length; o += NODE) {
      for (int i = 0; i < WIDTH; i++) {
        read(nodes, o + i, box);
        sum += BvhBuilder.area(box, 0);
      }
    }
    return sum;
  }

  @Override
  Tree refitted(Leaves.Boxes leaves) {
    float[] n = nodes.clone();
    float[] box = new float[6];
    float[] child = new float[6];
    for (int o = n.length - NODE; o >= 0; o -= NODE) {
      for (int i = 0; i < WIDTH && n[o + i] <= n[o + MAX + i]; i++) {
        int ref = bits(n[o + REF + i]);
        if (ref < 0) {
          leaves.bounds(BvhBuilder.leafFirst(ref), BvhBuilder.leafCount(ref), box);
        } else {
          BvhBuilder.setEmpty(box, 0);
          for (int j = 0; j < WIDTH; j++) {
            read(n, ref * NODE + j, child);
            BvhBuilder.grow(box, 0, child, 0);
          }
        }
        for (int k = 0; k < 3; k++) {
          n[o + i + WIDTH * k] = box[k];
          n[o + i + MAX + WIDTH * k] = box[3 + k];
        }
      }
    }
    return new WideTree(n, order, walk);
  }

  @Override
  Tree copy() {
    return new WideTree(nodes.clone(), order.clone(), walk);
  }

  @Override
  Walk walk(Ray r) {
    return walk;
  }
}
