package posada.core.geometry;

/**
 * A binary bounding volume hierarchy with a caller's own primitives in its leaves. Immutable after
 * building and safe to traverse from many threads, each with a {@link Ray} of its own.
 */
public abstract class Bvh {
  private final float[] nodes;

  /** Slot in leaf order to the primitive's number as it was given. */
  protected final int[] order;

  /**
   * @param boxes six values for each primitive: min x, y, z, max x, y, z; finite
   * @param maxLeaf most primitives in a leaf, 1 .. 8
   */
  protected Bvh(float[] boxes, int maxLeaf) {
    BvhBuilder b = new BvhBuilder(boxes, maxLeaf);
    nodes = b.nodes;
    order = b.order;
  }

  /** Returns the bytes that this hierarchy's own arrays take. */
  public long bytes() {
    return 4L * (nodes.length + order.length);
  }

  /**
   * Tests the primitives in slots {@code first} to {@code end - 1} and shortens the ray to the
   * nearest hit.
   *
   * @param any true if the first hit found ends the search
   * @return true if {@code any} and there was a hit
   */
  protected abstract boolean leaf(Ray r, int first, int end, boolean any, int stackBase);

  /**
   * Visits the leaves along the ray, near ones first.
   *
   * <p>Distances are compared as the raw bits of floats, in whole numbers, which the compiler turns
   * into moves without branches. The order is right for numbers of 0 or more; a negative far side
   * stays negative and is a miss, a negative near side is clamped to 0.
   *
   * @param stackBase first free place of the ray's stack
   * @return true if {@code any} and there was a hit
   */
  protected final boolean traverse(Ray r, boolean any, int stackBase) {
    final float[] n = nodes;
    final int[] stack = r.stack;
    final int[] distance = r.distance;
    final float ix = r.ix, iy = r.iy, iz = r.iz;
    final float ox = r.ox * ix, oy = r.oy * iy, oz = r.oz * iz;
    int end = bits(r.tMax);
    int top = stackBase;
    int ref = 0;
    while (true) {
      if (ref >= 0) {
        final int o = ref * BvhBuilder.NODE;
        int a = bits(n[o] * ix - ox), b = bits(n[o + 3] * ix - ox);
        int near = Math.min(a, b), far = Math.max(a, b);
        a = bits(n[o + 1] * iy - oy);
        b = bits(n[o + 4] * iy - oy);
        near = Math.max(near, Math.min(a, b));
        far = Math.min(far, Math.max(a, b));
        a = bits(n[o + 2] * iz - oz);
        b = bits(n[o + 5] * iz - oz);
        final int leftNear = Math.max(Math.max(near, Math.min(a, b)), 0);
        final int leftFar = Math.min(Math.min(far, Math.max(a, b)), end);
        a = bits(n[o + 6] * ix - ox);
        b = bits(n[o + 9] * ix - ox);
        near = Math.min(a, b);
        far = Math.max(a, b);
        a = bits(n[o + 7] * iy - oy);
        b = bits(n[o + 10] * iy - oy);
        near = Math.max(near, Math.min(a, b));
        far = Math.min(far, Math.max(a, b));
        a = bits(n[o + 8] * iz - oz);
        b = bits(n[o + 11] * iz - oz);
        final int rightNear = Math.max(Math.max(near, Math.min(a, b)), 0);
        final int rightFar = Math.min(Math.min(far, Math.max(a, b)), end);
        final boolean left = leftNear <= leftFar + SLACK;
        final boolean right = rightNear <= rightFar + SLACK;
        final int l = bits(n[o + BvhBuilder.LEFT]);
        final int g = bits(n[o + BvhBuilder.RIGHT]);
        if (left) {
          ref = l;
          if (right) {
            final boolean leftFirst = leftNear <= rightNear;
            distance[top] = leftFirst ? rightNear : leftNear;
            stack[top++] = leftFirst ? g : l;
            ref = leftFirst ? l : g;
          }
          continue;
        }
        if (right) {
          ref = g;
          continue;
        }
      } else {
        final int packed = ~ref;
        final int first = packed >>> 3;
        final int last = Math.min(first + (packed & 7) + 1, order.length);
        if (leaf(r, first, last, any, top)) {
          return true;
        }
        end = bits(r.tMax);
      }
      do {
        if (top == stackBase) {
          return false;
        }
        ref = stack[--top];
      } while (distance[top] > end);
    }
  }

  /** Widens a box's far side against rounding of the slab test, in units of the last place. */
  private static final int SLACK = 4;

  private static int bits(float f) {
    return Float.floatToRawIntBits(f);
  }
}
