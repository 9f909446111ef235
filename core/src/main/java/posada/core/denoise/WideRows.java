package posada.core.denoise;

import static jdk.incubator.vector.FloatVector.fromArray;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.VectorSpecies;

/**
 * With the vector unit, in the same order as {@link PlainRows} for each pixel: places are gone
 * through for a vector of pixels at once, so that what belongs to the pixels stays in registers.
 */
final class WideRows extends Rows {
  private static final VectorSpecies<Float> S = FloatVector.SPECIES_PREFERRED;
  private static final int L = S.length();

  /** The smaller of numbers that are 0 or more, whose bits are in the same order as they are. */
  private static FloatVector less(FloatVector a, FloatVector b) {
    return a.reinterpretAsInts().min(b.reinterpretAsInts()).reinterpretAsFloats();
  }

  /** The larger of numbers of which one is 0 or more. */
  private static FloatVector more(FloatVector a, FloatVector b) {
    return a.reinterpretAsInts().max(b.reinterpretAsInts()).reinterpretAsFloats();
  }

  @Override
  void apart(
      float[] out, int n, Places at, float[][] p, int i, float[][] q, int k, float tolerance) {
    final float[] p0 = p[0], p1 = p[1], p2 = p[2], p3 = p[3];
    final float[] q0 = q[0], q1 = q[1], q2 = q[2], q3 = q[3];
    final int[] right = at.right;
    final int count = at.count, stride = at.stride;
    for (int j = 0; j < n; j += L) {
      FloatVector r = fromArray(S, p0, i + j);
      FloatVector g = fromArray(S, p1, i + j);
      FloatVector u = fromArray(S, p2, i + j);
      FloatVector a = fromArray(S, p3, i + j);
      FloatVector most = a.mul(MORE);
      for (int t = 0; t < count; t++) {
        int m = k + j + right[t];
        FloatVector x = r.sub(fromArray(S, q0, m));
        FloatVector y = g.sub(fromArray(S, q1, m));
        FloatVector z = u.sub(fromArray(S, q2, m));
        FloatVector b = less(fromArray(S, q3, m), most);
        x.mul(x)
            .add(y.mul(y))
            .add(z.mul(z))
            .sub(a.add(less(a, b)))
            .div(a.add(b).mul(tolerance).add(ROUNDING))
            .intoArray(out, t * stride + j);
      }
    }
  }

  /**
   * Stores distances first, then where colours or normals are further apart. In one go, or with two
   * calls, this is more than the compiler inlines: five times slower.
   */
  @Override
  void surface(float[] out, int n, Places at, Features p, int i, Features q, int k, float dy) {
    depth(out, n, at, p.nearness(), i, q.nearness()[0], k, dy);
    for (int f = 0; f < 2; f++) {
      further(out, n, at, f == 0 ? p.color() : p.normal(), i, f == 0 ? q.color() : q.normal(), k);
    }
  }

  private static void depth(
      float[] out, int n, Places at, float[][] p, int i, float[] q, int k, float dy) {
    final float[] p0 = p[0], p1 = p[1], p2 = p[2], p3 = p[3];
    final int[] right = at.right;
    final int count = at.count, stride = at.stride;
    for (int j = 0; j < n; j += L) {
      FloatVector near = fromArray(S, p0, i + j).add(fromArray(S, p3, i + j).mul(dy));
      FloatVector alike = fromArray(S, p1, i + j);
      FloatVector slope = fromArray(S, p2, i + j);
      for (int t = 0; t < count; t++) {
        FloatVector z = near.add(slope.mul(right[t])).sub(fromArray(S, q, k + j + right[t]));
        z.mul(z).mul(alike).intoArray(out, t * stride + j);
      }
    }
  }

  /** Stores how far apart three planes are where that is more than what is stored. */
  private static void further(
      float[] out, int n, Places at, float[][] p, int i, float[][] q, int k) {
    final float[] p0 = p[0], p1 = p[1], p2 = p[2], p3 = p[3];
    final float[] q0 = q[0], q1 = q[1], q2 = q[2];
    final int[] right = at.right;
    final int count = at.count, stride = at.stride;
    for (int j = 0; j < n; j += L) {
      FloatVector r = fromArray(S, p0, i + j);
      FloatVector g = fromArray(S, p1, i + j);
      FloatVector b = fromArray(S, p2, i + j);
      FloatVector alike = fromArray(S, p3, i + j);
      for (int t = 0; t < count; t++) {
        int m = k + j + right[t], to = t * stride + j;
        FloatVector x = r.sub(fromArray(S, q0, m));
        FloatVector y = g.sub(fromArray(S, q1, m));
        FloatVector z = b.sub(fromArray(S, q2, m));
        FloatVector all = x.mul(x).add(y.mul(y)).add(z.mul(z)).mul(alike);
        more(all, fromArray(S, out, to)).intoArray(out, to);
      }
    }
  }

  @Override
  void along(float[] out, int n, float[] d, int taps) {
    if (taps == 3) {
      for (int j = 0; j < n; j += L) {
        fromArray(S, d, j)
            .add(fromArray(S, d, j + 1))
            .add(fromArray(S, d, j + 2))
            .intoArray(out, j);
      }
    } else {
      for (int j = 0; j < n; j += L) {
        FloatVector sum = fromArray(S, d, j);
        for (int r = 1; r < taps; r++) {
          sum = sum.add(fromArray(S, d, j + r));
        }
        sum.intoArray(out, j);
      }
    }
  }

  @Override
  void down(float[] out, int n, float[][] d, float share) {
    if (d.length == 3) {
      final float[] d0 = d[0], d1 = d[1], d2 = d[2];
      for (int j = 0; j < n; j += L) {
        fromArray(S, d0, j)
            .add(fromArray(S, d1, j))
            .add(fromArray(S, d2, j))
            .mul(share)
            .intoArray(out, j);
      }
    } else {
      for (int j = 0; j < n; j += L) {
        FloatVector sum = fromArray(S, d[0], j);
        for (int r = 1; r < d.length; r++) {
          sum = sum.add(fromArray(S, d[r], j));
        }
        sum.mul(share).intoArray(out, j);
      }
    }
  }

  @Override
  void gather(
      float[][] sums,
      int to,
      int n,
      Places at,
      float[] d,
      float[] e,
      float strictness,
      Noisy light,
      int i) {
    final float[] v = sums[VARIANCE], a = sums[WEIGHTS], m = sums[MOST];
    final float[] variance = light.variance(), weight = at.weights;
    final float[][] planes = light.planes();
    // Of fewer than three planes the last one is added up again, which comes to the same.
    final int second = Math.min(1, planes.length - 1), third = Math.min(2, planes.length - 1);
    final float[] s0 = sums[SUMS], s1 = sums[SUMS + second], s2 = sums[SUMS + third];
    final float[] p0 = planes[0], p1 = planes[second], p2 = planes[third];
    final int[] right = at.right;
    final float[] taper = at.most;
    final int count = at.count, stride = at.stride;
    final FloatVector zero = FloatVector.zero(S), one = FloatVector.broadcast(S, 1);
    for (int j = 0; j < n; j += L) {
      FloatVector squares = fromArray(S, v, to + j);
      FloatVector all = fromArray(S, a, to + j);
      FloatVector most = fromArray(S, m, to + j);
      FloatVector x = fromArray(S, s0, to + j);
      FloatVector y = fromArray(S, s1, to + j);
      FloatVector z = fromArray(S, s2, to + j);
      for (int t = 0; t < count; t++) {
        int k = t * stride + j;
        int from = i + j + right[t];
        FloatVector far = more(more(fromArray(S, d, k), zero), fromArray(S, e, k).mul(strictness));
        FloatVector w = more(one.sub(far.mul(0.25f)), zero);
        w = w.mul(w);
        w = w.mul(w).mul(taper[t]);
        w.intoArray(weight, k);
        squares = squares.add(w.mul(w).mul(fromArray(S, variance, from)));
        all = all.add(w);
        most = more(most, w);
        x = x.add(w.mul(fromArray(S, p0, from)));
        y = y.add(w.mul(fromArray(S, p1, from)));
        z = z.add(w.mul(fromArray(S, p2, from)));
      }
      squares.intoArray(v, to + j);
      all.intoArray(a, to + j);
      most.intoArray(m, to + j);
      x.intoArray(s0, to + j);
      y.intoArray(s1, to + j);
      z.intoArray(s2, to + j);
    }
    for (int c = 3; c < planes.length; c++) {
      one(sums[SUMS + c], to, n, at, weight, planes[c], i);
    }
  }

  private static void one(
      float[] sum, int to, int n, Places at, float[] weight, float[] plane, int i) {
    for (int j = 0; j < n; j += L) {
      FloatVector x = fromArray(S, sum, to + j);
      for (int t = 0; t < at.count; t++) {
        FloatVector w = fromArray(S, weight, t * at.stride + j);
        x = x.add(w.mul(fromArray(S, plane, i + j + at.right[t])));
      }
      x.intoArray(sum, to + j);
    }
  }
}
