package posada.core.light;

import posada.core.geometry.Trig;
import posada.core.geometry.Vec3;
import posada.core.scene.Sky;

/**
 * The sky as a light: radiance in a direction, and directions chosen by brightness.
 *
 * <p>Sampling uses a grid of cells over azimuth and the cosine of the polar angle, so that all
 * cells have the same solid angle; a cell is chosen by its luminance, a point in it evenly (M.
 * Pharr et al., Physically Based Rendering, 4th ed., 12.5). Immutable.
 */
public final class SkyLight {
  private static final int COLUMNS = 128;
  private static final int ROWS = 64;
  private static final int GLOW_STEPS = 4096;
  private static final double CELL = 4 * Math.PI / (COLUMNS * ROWS);

  private final Sky sky;
  private final float gx, gy, gz;
  private final boolean glows;

  /** The glow over {@code (1 + cos angle) / 2}, read by linear interpolation. */
  private final float[] glowTable = new float[GLOW_STEPS + 2];

  private final float[] cdf = new float[COLUMNS * ROWS + 1];
  private final float[] density = new float[COLUMNS * ROWS];
  private final float meanLuminance;

  public SkyLight(Sky sky) {
    this.sky = sky;
    Vec3 g = sky.glowDirection().normalized();
    gx = (float) g.x();
    gy = (float) g.y();
    gz = (float) g.z();
    glows = sky.glow()[0] + sky.glow()[1] + sky.glow()[2] > 0;
    for (int i = 0; i < glowTable.length; i++) {
      glowTable[i] = (float) StrictMath.pow(i / (double) GLOW_STEPS, sky.glowSharpness());
    }
    double sum = 0;
    double[] lum = new double[cdf.length - 1];
    float[] c = new float[3];
    float[] d = new float[3];
    for (int i = 0; i < lum.length; i++) {
      for (int k = 0; k < 4; k++) {
        direction(i, 0.25f + 0.5f * (k & 1), 0.25f + 0.5f * (k >> 1), d);
        radiance(d[0], d[1], d[2], c);
        lum[i] += 0.25 * luminance(c);
      }
      sum += lum[i];
    }
    meanLuminance = (float) (sum / lum.length);
    double run = 0;
    for (int i = 0; i < lum.length; i++) {
      run += lum[i];
      cdf[i + 1] = sum > 0 ? (float) (run / sum) : 0;
      density[i] = sum > 0 ? (float) (lum[i] / sum / CELL) : 0;
    }
    cdf[lum.length] = 1;
  }

  static float luminance(float[] c) {
    return 0.2126f * c[0] + 0.7152f * c[1] + 0.0722f * c[2];
  }

  /** Returns the irradiance that the sky gives on average, in units of luminance. */
  public float importance() {
    return (float) Math.PI * meanLuminance;
  }

  public boolean dark() {
    return meanLuminance <= 0;
  }

  public float haze() {
    return (float) sky.haze();
  }

  /**
   * Stores the radiance from a direction into {@code out}.
   *
   * @param y upward part of a unit direction; likewise x, z
   */
  public void radiance(float x, float y, float z, float[] out) {
    float up = y < 0 ? -y : y;
    // Two thirds of the way to the far colour happen in the lowest third of the sky.
    float f = 1 - (1 - up) * (1 - up) * (1 - up);
    float[] far = y < 0 ? sky.ground() : sky.zenith();
    if (y < 0) {
      f = Math.min(1, up * 6);
    }
    for (int k = 0; k < 3; k++) {
      out[k] = sky.horizon()[k] + (far[k] - sky.horizon()[k]) * f;
    }
    if (glows) {
      float cos = x * gx + y * gy + z * gz;
      float at = Math.max(0, Math.min(1, 0.5f + 0.5f * cos)) * GLOW_STEPS;
      int i = (int) at;
      float g = glowTable[i] + (glowTable[i + 1] - glowTable[i]) * (at - i);
      for (int k = 0; k < 3; k++) {
        out[k] += g * sky.glow()[k];
      }
    }
  }

  /** Stores the colour into which distance fades in a direction: the sky just above the horizon. */
  public void hazeColour(float x, float y, float z, float[] out) {
    float level = Math.max(0.02f, Math.min(y, 0.25f));
    float flat = (float) Math.sqrt(Math.max(1e-12f, x * x + z * z));
    float s = (float) Math.sqrt(1 - level * level) / flat;
    radiance(x * s, level, z * s, out);
  }

  private void direction(int cell, float u, float v, float[] out) {
    int row = cell / COLUMNS;
    int column = cell % COLUMNS;
    float y = 1 - 2 * (row + v) / ROWS;
    float s = (float) Math.sqrt(Math.max(0, 1 - y * y));
    double turns = (column + u) / COLUMNS;
    out[0] = s * Trig.cosTurns(turns);
    out[1] = y;
    out[2] = s * Trig.sinTurns(turns);
  }

  /**
   * Stores a direction chosen by brightness into {@code out} and returns its density per steradian.
   */
  public float sample(float u, float v, float[] out) {
    int lo = 0;
    int hi = density.length;
    while (hi - lo > 1) {
      int mid = (lo + hi) >>> 1;
      if (cdf[mid] <= u) {
        lo = mid;
      } else {
        hi = mid;
      }
    }
    float width = cdf[lo + 1] - cdf[lo];
    float inCell = width > 0 ? Math.min(0.9999999f, (u - cdf[lo]) / width) : 0.5f;
    direction(lo, inCell, v, out);
    return density[lo];
  }

  /** Returns the density per steradian with which {@link #sample} chooses a unit direction. */
  public float density(float x, float y, float z) {
    int row = Math.max(0, Math.min(ROWS - 1, (int) ((1 - y) * 0.5f * ROWS)));
    double turns = StrictMath.atan2(z, x) / (2 * Math.PI);
    int column = Math.max(0, Math.min(COLUMNS - 1, (int) ((turns - Math.floor(turns)) * COLUMNS)));
    return density[row * COLUMNS + column];
  }
}
