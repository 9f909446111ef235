package posada.core.denoise;

/** Without the vector unit. */
final class PlainRows extends Rows {
  @Override
  void apart(float[] out, int n, float[][] p, int i, float[][] q, int k, float tolerance) {
    for (int j = 0; j < n; j++) {
      float x = p[0][i + j] - q[0][k + j];
      float y = p[1][i + j] - q[1][k + j];
      float z = p[2][i + j] - q[2][k + j];
      float a = p[3][i + j];
      float b = Math.min(q[3][k + j], a * MORE);
      out[j] = (x * x + y * y + z * z - (a + Math.min(a, b))) / ((a + b) * tolerance + ROUNDING);
    }
  }

  @Override
  void feature(float[] out, int at, int n, float[][] p, int i, float[][] q, int k) {
    for (int j = 0; j < n; j++) {
      float x = p[0][i + j] - q[0][k + j];
      float y = p[1][i + j] - q[1][k + j];
      float z = p[2][i + j] - q[2][k + j];
      out[at + j] = Math.max(out[at + j], (x * x + y * y + z * z) * p[3][i + j]);
    }
  }

  @Override
  void sloped(
      float[] out, int at, int n, float[][] p, int i, float[][] q, int k, float dx, float dy) {
    for (int j = 0; j < n; j++) {
      float d = p[0][i + j] + p[2][i + j] * dx + p[3][i + j] * dy - q[0][k + j];
      out[at + j] = Math.max(out[at + j], d * d * p[1][i + j]);
    }
  }

  @Override
  void along(float[] out, int at, int n, float[] d, int taps) {
    for (int j = 0; j < n; j++) {
      float sum = d[j];
      for (int t = 1; t < taps; t++) {
        sum += d[j + t];
      }
      out[at + j] = sum;
    }
  }

  @Override
  void down(float[] out, int n, float[] d, int from, int stride, int taps, float share) {
    for (int j = 0; j < n; j++) {
      float sum = d[from + j];
      for (int t = 1; t < taps; t++) {
        sum += d[from + t * stride + j];
      }
      out[j] = sum * share;
    }
  }

  @Override
  void weigh(float[] out, int n, float[] d, float[] e, int at, float strictness, float most) {
    for (int j = 0; j < n; j++) {
      float far = Math.max(Math.max(d[j], e[at + j] * strictness), 0);
      out[j] = bump(far) * most;
    }
  }

  @Override
  void gather(
      float[][] sums, int at, int n, float[] weight, float[] variance, float[][] planes, int i) {
    for (int j = 0; j < n; j++) {
      float w = weight[j];
      sums[VARIANCE][at + j] += w * w * variance[i + j];
      sums[WEIGHTS][at + j] += w;
      sums[MOST][at + j] = Math.max(sums[MOST][at + j], w);
      for (int c = 0; c < planes.length; c++) {
        sums[SUMS + c][at + j] += w * planes[c][i + j];
      }
    }
  }
}
