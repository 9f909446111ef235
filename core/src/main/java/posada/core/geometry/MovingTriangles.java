package posada.core.geometry;

/**
 * Triangles whose corners move in straight lines while the shutter is open. 18 floats each, in slot
 * order: the corners at the opening, then at the closing.
 */
final class MovingTriangles implements Leaves.OfTriangles {
  private static final int STRIDE = 18;
  private final float[] corners;
  private final int[] order;

  MovingTriangles(float[] opening, float[] closing, int[] indices, int[] order) {
    this.order = order;
    corners = new float[order.length * STRIDE];
    for (int slot = 0; slot < order.length; slot++) {
      for (int c = 0; c < 3; c++) {
        int from = indices[order[slot] * 3 + c] * 3;
        System.arraycopy(opening, from, corners, slot * STRIDE + 3 * c, 3);
        System.arraycopy(closing, from, corners, slot * STRIDE + 9 + 3 * c, 3);
      }
    }
  }

  private MovingTriangles(float[] corners, int[] order) {
    this.corners = corners;
    this.order = order;
  }

  @Override
  public MovingTriangles copy(int[] order) {
    return new MovingTriangles(corners.clone(), order);
  }

  @Override
  public long bytes() {
    return 4L * corners.length;
  }

  @Override
  public void bounds(int first, int count, float[] box) {
    BvhBuilder.setEmpty(box, 0);
    for (int i = first * STRIDE; i < (first + count) * STRIDE; i += 3) {
      TriangleBvh.grow(box, 0, corners, i);
    }
  }

  @Override
  public boolean test(Ray r, int first, int count, int near, boolean any) {
    final float[] now = r.moved;
    boolean hit = false;
    for (int slot = first; slot < first + count; slot++) {
      for (int i = 0, o = slot * STRIDE; i < 9; i++, o++) {
        now[i] = corners[o] + (corners[o + 9] - corners[o]) * r.time;
      }
      hit |= TriangleList.test(r, now, 0, near, order[slot]);
      if (any && hit) {
        return true;
      }
    }
    return false;
  }
}
