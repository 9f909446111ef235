package posada.core.geometry;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.lang.invoke.MethodHandles;

/**
 * The walk through a binary tree for rays of one octant of directions.
 *
 * <p>Which side of a box a ray meets first depends on the octant alone. With that known when the
 * code is compiled all reads have constant offsets, which is a fifth faster; so the class {@link
 * Walk} is defined once for each octant, from the same bytes, with other constants.
 */
abstract class BinaryWalk {
  static final BinaryWalk OCTANT_0 = of(0);
  static final BinaryWalk OCTANT_1 = of(1);
  static final BinaryWalk OCTANT_2 = of(2);
  static final BinaryWalk OCTANT_3 = of(3);
  static final BinaryWalk OCTANT_4 = of(4);
  static final BinaryWalk OCTANT_5 = of(5);
  static final BinaryWalk OCTANT_6 = of(6);
  static final BinaryWalk OCTANT_7 = of(7);

  private static BinaryWalk of(int octant) {
    try (InputStream in = BinaryWalk.class.getResourceAsStream("BinaryWalk$Walk.class")) {
      return (BinaryWalk)
          MethodHandles.lookup()
              .defineHiddenClassWithClassData(in.readAllBytes(), octant, true)
              .lookupClass()
              .getDeclaredConstructor()
              .newInstance();
    } catch (IOException e) {
      throw new UncheckedIOException(e);
    } catch (ReflectiveOperationException e) {
      throw new IllegalStateException("the walk for octant " + octant + " cannot be made", e);
    }
  }

  abstract boolean walk(float[] nodes, Ray r, Leaves leaves, boolean any, int stackBase);

  /** The template; see {@link Tree} for the arithmetic. */
  static final class Walk extends BinaryWalk {
    private static final int OCTANT = octant();

    /** Where the near and the far side of a box stand in its six values. */
    private static final int NX = (OCTANT & 1) == 0 ? 0 : 3;

    private static final int NY = (OCTANT & 2) == 0 ? 1 : 4;
    private static final int NZ = (OCTANT & 4) == 0 ? 2 : 5;
    private static final int FX = 3 - NX;
    private static final int FY = 5 - NY;
    private static final int FZ = 7 - NZ;

    Walk() {}

    private static int octant() {
      try {
        return MethodHandles.classData(MethodHandles.lookup(), "_", Integer.class);
      } catch (IllegalAccessException e) {
        throw new IllegalStateException(e);
      }
    }

    private static int bits(float f) {
      return Float.floatToRawIntBits(f);
    }

    @Override
    boolean walk(float[] n, Ray r, Leaves leaves, boolean any, int stackBase) {
      final long[] stack = r.stack;
      final float ix = r.ix, iy = r.iy, iz = r.iz;
      final float ax = r.nearX, ay = r.nearY, az = r.nearZ;
      final float bx = r.farX, by = r.farY, bz = r.farZ;
      int end = bits(r.tMax);
      int top = stackBase;
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
}
