package posada.core.geometry;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.IntVector;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorSpecies;

/** The walk through a {@link WideTree}; a template, see {@link Walk}. */
final class WideWalk extends Walk {
  private static final int NODE = WideTree.NODE;
  private static final int MAX = WideTree.MAX;
  private static final int REF = WideTree.REF;
  private static final int WIDTH = WideTree.WIDTH;
  private static final VectorSpecies<Float> FLOATS = FloatVector.SPECIES_256;
  private static final VectorSpecies<Integer> INTS = IntVector.SPECIES_256;

  /** Turning a mask into bits is slow before JDK 21: there bits of the lanes are joined. */
  static final boolean MASK_BITS = Runtime.version().feature() >= 21;

  /** A bit for each lane. */
  private static final IntVector BITS =
      IntVector.fromArray(INTS, new int[] {1, 2, 4, 8, 16, 32, 64, 128}, 0);

  WideWalk() {}

  static boolean supported() {
    return FloatVector.SPECIES_PREFERRED.length() >= WIDTH;
  }

  @Override
  void nearest(float[] n, Ray r, Leaves leaves) {
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
    int end = Tree.bits(r.tMax);
    int top = 0;
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
                .add(Tree.SLACK);
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
        leaves.test(r, BvhBuilder.leafFirst(ref), BvhBuilder.leafCount(ref), at, false);
        end = Tree.bits(r.tMax);
      }
      do {
        if (top == 0) {
          return;
        }
        final long next = stack[--top];
        ref = (int) next;
        at = (int) (next >>> 32);
      } while (at > end);
    }
  }

  @Override
  boolean any(float[] n, Ray r, Leaves leaves) {
    final long[] stack = r.stack;
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
    final int end = Tree.bits(r.tMax);
    int top = 0;
    int ref = 0;
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
                .add(Tree.SLACK);
        int met =
            MASK_BITS
                ? (int) near.compare(VectorOperators.LE, far).toLong()
                : BITS.blend(0, near.compare(VectorOperators.GT, far))
                    .reduceLanes(VectorOperators.OR);
        if (met != 0) {
          ref = Tree.bits(n[o + REF + Integer.numberOfTrailingZeros(met)]);
          met &= met - 1;
          while (met != 0) {
            stack[top++] = ref;
            ref = Tree.bits(n[o + REF + Integer.numberOfTrailingZeros(met)]);
            met &= met - 1;
          }
          continue;
        }
      } else if (leaves.test(r, BvhBuilder.leafFirst(ref), BvhBuilder.leafCount(ref), 0, true)) {
        return true;
      }
      if (top == 0) {
        return false;
      }
      ref = (int) stack[--top];
    }
  }

  private static long entry(int near, float[] n, int ref) {
    return (long) near << 32 | Tree.bits(n[ref]) & 0xffffffffL;
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
