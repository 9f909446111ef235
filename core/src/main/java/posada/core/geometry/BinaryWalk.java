package posada.core.geometry;

import java.lang.invoke.MethodHandles;

/**
 * The walk through a {@link BinaryTree} for rays of one octant of directions; a template, see
 * {@link Walk}. See {@link Tree} for the arithmetic.
 *
 * <p>Which side of a box a ray meets first depends on the octant alone. With that known when the
 * code is compiled all reads have constant offsets, which is a fifth faster.
 */
final class BinaryWalk extends Walk {
  private static final int OCTANT = Walk.octant(MethodHandles.lookup());

  /** Where the near and the far side of a box stand in its six values. */
  private static final int NX = (OCTANT & 1) == 0 ? 0 : 3;

  private static final int NY = (OCTANT & 2) == 0 ? 1 : 4;
  private static final int NZ = (OCTANT & 4) == 0 ? 2 : 5;
  private static final int FX = 3 - NX;
  private static final int FY = 5 - NY;
  private static final int FZ = 7 - NZ;

  BinaryWalk() {}

  private static int bits(float f) {
    return Float.floatToRawIntBits(f);
  }

  @Override
  void nearest(float[] n, Ray r, Leaves leaves) {
    final long[] stack = r.stack;
    final float ix = r.ix, iy = r.iy, iz = r.iz;
    final float ax = r.nearX, ay = r.nearY, az = r.nearZ;
    final float bx = r.farX, by = r.farY, bz = r.farZ;
    int end = bits(r.tMax);
    int top = 0;
    int ref = 0;
    int at = 0;
    while (true) {
      if (ref >= 0) {
        final int o = ref * BvhBuilder.NODE;
        final int leftNear =
            Math.max(
                Math.max(bits(Math.fma(n[o + NX], ix, ax)), bits(Math.fma(n[o + NY], iy, ay))),
                Math.max(bits(Math.fma(n[o + NZ], iz, az)), 0));
        final int leftFar =
            Math.min(
                Math.min(bits(Math.fma(n[o + FX], ix, bx)), bits(Math.fma(n[o + FY], iy, by))),
                Math.min(bits(Math.fma(n[o + FZ], iz, bz)), end));
        final int rightNear =
            Math.max(
                Math.max(
                    bits(Math.fma(n[o + 6 + NX], ix, ax)), bits(Math.fma(n[o + 6 + NY], iy, ay))),
                Math.max(bits(Math.fma(n[o + 6 + NZ], iz, az)), 0));
        final int rightFar =
            Math.min(
                Math.min(
                    bits(Math.fma(n[o + 6 + FX], ix, bx)), bits(Math.fma(n[o + 6 + FY], iy, by))),
                Math.min(bits(Math.fma(n[o + 6 + FZ], iz, bz)), end));
        final boolean left = leftNear <= leftFar + Tree.SLACK;
        final boolean right = rightNear <= rightFar + Tree.SLACK;
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
        leaves.test(r, BvhBuilder.leafFirst(ref), BvhBuilder.leafCount(ref), at, false);
        end = bits(r.tMax);
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
    final float ix = r.ix, iy = r.iy, iz = r.iz;
    final float ax = r.nearX, ay = r.nearY, az = r.nearZ;
    final float bx = r.farX, by = r.farY, bz = r.farZ;
    final int end = bits(r.tMax);
    int top = 0;
    int ref = 0;
    while (true) {
      if (ref >= 0) {
        final int o = ref * BvhBuilder.NODE;
        final int leftNear =
            Math.max(
                Math.max(bits(Math.fma(n[o + NX], ix, ax)), bits(Math.fma(n[o + NY], iy, ay))),
                Math.max(bits(Math.fma(n[o + NZ], iz, az)), 0));
        final int leftFar =
            Math.min(
                Math.min(bits(Math.fma(n[o + FX], ix, bx)), bits(Math.fma(n[o + FY], iy, by))),
                Math.min(bits(Math.fma(n[o + FZ], iz, bz)), end));
        final int rightNear =
            Math.max(
                Math.max(
                    bits(Math.fma(n[o + 6 + NX], ix, ax)), bits(Math.fma(n[o + 6 + NY], iy, ay))),
                Math.max(bits(Math.fma(n[o + 6 + NZ], iz, az)), 0));
        final int rightFar =
            Math.min(
                Math.min(
                    bits(Math.fma(n[o + 6 + FX], ix, bx)), bits(Math.fma(n[o + 6 + FY], iy, by))),
                Math.min(bits(Math.fma(n[o + 6 + FZ], iz, bz)), end));
        final boolean left = leftNear <= leftFar + Tree.SLACK;
        final boolean right = rightNear <= rightFar + Tree.SLACK;
        final int l = bits(n[o + BvhBuilder.LEFT]);
        final int g = bits(n[o + BvhBuilder.RIGHT]);
        if (left && right) {
          final boolean leftFirst = leftNear <= rightNear;
          stack[top++] = leftFirst ? g : l;
          ref = leftFirst ? l : g;
          continue;
        }
        if (left || right) {
          ref = left ? l : g;
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
}
