package posada.core.geometry;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.VectorMask;
import jdk.incubator.vector.VectorOperators;
import jdk.incubator.vector.VectorSpecies;
import posada.core.parallel.Workers;

/**
 * Triangles in blocks of four, a block for each leaf, tested all at once by the vector unit with
 * the arithmetic of {@link TriangleList}.
 *
 * <p>36 floats a block: for each corner x of the four, y of the four, z of the four. Places that
 * are not used hold triangles without area.
 */
final class TriangleBlocks implements Leaves.OfTriangles {
  private static final int WIDTH = 4;
  private static final int CORNER = 12;
  private static final int BLOCK = 36;
  private static final VectorSpecies<Float> FLOATS = FloatVector.SPECIES_128;
  private static final FloatVector NONE = FloatVector.broadcast(FLOATS, -1);
  private final float[] corners;
  private final int[] order;

  TriangleBlocks(float[] positions, int[] indices, int[] order, Workers workers) {
    this.order = order;
    corners = new float[order.length / WIDTH * BLOCK];
    workers.ranges(order.length, (from, to) -> fill(positions, indices, from, to));
  }

  private TriangleBlocks(float[] corners, int[] order) {
    this.corners = corners;
    this.order = order;
  }

  @Override
  public TriangleBlocks copy(int[] order) {
    return new TriangleBlocks(corners.clone(), order);
  }

  private void fill(float[] positions, int[] indices, int from, int to) {
    for (int slot = from; slot < to; slot++) {
      int at = slot / WIDTH * BLOCK + slot % WIDTH;
      for (int c = 0; c < 3 && order[slot] >= 0; c++) {
        int vertex = indices[order[slot] * 3 + c] * 3;
        for (int k = 0; k < 3; k++) {
          corners[at + CORNER * c + WIDTH * k] = positions[vertex + k];
        }
      }
    }
  }

  @Override
  public long bytes() {
    return 4L * corners.length;
  }

  @Override
  public void bounds(int first, int count, float[] box) {
    BvhBuilder.setEmpty(box, 0);
    int o = first / WIDTH * BLOCK;
    for (int c = 0; c < 3; c++) {
      for (int k = 0; k < 3; k++) {
        for (int i = 0; i < count; i++) {
          float v = corners[o + CORNER * c + WIDTH * k + i];
          box[k] = v < box[k] ? v : box[k];
          box[3 + k] = v > box[3 + k] ? v : box[3 + k];
        }
      }
    }
  }

  @Override
  public boolean test(Ray r, int first, int count, int near, boolean any) {
    final float[] t = corners;
    final int o = first / WIDTH * BLOCK;
    final int u = o + WIDTH * r.axisU;
    final int v = o + WIDTH * r.axisV;
    final int w = o + WIDTH * r.major;
    final FloatVector su = FloatVector.broadcast(FLOATS, -r.shearU);
    final FloatVector sv = FloatVector.broadcast(FLOATS, -r.shearV);
    final FloatVector pu = FloatVector.broadcast(FLOATS, r.originU);
    final FloatVector pv = FloatVector.broadcast(FLOATS, r.originV);
    final FloatVector pw = FloatVector.broadcast(FLOATS, r.originW);
    final FloatVector aw = load(t, w).sub(pw);
    final FloatVector bw = load(t, w + CORNER).sub(pw);
    final FloatVector cw = load(t, w + 2 * CORNER).sub(pw);
    final FloatVector au = aw.fma(su, load(t, u).sub(pu));
    final FloatVector bu = bw.fma(su, load(t, u + CORNER).sub(pu));
    final FloatVector cu = cw.fma(su, load(t, u + 2 * CORNER).sub(pu));
    final FloatVector av = aw.fma(sv, load(t, v).sub(pv));
    final FloatVector bv = bw.fma(sv, load(t, v + CORNER).sub(pv));
    final FloatVector cv = cw.fma(sv, load(t, v + 2 * CORNER).sub(pv));
    final FloatVector a = cu.mul(bv).sub(cv.mul(bu));
    final FloatVector b = au.mul(cv).sub(av.mul(cu));
    final FloatVector c = bu.mul(av).sub(bv.mul(au));
    final VectorMask<Float> outside =
        a.lt(0)
            .or(b.lt(0))
            .or(c.lt(0))
            .and(
                a.compare(VectorOperators.GT, 0)
                    .or(b.compare(VectorOperators.GT, 0))
                    .or(c.compare(VectorOperators.GT, 0)));
    if (outside.allTrue()) {
      return false;
    }
    final FloatVector det = a.add(b).add(c);
    final FloatVector d =
        a.fma(aw, b.fma(bw, c.mul(cw))).mul(FloatVector.broadcast(FLOATS, r.shearW)).div(det);
    final VectorMask<Float> met =
        d.compare(VectorOperators.GT, 0).and(d.compare(VectorOperators.LE, r.tMax)).andNot(outside);
    if (!met.anyTrue()) {
      return false;
    }
    final float[] quad = r.quad;
    b.div(det).intoArray(quad, WIDTH);
    c.div(det).intoArray(quad, 2 * WIDTH);
    boolean hit = false;
    if (WideWalk.MASK_BITS) {
      d.intoArray(quad, 0);
      for (long lanes = met.toLong(); lanes != 0; lanes &= lanes - 1) {
        hit |= test(r, o, first, Long.numberOfTrailingZeros(lanes));
      }
    } else {
      NONE.blend(d, met).intoArray(quad, 0);
      for (int i = 0; i < count; i++) {
        hit |= test(r, o, first, i);
      }
    }
    return any && hit;
  }

  private boolean test(Ray r, int block, int first, int i) {
    final float[] quad = r.quad;
    final int distance = Tree.bits(quad[i]);
    return r.reaches(distance)
        && r.accept(
            distance,
            r.nearOf(corners, block + i, CORNER, WIDTH),
            order[first + i],
            quad[WIDTH + i],
            quad[2 * WIDTH + i]);
  }

  private static FloatVector load(float[] t, int at) {
    return FloatVector.fromArray(FLOATS, t, at);
  }
}
