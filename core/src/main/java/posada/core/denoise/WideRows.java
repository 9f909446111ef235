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

  /** The smaller ones; {@code min} takes four times as long, for zeros' signs. */
  private static FloatVector less(FloatVector a, FloatVector b) {
    return a.blend(b, b.lt(a));
  }

  private static FloatVector more(FloatVector a, FloatVector b) {
    return a.blend(b, a.lt(b));
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

  @Override
  void surface(float[] out, int n, Places at, Features p, int i, Features q, int k, float dy) {
    final float[] a0 = p.color()[0], a1 = p.color()[1], a2 = p.color()[2], a3 = p.color()[3];
    final float[] b0 = p.normal()[0], b1 = p.normal()[1], b2 = p.normal()[2], b3 = p.normal()[3];
    final float[] c0 = p.nearness()[0],
        c1 = p.nearness()[1],
        c2 = p.nearness()[2],
        c3 = p.nearness()[3];
    final float[] q0 = q.color()[0], q1 = q.color()[1], q2 = q.color()[2];
    final float[] q3 = q.normal()[0], q4 = q.normal()[1], q5 = q.normal()[2], q6 = q.nearness()[0];
    final int[] right = at.right;
    final int count = at.count, stride = at.stride;
    for (int j = 0; j < n; j += L) {
      FloatVector red = fromArray(S, a0, i + j);
      FloatVector green = fromArray(S, a1, i + j);
      FloatVector blue = fromArray(S, a2, i + j);
      FloatVector colors = fromArray(S, a3, i + j);
      FloatVector nx = fromArray(S, b0, i + j);
      FloatVector ny = fromArray(S, b1, i + j);
      FloatVector nz = fromArray(S, b2, i + j);
      FloatVector normals = fromArray(S, b3, i + j);
      FloatVector near = fromArray(S, c0, i + j).add(fromArray(S, c3, i + j).mul(dy));
      FloatVector distances = fromArray(S, c1, i + j);
      FloatVector slope = fromArray(S, c2, i + j);
      for (int t = 0; t < count; t++) {
        int m = k + j + right[t];
        FloatVector x = red.sub(fromArray(S, q0, m));
        FloatVector y = green.sub(fromArray(S, q1, m));
        FloatVector z = blue.sub(fromArray(S, q2, m));
        FloatVector color = x.mul(x).add(y.mul(y)).add(z.mul(z)).mul(colors);
        x = nx.sub(fromArray(S, q3, m));
        y = ny.sub(fromArray(S, q4, m));
        z = nz.sub(fromArray(S, q5, m));
        FloatVector normal = x.mul(x).add(y.mul(y)).add(z.mul(z)).mul(normals);
        z = near.add(slope.mul(right[t])).sub(fromArray(S, q6, m));
        more(more(color, normal), z.mul(z).mul(distances)).intoArray(out, t * stride + j);
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
  void weigh(float[] out, int n, float[] d, float[] e, float strictness, float[] most) {
    FloatVector zero = FloatVector.zero(S), one = FloatVector.broadcast(S, 1);
    for (int j = 0; j < n; j += L) {
      FloatVector far = more(more(fromArray(S, d, j), zero), fromArray(S, e, j).mul(strictness));
      FloatVector x = more(one.sub(far.mul(0.25f)), zero);
      x = x.mul(x);
      x.mul(x).mul(fromArray(S, most, j)).intoArray(out, j);
    }
  }

  @Override
  void gather(
      float[][] sums,
      int to,
      int n,
      Places at,
      float[] weight,
      float[] variance,
      float[][] planes,
      int i) {
    weights(sums, to, n, at, weight, variance, i);
    int c = 0;
    for (; c + 3 <= planes.length; c += 3) {
      three(sums, to, n, at, weight, planes, c, i);
    }
    for (; c < planes.length; c++) {
      one(sums[SUMS + c], to, n, at, weight, planes[c], i);
    }
  }

  private static void weights(
      float[][] sums, int to, int n, Places at, float[] weight, float[] variance, int i) {
    final float[] v = sums[VARIANCE], a = sums[WEIGHTS], m = sums[MOST];
    final int[] right = at.right;
    final int count = at.count, stride = at.stride;
    for (int j = 0; j < n; j += L) {
      FloatVector squares = fromArray(S, v, to + j);
      FloatVector all = fromArray(S, a, to + j);
      FloatVector most = fromArray(S, m, to + j);
      for (int t = 0; t < count; t++) {
        FloatVector w = fromArray(S, weight, t * stride + j);
        squares = squares.add(w.mul(w).mul(fromArray(S, variance, i + j + right[t])));
        all = all.add(w);
        most = more(most, w);
      }
      squares.intoArray(v, to + j);
      all.intoArray(a, to + j);
      most.intoArray(m, to + j);
    }
  }

  private static void three(
      float[][] sums, int to, int n, Places at, float[] weight, float[][] planes, int c, int i) {
    final float[] p0 = planes[c], p1 = planes[c + 1], p2 = planes[c + 2];
    final float[] s0 = sums[SUMS + c], s1 = sums[SUMS + c + 1], s2 = sums[SUMS + c + 2];
    final int[] right = at.right;
    final int count = at.count, stride = at.stride;
    for (int j = 0; j < n; j += L) {
      FloatVector x = fromArray(S, s0, to + j);
      FloatVector y = fromArray(S, s1, to + j);
      FloatVector z = fromArray(S, s2, to + j);
      for (int t = 0; t < count; t++) {
        FloatVector w = fromArray(S, weight, t * stride + j);
        int from = i + j + right[t];
        x = x.add(w.mul(fromArray(S, p0, from)));
        y = y.add(w.mul(fromArray(S, p1, from)));
        z = z.add(w.mul(fromArray(S, p2, from)));
      }
      x.intoArray(s0, to + j);
      y.intoArray(s1, to + j);
      z.intoArray(s2, to + j);
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
