package posada.core.geometry;

/** What stands in the leaves of a {@link Tree}. */
interface Leaves {
  /**
   * Tests the primitives of one leaf and shortens the ray to the nearest hit.
   *
   * <p>A hit counts as no nearer than the box of its leaf or its own, always the same one of them,
   * and of two equally near ones the lower number wins; so the hit found does not depend on the
   * order in which leaves are visited.
   *
   * @param first slot of the first primitive
   * @param near raw bits of the distance at which the leaf's box begins, 0 or more
   * @return true if {@code any} and there was a hit
   */
  boolean test(Ray r, int first, int count, int near, boolean any);

  /** Returns the bytes that the primitives take. */
  long bytes();

  /** Tells how large leaves are. */
  interface Boxes {
    /** Stores the bounds of a leaf's primitives, six values, as they are now. */
    void bounds(int first, int count, float[] box);
  }

  /** Leaves of triangles. */
  interface OfTriangles extends Leaves, Boxes {
    /**
     * Returns the same triangles in memory of their own.
     *
     * @param order of the tree that they are for, which is a copy, too
     */
    OfTriangles copy(int[] order);
  }
}
