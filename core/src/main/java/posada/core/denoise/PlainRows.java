package posada.core.denoise;

/** Without the vector unit. */
final class PlainRows extends Rows {
  @Override
  void apart(
      float[] out, int n, Places at, float[][] p, int i, float[][] q, int k, float tolerance) {
    for (int t = 0; t < at.count; t++) {
      int from = k + at.right[t];
      for (int j = 0; j < n; j++) {
        float x = p[0][i + j] - q[0][from + j];
        float y = p[1][i + j] - q[1][from + j];
        float z = p[2][i + j] - q[2][from + j];
        float a = p[3][i + j];
        float b = Math.min(q[3][from + j], a * MORE);
        out[t * at.stride + j] =
            (x * x + y * y + z * z - (a + Math.min(a, b))) / ((a + b) * tolerance + ROUNDING);
      }
    }
  }

  @Override
  void surface(float[] out, int n, Places at, Features p, int i, Features q, int k, float dy) {
    for (int t = 0; t < at.count; t++) {
      int m = k + at.right[t];
      for (int j = 0; j < n; j++) {
        float near = p.nearness()[0][i + j] + p.nearness()[3][i + j] * dy;
        float z = near + p.nearness()[2][i + j] * at.right[t] - q.nearness()[0][m + j];
        float color = apart(p.color(), i + j, q.color(), m + j);
        float normal = apart(p.normal(), i + j, q.normal(), m + j);
        float most = Math.max(Math.max(color, normal), z * z * p.nearness()[1][i + j]);
        out[t * at.stride + j] = most;
      }
    }
  }

  private static float apart(float[][] p, int i, float[][] q, int k) {
    float x = p[0][i] - q[0][k];
    float y = p[1][i] - q[1][k];
    float z = p[2][i] - q[2][k];
    return (x * x + y * y + z * z) * p[3][i];
  }

  @Override
  void along(float[] out, int n, float[] d, int taps) {
    for (int j = 0; j < n; j++) {
      float sum = d[j];
      for (int r = 1; r < taps; r++) {
        sum += d[j + r];
      }
      out[j] = sum;
    }
  }

  @Override
  void down(float[] out, int n, float[][] d, float share) {
    for (int j = 0; j < n; j++) {
      float sum = d[0][j];
      for (int r = 1; r < d.length; r++) {
        sum += d[r][j];
      }
      out[j] = sum * share;
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
    for (int t = 0; t < at.count; t++) {
      int from = i + at.right[t];
      for (int j = 0; j < n; j++) {
        int k = t * at.stride + j;
        float w = bump(Math.max(Math.max(d[k], 0), e[k] * strictness)) * at.most[t];
        sums[VARIANCE][to + j] += w * w * light.variance()[from + j];
        sums[WEIGHTS][to + j] += w;
        sums[MOST][to + j] = Math.max(sums[MOST][to + j], w);
        for (int c = 0; c < light.planes().length; c++) {
          sums[SUMS + c][to + j] += w * light.planes()[c][from + j];
        }
      }
    }
  }
}
