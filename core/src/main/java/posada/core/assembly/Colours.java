package posada.core.assembly;

import posada.core.light.Luminance;
import posada.core.parallel.Workers;

/**
 * Changes colours: exposure, gain, offset, gamma, levels, saturation, tint. They act on straight
 * colour; where alpha is 0 there is nothing to which an offset could be added.
 */
final class Colours {
  private final float[] gain = new float[3], offset, tint;
  private final float gamma, black, range, saturation, amount;

  Colours(Corrections c, double t) {
    float[] g = c.gain().at(t);
    float stops = (float) StrictMath.pow(2, c.exposure().at(t));
    for (int j = 0; j < 3; j++) {
      gain[j] = g[j] * stops;
    }
    offset = c.offset().at(t);
    gamma = (float) (1 / c.gamma().at(t));
    black = (float) c.levels().black().at(t);
    range = (float) c.levels().white().at(t) - black;
    saturation = (float) c.saturation().at(t);
    tint = c.tint().colour().at(t);
    amount = (float) c.tint().amount().at(t);
  }

  /** Returns true if nothing would change. */
  boolean same() {
    boolean plain = gamma == 1 && black == 0 && range == 1 && saturation == 1 && amount == 0;
    for (int j = 0; j < 3; j++) {
      plain &= gain[j] == 1 && offset[j] == 0;
    }
    return plain;
  }

  /**
   * Changes a picture.
   *
   * @param alpha false if it has none of its own: its colours are straight
   */
  void apply(Picture p, boolean alpha, Workers workers) {
    float[][] c = p.c();
    workers.ranges(
        p.pixels(),
        (from, to) -> {
          float[] x = new float[3];
          for (int i = from; i < to; i++) {
            float a = alpha ? c[3][i] : 1;
            float k = a > 0 ? a : 1;
            for (int j = 0; j < 3; j++) {
              x[j] = c[j][i] / k;
            }
            change(x, a > 0);
            for (int j = 0; j < 3; j++) {
              c[j][i] = x[j] * k;
            }
          }
        });
  }

  private void change(float[] x, boolean there) {
    for (int j = 0; j < 3; j++) {
      float v = x[j] * gain[j] + (there ? offset[j] : 0);
      if (gamma != 1) {
        v = Math.copySign((float) Math.pow(Math.abs(v), gamma), v);
      }
      x[j] = there || black == 0 ? (v - black) / range : v / range;
    }
    if (saturation != 1 || amount != 0) {
      float y = (float) Luminance.of(x[0], x[1], x[2]);
      for (int j = 0; j < 3; j++) {
        x[j] = y + saturation * (x[j] - y);
      }
      if (amount != 0) {
        y = (float) Luminance.of(x[0], x[1], x[2]);
        for (int j = 0; j < 3; j++) {
          x[j] += amount * (y * tint[j] - x[j]);
        }
      }
    }
  }

  /** Darkens the corners: <i>1 - amount r²</i>, where r is 1 in the corners. */
  static void vignette(Picture p, double amount, Workers workers) {
    int w = p.width(), h = p.height();
    double far = (w * (double) w + h * (double) h) / 4;
    workers.each(
        h,
        y -> {
          for (int x = 0; x < w; x++) {
            double dx = x + 0.5 - w / 2.0, dy = y + 0.5 - h / 2.0;
            float k = (float) (1 - amount * (dx * dx + dy * dy) / far);
            for (int j = 0; j < 3; j++) {
              p.c()[j][y * w + x] *= k;
            }
          }
        });
  }
}
