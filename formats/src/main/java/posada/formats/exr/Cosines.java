package posada.formats.exr;

import java.util.Arrays;

/**
 * Squares of eight by eight values as weights of cosines (N. Ahmed, T. Natarajan and K. R. Rao,
 * "Discrete Cosine Transform", 1974), and the curve by which they are packed. Scratch of one
 * thread.
 */
final class Cosines {
  private static final int SIDE = 8;

  /** Ends a square's weights. */
  private static final int END = 0xff00;

  /** A weight with this upper byte stands for as many zeros as its lower byte says. */
  private static final int ZEROS = 0xff;

  /** Where the weights go that are read one after the other: along diagonals, to and fro. */
  private static final int[] PLACES = places();

  /** The value at x of the orthonormal cosine u, at 8 u + x. */
  private static final float[] WAVES = waves();

  /** Light of each packed value: its power 2.2 up to 1, exponential from there; 0 of no number. */
  private static final short[] LIGHT = lights();

  private final float[] weights = new float[SIDE * SIDE];
  private final float[] half = new float[SIDE * SIDE];

  private static int[] places() {
    int[] p = new int[SIDE * SIDE];
    int n = 0;
    for (int d = 0; d < 2 * SIDE - 1; d++) {
      for (int k = Math.max(0, d - SIDE + 1); k <= Math.min(d, SIDE - 1); k++) {
        int row = d % 2 == 0 ? d - k : k;
        p[n++] = SIDE * row + d - row;
      }
    }
    return p;
  }

  private static float[] waves() {
    float[] w = new float[SIDE * SIDE];
    for (int u = 0; u < SIDE; u++) {
      for (int x = 0; x < SIDE; x++) {
        double c = Math.cos((2 * x + 1) * u * Math.PI / (2 * SIDE)) / 2;
        w[SIDE * u + x] = (float) (u == 0 ? c * Math.sqrt(0.5) : c);
      }
    }
    return w;
  }

  /**
   * Turns the next square's weights into values.
   *
   * @param mean the first weight, a half's bits
   * @param list the others of this square and the following, from {@code at} up to {@code end}
   * @param values gets 64, row by row
   * @return where the next square's begin
   */
  int read(char mean, char[] list, int at, int end, float[] values) {
    Arrays.fill(weights, 0);
    weights[0] = Half.toFloat((short) mean);
    int rows = 1;
    for (int k = 1; k < SIDE * SIDE; ) {
      DamagedBlock.unless(at < end);
      int v = list[at++];
      if (v == END) {
        break;
      }
      if (v >> 8 == ZEROS) {
        k += v & 255;
        continue;
      }
      int place = PLACES[k++];
      weights[place] = Half.toFloat((short) v);
      rows = Math.max(rows, place / SIDE + 1);
    }
    for (int v = 0; v < rows; v++) {
      for (int x = 0; x < SIDE; x++) {
        float sum = 0;
        for (int u = 0; u < SIDE; u++) {
          sum += weights[SIDE * v + u] * WAVES[SIDE * u + x];
        }
        half[SIDE * v + x] = sum;
      }
    }
    for (int y = 0; y < SIDE; y++) {
      for (int x = 0; x < SIDE; x++) {
        float sum = 0;
        for (int v = 0; v < rows; v++) {
          sum += half[SIDE * v + x] * WAVES[SIDE * v + y];
        }
        values[SIDE * y + x] = sum;
      }
    }
    return at;
  }

  /** Returns the light of a value as it is packed, both as the bits of halves. */
  static short light(short packed) {
    return LIGHT[packed & 0xffff];
  }

  private static short[] lights() {
    short[] all = new short[1 << 16];
    for (int i = 0; i < all.length; i++) {
      float v = Half.toFloat((short) i);
      float a = Math.abs(v);
      if (a <= Float.MAX_VALUE) {
        double light = a <= 1 ? StrictMath.pow(a, 2.2) : StrictMath.exp(2.2 * (a - 1));
        all[i] = Half.fromFloat((float) Math.copySign(light, v));
      }
    }
    return all;
  }
}
