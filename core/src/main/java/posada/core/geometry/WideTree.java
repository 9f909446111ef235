package posada.core.geometry;

import java.util.Arrays;
import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.IntVector;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorSpecies;

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
  private static final int NODE = 64;
  private static final int MAX = 24;
  private static final int REF = 48;
  private static final int WIDTH = 8;
  private static final VectorSpecies<Float> FLOATS = FloatVector.SPECIES_256;
  private static final VectorSpecies<Integer> INTS = IntVector.SPECIES_256;

  /** Turning a mask into bits is slow before JDK 21: there bits of the lanes are joined. */
  static final boolean MASK_BITS = Runtime.version().feature() >= 21;

  /** A bit for each lane. */
  private static final IntVector BITS =
      IntVector.fromArray(INTS, new int[] {1, 2, 4, 8, 16, 32, 64, 128}, 0);

  private final float[] nodes;

  private WideTree(float[] nodes, int[] order) {
    super(order);
    this.nodes = nodes;
  }

  static boolean supported() {
    return FloatVector.SPECIES_PREFERRED.length() >= WIDTH;
  }

  static WideTree of(BvhBuilder b, Leafing l) {
    Opening p = new Opening(b.nodes, l);
    p.inner(0);
    return new WideTree(Arrays.copyOf(p.to, p.count * NODE), l.order);
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

  @Override
  long bytes() {
    return 4L * (nodes.length + order.length);
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
  Tree refitted(Leaves leaves) {
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
    return new WideTree(n, order);
  }

  @Override
  boolean walk(Ray r, Leaves leaves, boolean any, int stackBase) {
    final float[] n = nodes;
    final long[] stack = r.stack;
    final int[] lanes = r.lanes;
    final FloatVector ix = FloatVector.broadcast(FLOATS, r.ix);
    final FloatVector ax = FloatVector.broadcast(FLOATS, r.nearX);
    final FloatVector bx = FloatVector.broadcast(FLOATS, r.farX);
    final FloatVector iy = FloatVector.broadcast(FLOATS, r.iy);
    final FloatVector ay = FloatVector.broadcast(FLOATS, r.nearY);
    final FloatVector by = FloatVector.broadcast(FLOATS, r.farY);
    final FloatVector iz = FloatVector.broadcast(FLOATS, r.iz);
    final FloatVector az = FloatVector.broadcast(FLOATS, r.nearZ);
    final FloatVector bz = FloatVector.broadcast(FLOATS, r.farZ);
    final int nearX = r.ix >= 0 ? 0 : MAX, farX = MAX - nearX;
    final int nearY = WIDTH + (r.iy >= 0 ? 0 : MAX), farY = 2 * WIDTH + MAX - nearY;
    final int nearZ = 2 * WIDTH + (r.iz >= 0 ? 0 : MAX), farZ = 4 * WIDTH + MAX - nearZ;
    int end = bits(r.tMax);
    int top = stackBase;
    int ref = 0;
    int at = 0;
    while (true) {
      if (ref >= 0) {
        final int o = ref * NODE;
        final IntVector near =
            FloatVector.fromArray(FLOATS, n, o + nearX)
                .fma(ix, ax)
                .reinterpretAsInts()
                .max(FloatVector.fromArray(FLOATS, n, o + nearY).fma(iy, ay).reinterpretAsInts())
                .max(FloatVector.fromArray(FLOATS, n, o + nearZ).fma(iz, az).reinterpretAsInts())
                .max(0);
        final IntVector far =
            FloatVector.fromArray(FLOATS, n, o + farX)
                .fma(ix, bx)
                .reinterpretAsInts()
                .min(FloatVector.fromArray(FLOATS, n, o + farY).fma(iy, by).reinterpretAsInts())
                .min(FloatVector.fromArray(FLOATS, n, o + farZ).fma(iz, bz).reinterpretAsInts())
                .min(end)
                .add(SLACK);
        int met =
            MASK_BITS
                ? (int) near.compare(VectorOperators.LE, far).toLong()
                : BITS.blend(0, near.compare(VectorOperators.GT, far))
                    .reduceLanes(VectorOperators.OR);
        if (met != 0) {
          near.intoArray(lanes, 0);
          int i = Integer.numberOfTrailingZeros(met);
          met &= met - 1;
          long first = entry(lanes[i], n, o + REF + i);
          if (met != 0) {
            final int base = top;
            do {
              i = Integer.numberOfTrailingZeros(met);
              final long other = entry(lanes[i], n, o + REF + i);
              // The nearest child is visited next and needs no place on the stack.
              top = insert(stack, base, top, Math.max(first, other));
              first = Math.min(first, other);
              met &= met - 1;
            } while (met != 0);
          }
          ref = (int) first;
          at = (int) (first >>> 32);
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

  private static long entry(int near, float[] n, int ref) {
    return (long) near << 32 | bits(n[ref]) & 0xffffffffL;
  }

  /** Puts a child among its brothers so that the nearest is on top; returns the new top. */
  private static int insert(long[] stack, int first, int top, long entry) {
    int j = top;
    while (j > first && stack[j - 1] < entry) {
      stack[j] = stack[j - 1];
      j--;
    }
    stack[j] = entry;
    return top + 1;
  }
}
