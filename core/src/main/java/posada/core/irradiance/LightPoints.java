package posada.core.irradiance;

import java.util.Arrays;

/**
 * Points on surfaces with the light that reaches them. Each takes {@link #STRIDE} floats:
 *
 * <table>
 * <caption>Layout</caption>
 * <tr><td>0 .. 2</td><td>place, metres, world space</td></tr>
 * <tr><td>3 .. 5</td><td>unit normal of the side that is lit</td></tr>
 * <tr><td>6 .. 14</td><td>flux vector of red, then green, then blue: the integral of radiance times
 * direction over the hemisphere; its product with a unit normal is the irradiance there</td></tr>
 * <tr><td>15</td><td>radius: how far the next point may be, metres</td></tr>
 * <tr><td>16</td><td>standard error of the irradiance over it</td></tr>
 * <tr><td>17 .. 32</td><td>clearance: how far one can go along the surface in each of sixteen
 * directions before something is in the way, metres; see {@link LightLookup#direction}</td></tr>
 * </table>
 */
public final class LightPoints {
  public static final int STRIDE = 33;
  public static final int SECTORS = 16;
  public static final int FLUX = 6;
  public static final int RADIUS = 15;
  public static final int ERROR = 16;
  public static final int CLEARANCE = 17;

  private float[] data;
  private int count;

  public LightPoints() {
    this(new float[0]);
  }

  /**
   * @param data of all points
   */
  public LightPoints(float[] data) {
    if (data.length % STRIDE != 0) {
      throw new IllegalArgumentException(
          "light points need " + STRIDE + " numbers each (got " + data.length + ")");
    }
    this.data = data;
    count = data.length / STRIDE;
  }

  public int count() {
    return count;
  }

  /** Adds a point. */
  public void add(float[] point) {
    if ((count + 1) * STRIDE > data.length) {
      data = Arrays.copyOf(data, Math.max(64 * STRIDE, data.length * 2));
    }
    System.arraycopy(point, 0, data, count++ * STRIDE, STRIDE);
  }

  /** Returns the numbers of all points. */
  public float[] numbers() {
    return Arrays.copyOf(data, count * STRIDE);
  }

  float get(int point, int at) {
    return data[point * STRIDE + at];
  }

  float radius(int point) {
    return get(point, RADIUS);
  }

  /** Returns the mean standard error of the irradiance, over it. */
  public double meanError() {
    double sum = 0;
    for (int i = 0; i < count; i++) {
      sum += get(i, ERROR);
    }
    return count == 0 ? 0 : sum / count;
  }
}
