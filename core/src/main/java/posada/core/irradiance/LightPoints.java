package posada.core.irradiance;

import java.util.Arrays;
import posada.core.light.Luminance;

/**
 * Points on surfaces with the light that reaches them. Each takes {@link #STRIDE} floats:
 *
 * <table>
 * <caption>Layout</caption>
 * <tr><td>0 .. 2</td><td>place, metres, world space</td></tr>
 * <tr><td>3 .. 5</td><td>unit normal of the side that is lit</td></tr>
 * <tr><td>6 .. 14</td><td>flux vector of red, then green, then blue: the integral of radiance times
 * direction over the hemisphere; its product with a unit normal is the irradiance there</td></tr>
 * <tr><td>15 .. 23</td><td>likewise of the light that comes straight from lights, which is not in the
 * former</td></tr>
 * <tr><td>24</td><td>radius: how far the next point may be, metres</td></tr>
 * <tr><td>25</td><td>standard error of the irradiance over it</td></tr>
 * <tr><td>26 .. 41</td><td>clearance: how far one can go along the surface in each of sixteen
 * directions before something is in the way, metres; see {@link LightLookup#direction}</td></tr>
 * </table>
 */
public final class LightPoints {
  public static final int STRIDE = 42;
  public static final int SECTORS = 16;
  public static final int FLUX = 6;
  public static final int DIRECT = 15;
  public static final int RADIUS = 24;
  public static final int ERROR = 25;
  public static final int CLEARANCE = 26;

  /**
   * Irradiance of what is about as dark as can be seen at an exposure of 0, that noise is measured
   * against.
   */
  public static final float DARK = 0.15f;

  /** How much larger radii may be for each metre between points. */
  private static final float GROWTH = 0.2f;

  /** Directions along a point's surface in which something is in the way in a crevice. */
  private static final int BLOCKED = 5;

  /** How near that is, over the point's radius. */
  private static final float CREVICE = 0.25f;

  /** How far a point reaches in a crevice, over how far it would. */
  private static final float NARROW = 0.35f;

  private float[] data;
  private int count;

  /** Of each point the part of its light that comes over one surface less; null if unknown. */
  private float[] shallow;

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

  /**
   * Tells what part of a point's light comes over one surface less than the most; it is no part of
   * the numbers.
   *
   * @param share 0 .. 1
   */
  public void setShallow(int point, float share) {
    if (shallow == null) {
      shallow = new float[0];
    }
    if (point >= shallow.length) {
      shallow = Arrays.copyOf(shallow, data.length / STRIDE);
    }
    shallow[point] = share;
  }

  /** Returns true if it is known of all points. */
  boolean tellsShallow() {
    return shallow != null;
  }

  /** Returns the part of a point's light that comes over so many surfaces less than the most. */
  float shorter(int point, int surfaces) {
    float share = 1;
    for (int k = 0; k < surfaces && shallow != null; k++) {
      share *= shallow[point];
    }
    return share;
  }

  /**
   * Gives a point other light.
   *
   * @param numbers of a point that has it
   */
  public void setLight(int point, float[] numbers) {
    System.arraycopy(numbers, FLUX, data, point * STRIDE + FLUX, RADIUS - FLUX);
  }

  /** Takes light from surfaces away from a point, all but a part of it. */
  public void dim(int point, float part) {
    for (int k = 0; k < 9; k++) {
      data[point * STRIDE + FLUX + k] *= part;
    }
  }

  /** Returns the numbers of all points. */
  public float[] numbers() {
    return Arrays.copyOf(data, count * STRIDE);
  }

  float get(int point, int at) {
    return data[point * STRIDE + at];
  }

  /**
   * Adds the light of a point to a fit.
   *
   * @param direct true to have light straight from lights in it
   * @param shorter over how many surfaces less the rest is to have come
   * @param weight that its flux counts with
   * @param least irradiance of points for the fit's normal; likewise most
   */
  void addTo(
      int point,
      boolean direct,
      int shorter,
      LightFit fit,
      float weight,
      float[] least,
      float[] most) {
    final float[] d = data;
    final float share = shorter == 0 ? 1 : shorter(point, shorter);
    for (int c = 0; c < 3; c++) {
      int at = point * STRIDE + FLUX + 3 * c;
      float fx = share * d[at], fy = share * d[at + 1], fz = share * d[at + 2];
      if (direct) {
        fx += d[at + DIRECT - FLUX];
        fy += d[at + DIRECT - FLUX + 1];
        fz += d[at + DIRECT - FLUX + 2];
      }
      float e = Math.max(0, fx * fit.nx + fy * fit.ny + fz * fit.nz);
      least[c] = Math.min(least[c], e);
      most[c] = Math.max(most[c], e);
      fit.flux[3 * c] += weight * fx;
      fit.flux[3 * c + 1] += weight * fy;
      fit.flux[3 * c + 2] += weight * fz;
    }
  }

  /** Returns the luminance of one of a point's two lights on a surface with a unit normal. */
  float along(int point, int light, float nx, float ny, float nz) {
    return along(data, point * STRIDE + light, nx, ny, nz);
  }

  /** Returns the luminance of light on a point's surface. */
  float along(int point, float[] flux) {
    return along(flux, 0, get(point, 3), get(point, 4), get(point, 5));
  }

  /**
   * Returns the luminance of a point's irradiance.
   *
   * @param direct true to have light straight from lights in it
   */
  float irradiance(int point, boolean direct) {
    float nx = get(point, 3), ny = get(point, 4), nz = get(point, 5);
    float own = along(point, FLUX, nx, ny, nz);
    return direct ? own + along(point, DIRECT, nx, ny, nz) : own;
  }

  private static float along(float[] flux, int at, float nx, float ny, float nz) {
    float r = nx * flux[at] + ny * flux[at + 1] + nz * flux[at + 2];
    float g = nx * flux[at + 3] + ny * flux[at + 4] + nz * flux[at + 5];
    float b = nx * flux[at + 6] + ny * flux[at + 7] + nz * flux[at + 8];
    return Math.max(0, Luminance.of(r, g, b));
  }

  public float radius(int point) {
    return get(point, RADIUS);
  }

  /**
   * Adds light from surfaces to a point.
   *
   * @param flux vectors of red, green and blue
   */
  public void brighten(int point, float[] flux) {
    for (int k = 0; k < 9; k++) {
      data[point * STRIDE + FLUX + k] += flux[k];
    }
  }

  /**
   * Makes points reach less far that stand in crevices: it is dark there, but bright right beside
   * them. The points around reach into the crevices; where they do not, paths find the light.
   */
  public void narrow() {
    for (int i = 0; i < count; i++) {
      int at = i * STRIDE + CLEARANCE;
      float[] clear = Arrays.copyOfRange(data, at, at + SECTORS);
      Arrays.sort(clear);
      if (clear[BLOCKED - 1] < CREVICE * radius(i)) {
        shrink(i, NARROW * radius(i));
      }
    }
  }

  /** Returns the standard error of a point's irradiance, over it. */
  public float error(int point) {
    return get(point, ERROR);
  }

  /** Changes what a point's standard error is taken to be. */
  public void setError(int point, float error) {
    data[point * STRIDE + ERROR] = error;
  }

  /** Makes the reach of a point smaller: more points are then wanted around it. */
  public void shrink(int point, float radius) {
    data[point * STRIDE + RADIUS] = Math.min(radius(point), radius);
  }

  /**
   * Returns the largest radius that fits the points around a place: radii may grow by this much for
   * each metre between them, so that no large point covers what small ones tell apart.
   *
   * <p>Source: J. Krivanek, K. Bouatouch, S. Pattanaik and J. Zara, "Making Radiance and Irradiance
   * Caching Practical: Adaptive Caching and Neighbor Clamping", 2006.
   */
  public float fitting(float[] place) {
    float x = place[0], y = place[1], z = place[2], nx = place[3], ny = place[4], nz = place[5];
    float most = Float.POSITIVE_INFINITY;
    for (int at = 0; at < count * STRIDE; at += STRIDE) {
      float r = data[at + RADIUS];
      float dx = data[at] - x, dy = data[at + 1] - y, dz = data[at + 2] - z;
      float far = dx * dx + dy * dy + dz * dz;
      if (r < most
          && far * GROWTH * GROWTH < (most - r) * (most - r)
          && data[at + 3] * nx + data[at + 4] * ny + data[at + 5] * nz > LightLookup.LEAST_COSINE) {
        most = r + GROWTH * (float) Math.sqrt(far);
      }
    }
    return most;
  }

  /** Returns the mean standard error of the irradiance, over it. */
  public double meanError() {
    double sum = 0;
    for (int i = 0; i < count; i++) {
      sum += error(i);
    }
    return count == 0 ? 0 : sum / count;
  }
}
