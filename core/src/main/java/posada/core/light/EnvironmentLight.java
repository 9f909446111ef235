package posada.core.light;

import java.util.Arrays;
import posada.core.geometry.FastMath;
import posada.core.geometry.Trig;
import posada.core.geometry.Vec3;
import posada.core.image.RgbImage;
import posada.core.parallel.Workers;
import posada.core.scene.Environment;
import posada.core.scene.Sky;

/**
 * What is infinitely far away, at one time: radiance in a direction, and directions chosen by
 * brightness. The sun's disc is a light of its own and not part of it.
 *
 * <p>Directions are chosen over a grid of azimuth and the cosine of the polar angle, so that all
 * cells have the same solid angle: a row by its brightness, a cell in it by its brightness, a point
 * in it evenly. Immutable.
 */
public final class EnvironmentLight {
  private static final int COLUMNS = 128;
  private static final int ROWS = 64;
  private static final int MOST_COLUMNS = 1024;

  /** How far the light of a pixel reaches on the way to its neighbours, pixels: nearly to them. */
  private static final float REACH = 0.95f;

  private static final int GLOW_STEPS = 4096;

  private final Sky sky;
  private final float[] ambient = new float[3];

  /** Factor on everything: red, green, blue. */
  private final float[] all;

  private final DayLight day;
  private final RgbImage picture;
  private final float turn, gain;
  private final float gx, gy, gz;
  private final boolean glows;

  /** The glow over {@code (1 + cos angle) / 2}, read by linear interpolation. */
  private final float[] glowTable;

  private final int columns, rows;

  /** Running sums over rows, and over the cells of each row, ending in 1. */
  private final float[] rowSums, cellSums;

  private final float[] density;
  private final float meanLuminance;

  /**
   * @param seconds when, since keys may change them
   */
  public EnvironmentLight(Environment e, double seconds, Workers workers) {
    sky = e.sky();
    all = e.gain();
    for (int k = 0; k < 3; k++) {
      ambient[k] = e.ambient()[k] * all[k];
    }
    day = e.day() == null ? null : new DayLight(e.day(), seconds);
    picture = e.picture() == null ? null : e.picture().image();
    turn = picture == null ? 0 : (float) (e.picture().rotation().at(seconds) / 360);
    gain = picture == null ? 0 : (float) e.picture().strength().at(seconds);
    Vec3 g = sky.glowDirection().normalized();
    gx = (float) g.x();
    gy = (float) g.y();
    gz = (float) g.z();
    glows = sky.glow()[0] + sky.glow()[1] + sky.glow()[2] > 0;
    glowTable = new float[glows ? GLOW_STEPS + 2 : 0];
    for (int i = 0; i < glowTable.length; i++) {
      glowTable[i] = (float) StrictMath.pow(i / (double) GLOW_STEPS, sky.glowSharpness());
    }
    columns =
        picture == null
            ? (day == null ? COLUMNS : 2 * COLUMNS)
            : Math.max(COLUMNS, Math.min(MOST_COLUMNS, picture.width()));
    rows = columns * ROWS / COLUMNS;
    double[] l = brightness(workers);
    density = new float[l.length];
    rowSums = new float[rows + 1];
    cellSums = new float[rows * (columns + 1)];
    double sum = Arrays.stream(l).sum();
    meanLuminance = (float) (sum / l.length);
    double cell = 4 * Math.PI / l.length;
    double run = 0;
    for (int j = 0; j < rows; j++) {
      double row = 0;
      for (int i = 0; i < columns; i++) {
        row += l[j * columns + i];
      }
      double part = 0;
      for (int i = 0; i < columns; i++) {
        part += l[j * columns + i];
        cellSums[j * (columns + 1) + i + 1] = row > 0 ? (float) (part / row) : 0;
        density[j * columns + i] = sum > 0 ? (float) (l[j * columns + i] / sum / cell) : 0;
      }
      cellSums[j * (columns + 1) + columns] = 1;
      run += row;
      rowSums[j + 1] = sum > 0 ? (float) (run / sum) : 0;
    }
    rowSums[rows] = 1;
  }

  /** Mean luminance of each cell; every pixel of a picture finds its way in. */
  private double[] brightness(Workers workers) {
    double[] l = new double[columns * rows];
    workers.each(
        rows,
        row -> {
          float[] c = new float[3];
          float[] d = new float[3];
          for (int i = row * columns; i < (row + 1) * columns; i++) {
            for (int k = 0; k < 4; k++) {
              direction(i, 0.25f + 0.5f * (k & 1), 0.25f + 0.5f * (k >> 1), d);
              radiance(d[0], d[1], d[2], c);
              l[i] += 0.25 * Luminance.of(c);
            }
          }
        });
    if (picture != null && picture.width() > columns) {
      addPixels(l, workers);
    }
    return l;
  }

  /**
   * Blends in the light of the pixels that were stepped over. Between pixels it is interpolated: in
   * both directions half goes to a pixel's own place and a quarter each to as far as it reaches, so
   * that no cell that it lights is left without.
   */
  private void addPixels(double[] l, Workers workers) {
    int w = picture.width(), h = picture.height();
    float[] p = picture.rgb();
    int[] columnAt = new int[3 * w];
    for (int i = 0; i < columnAt.length; i++) {
      columnAt[i] = columnOf((i / 3 + 0.5f + (i % 3 - 1) * REACH) / w + turn + 0.25f);
    }
    double[] sums = new double[l.length];
    double cell = 4 * Math.PI / l.length;
    for (int y = 0; y < h; y++) {
      workers.check().run();
      double solid = (cosine(y, h) - cosine(y + 1, h)) * 2 * Math.PI / w;
      double k = gain * solid / cell / 16;
      int north = rowOf((float) cosine(y + 0.5 - REACH, h));
      int row = rowOf((float) cosine(y + 0.5, h));
      int south = rowOf((float) cosine(y + 0.5 + REACH, h));
      for (int x = 0; x < w; x++) {
        int o = (y * w + x) * 3;
        double light = k * Luminance.of(p[o] * all[0], p[o + 1] * all[1], p[o + 2] * all[2]);
        if (north == south && columnAt[3 * x] == columnAt[3 * x + 2]) {
          sums[row + columnAt[3 * x]] += 16 * light;
          continue;
        }
        for (int i = 0; i < 3; i++) {
          int column = columnAt[3 * x + i];
          double part = i == 1 ? 2 * light : light;
          sums[north + column] += part;
          sums[row + column] += 2 * part;
          sums[south + column] += part;
        }
      }
    }
    for (int i = 0; i < l.length; i++) {
      l[i] = 0.5 * (l[i] + sums[i]);
    }
  }

  /** Cosine to the zenith of a place between the picture's upper edge, 0, and its lower one. */
  private static double cosine(double y, int height) {
    return StrictMath.cos(Math.PI * Math.max(0, Math.min(1, y / height)));
  }

  private int cellOf(float up, float turns) {
    return rowOf(up) + columnOf(turns);
  }

  private int columnOf(float turns) {
    return Math.min(columns - 1, (int) ((turns - (float) Math.floor(turns)) * columns));
  }

  /** Returns the first cell of the row that a cosine to the zenith lies in. */
  private int rowOf(float up) {
    return Math.max(0, Math.min(rows - 1, (int) ((1 - up) * 0.5f * rows))) * columns;
  }

  /** Returns the irradiance that comes in on average, in units of luminance. */
  public float importance() {
    return (float) Math.PI * meanLuminance;
  }

  public float haze() {
    return (float) sky.haze();
  }

  /** Returns the radiance that reaches every diffuse surface unshadowed: red, green, blue. */
  public float[] ambient() {
    return ambient;
  }

  /** Returns sun and sky of a place and time, or null. */
  public DayLight day() {
    return day;
  }

  /** Returns the sun's irradiance on a facing surface: red, green, blue; 0 if there is no sun. */
  public float[] sunIrradiance() {
    float[] sun = new float[3];
    for (int k = 0; day != null && k < 3; k++) {
      sun[k] = day.sunIrradiance()[k] * all[k];
    }
    return sun;
  }

  /**
   * Stores the radiance from a direction into {@code out}.
   *
   * @param y upward part of a unit direction; likewise x, z
   */
  public void radiance(float x, float y, float z, float[] out) {
    gradient(x, y, z, out);
    if (day != null) {
      day.add(x, y, z, out);
    }
    if (picture != null) {
      addPicture(x, y, z, out);
    }
    for (int k = 0; k < 3; k++) {
      out[k] *= all[k];
    }
  }

  private void gradient(float x, float y, float z, float[] out) {
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

  private void addPicture(float x, float y, float z, float[] out) {
    int w = picture.width(), h = picture.height();
    // Turns from the left edge: the middle column looks along -Z.
    float u = FastMath.turns(z, x) - 0.25f - turn;
    u = (u - (float) Math.floor(u)) * w - 0.5f;
    float v = FastMath.acos(y) * (float) (h / Math.PI) - 0.5f;
    int i = (int) Math.floor(u), j = (int) Math.floor(v);
    float fu = u - i, fv = v - j;
    int i0 = Math.floorMod(i, w), i1 = Math.floorMod(i + 1, w);
    int j0 = Math.max(0, Math.min(h - 1, j)), j1 = Math.max(0, Math.min(h - 1, j + 1));
    float[] p = picture.rgb();
    for (int k = 0; k < 3; k++) {
      float low = p[(j0 * w + i0) * 3 + k] * (1 - fu) + p[(j0 * w + i1) * 3 + k] * fu;
      float high = p[(j1 * w + i0) * 3 + k] * (1 - fu) + p[(j1 * w + i1) * 3 + k] * fu;
      out[k] += gain * (low + (high - low) * fv);
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
    float y = 1 - 2 * (cell / columns + v) / rows;
    float s = (float) Math.sqrt(Math.max(0, 1 - y * y));
    double turns = (cell % columns + u) / columns;
    out[0] = s * Trig.cosTurns(turns);
    out[1] = y;
    out[2] = s * Trig.sinTurns(turns);
  }

  /**
   * Stores a direction chosen by brightness into {@code out} and returns its density per steradian;
   * 0 if there is no light.
   */
  public float sample(float u, float v, float[] out) {
    if (!(meanLuminance > 0)) {
      return 0;
    }
    int row = Steps.find(rowSums, 0, rows, v);
    int o = row * (columns + 1);
    int column = Steps.find(cellSums, o, columns, u);
    float inRow = Steps.rest(rowSums, row, v);
    direction(row * columns + column, Steps.rest(cellSums, o + column, u), inRow, out);
    return density[row * columns + column];
  }

  /** Returns the density per steradian with which {@link #sample} chooses a unit direction. */
  public float density(float x, float y, float z) {
    return density[cellOf(y, FastMath.turns(z, x))];
  }

  /** Returns the bytes that its tables take. */
  public long bytes() {
    return 4L * (rowSums.length + cellSums.length + density.length + glowTable.length)
        + (day == null ? 0 : 400_000);
  }
}
