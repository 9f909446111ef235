package posada.core.denoise;

import static jdk.incubator.vector.FloatVector.fromArray;

import jdk.incubator.vector.FloatVector;
import jdk.incubator.vector.VectorSpecies;

/** With the vector unit, in the same order as {@link PlainRows}. */
final class WideRows extends Rows {
  private static final VectorSpecies<Float> S = FloatVector.SPECIES_PREFERRED;
  private static final int L = S.length();

  @Override
  void apart(float[] out, int n, float[][] p, int i, float[][] q, int k, float tolerance) {
    final float[] p0 = p[0], p1 = p[1], p2 = p[2], p3 = p[3];
    final float[] q0 = q[0], q1 = q[1], q2 = q[2], q3 = q[3];
    for (int j = 0; j < n; j += L) {
      FloatVector x = fromArray(S, p0, i + j).sub(fromArray(S, q0, k + j));
      FloatVector y = fromArray(S, p1, i + j).sub(fromArray(S, q1, k + j));
      FloatVector z = fromArray(S, p2, i + j).sub(fromArray(S, q2, k + j));
      FloatVector a = fromArray(S, p3, i + j);
      FloatVector b = fromArray(S, q3, k + j).min(a.mul(MORE));
      x.mul(x)
          .add(y.mul(y))
          .add(z.mul(z))
          .sub(a.add(a.min(b)))
          .div(a.add(b).mul(tolerance).add(ROUNDING))
          .intoArray(out, j);
    }
  }

  @Override
  void feature(float[] out, int at, int n, float[][] p, int i, float[][] q, int k) {
    final float[] p0 = p[0], p1 = p[1], p2 = p[2], p3 = p[3];
    final float[] q0 = q[0], q1 = q[1], q2 = q[2];
    for (int j = 0; j < n; j += L) {
      FloatVector x = fromArray(S, p0, i + j).sub(fromArray(S, q0, k + j));
      FloatVector y = fromArray(S, p1, i + j).sub(fromArray(S, q1, k + j));
      FloatVector z = fromArray(S, p2, i + j).sub(fromArray(S, q2, k + j));
      FloatVector f = fromArray(S, p3, i + j);
      fromArray(S, out, at + j)
          .max(x.mul(x).add(y.mul(y)).add(z.mul(z)).mul(f))
          .intoArray(out, at + j);
    }
  }

  @Override
  void sloped(
      float[] out, int at, int n, float[][] p, int i, float[][] q, int k, float dx, float dy) {
    final float[] p0 = p[0], p1 = p[1], p2 = p[2], p3 = p[3];
    final float[] q0 = q[0];
    for (int j = 0; j < n; j += L) {
      FloatVector d =
          fromArray(S, p0, i + j)
              .add(fromArray(S, p2, i + j).mul(dx))
              .add(fromArray(S, p3, i + j).mul(dy))
              .sub(fromArray(S, q0, k + j));
      FloatVector f = fromArray(S, p1, i + j);
      fromArray(S, out, at + j).max(d.mul(d).mul(f)).intoArray(out, at + j);
    }
  }

  @Override
  void along(float[] out, int at, int n, float[] d, int taps) {
    for (int j = 0; j < n; j += L) {
      FloatVector sum = fromArray(S, d, j);
      for (int t = 1; t < taps; t++) {
        sum = sum.add(fromArray(S, d, j + t));
      }
      sum.intoArray(out, at + j);
    }
  }

  @Override
  void down(float[] out, int n, float[] d, int from, int stride, int taps, float share) {
    for (int j = 0; j < n; j += L) {
      FloatVector sum = fromArray(S, d, from + j);
      for (int t = 1; t < taps; t++) {
        sum = sum.add(fromArray(S, d, from + t * stride + j));
      }
      sum.mul(share).intoArray(out, j);
    }
  }

  @Override
  void weigh(float[] out, int n, float[] d, float[] e, int at, float strictness, float most) {
    for (int j = 0; j < n; j += L) {
      FloatVector far = fromArray(S, d, j).max(fromArray(S, e, at + j).mul(strictness)).max(0);
      FloatVector k = FloatVector.broadcast(S, 1).sub(far.mul(0.25f)).max(0);
      FloatVector kk = k.mul(k);
      kk.mul(kk).mul(most).intoArray(out, j);
    }
  }

  @Override
  void gather(
      float[][] sums, int at, int n, float[] weight, float[] variance, float[][] planes, int i) {
    final float[] v = sums[VARIANCE], t = sums[WEIGHTS], m = sums[MOST];
    for (int j = 0; j < n; j += L) {
      FloatVector w = fromArray(S, weight, j);
      fromArray(S, v, at + j).add(w.mul(w).mul(fromArray(S, variance, i + j))).intoArray(v, at + j);
      fromArray(S, t, at + j).add(w).intoArray(t, at + j);
      fromArray(S, m, at + j).max(w).intoArray(m, at + j);
    }
    int c = 0;
    for (; c + 3 <= planes.length; c += 3) {
      three(sums, at, n, weight, planes, c, i);
    }
    for (; c < planes.length; c++) {
      final float[] s = sums[SUMS + c], p = planes[c];
      for (int j = 0; j < n; j += L) {
        FloatVector w = fromArray(S, weight, j);
        fromArray(S, s, at + j).add(w.mul(fromArray(S, p, i + j))).intoArray(s, at + j);
      }
    }
  }

  private static void three(
      float[][] sums, int at, int n, float[] weight, float[][] planes, int c, int i) {
    final float[] p0 = planes[c], p1 = planes[c + 1], p2 = planes[c + 2];
    final float[] s0 = sums[SUMS + c], s1 = sums[SUMS + c + 1], s2 = sums[SUMS + c + 2];
    for (int j = 0; j < n; j += L) {
      FloatVector w = fromArray(S, weight, j);
      fromArray(S, s0, at + j).add(w.mul(fromArray(S, p0, i + j))).intoArray(s0, at + j);
      fromArray(S, s1, at + j).add(w.mul(fromArray(S, p1, i + j))).intoArray(s1, at + j);
      fromArray(S, s2, at + j).add(w.mul(fromArray(S, p2, i + j))).intoArray(s2, at + j);
    }
  }
}
