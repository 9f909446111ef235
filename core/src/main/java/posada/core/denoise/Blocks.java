package posada.core.denoise;

import java.util.stream.Stream;
import posada.core.parallel.Workers;

/**
 * A picture in squares of pixels. Each stands for one surface, the one that most of its pixels
 * show: the others do not count in it.
 */
final class Blocks {
  /** Pixels along each side of the grid in a square whose surfaces are tried. */
  private static final int TRIED = 2;

  /** Part of a square from which on no other surface in it is tried. */
  private static final float MOSTLY = 0.9f;

  /** Least weight of the squares around a pixel that tell all about it. */
  private static final float ENOUGH = 0.25f;

  final int columns, lines;
  private final int side;
  private final Surfaces surfaces;
  private final Workers workers;

  /** The pixel of each square that the others in it are held against. */
  private final int[] middleX, middleY;

  /** How much each pixel counts in its square; one when all are added up. */
  private final float[] share;

  Blocks(Surfaces surfaces, int side, Workers workers) {
    this.surfaces = surfaces;
    this.side = side;
    this.workers = workers;
    columns = (surfaces.width + side - 1) / side;
    lines = (surfaces.height + side - 1) / side;
    middleX = new int[columns * lines];
    middleY = new int[columns * lines];
    share = new float[surfaces.width * surfaces.height];
    workers.each(
        lines,
        l -> {
          for (int c = 0; c < columns; c++) {
            chooseSurface(c, l);
          }
        });
  }

  private int right(int column) {
    return Math.min(surfaces.width, (column + 1) * side);
  }

  private int bottom(int line) {
    return Math.min(surfaces.height, (line + 1) * side);
  }

  /** Finds the surface that a square stands for, and what of its pixels shows it. */
  private void chooseSurface(int column, int line) {
    int left = column * side, right = right(column), top = line * side, bottom = bottom(line);
    int b = line * columns + column;
    float most = -1;
    int last = 0;
    for (int k = 0; k < TRIED * TRIED && most < MOSTLY * (right - left) * (bottom - top); k++) {
      int x = Math.min(right - 1, left + (2 * (k % TRIED) + 1) * side / (2 * TRIED));
      int y = Math.min(bottom - 1, top + (2 * (k / TRIED) + 1) * side / (2 * TRIED));
      float all = count(x, y, left, top, right, bottom);
      last = y * surfaces.width + x;
      if (all > most) {
        most = all;
        middleX[b] = x;
        middleY[b] = y;
      }
    }
    if (last != middleY[b] * surfaces.width + middleX[b]) {
      count(middleX[b], middleY[b], left, top, right, bottom);
    }
    for (int py = top; py < bottom; py++) {
      for (int i = py * surfaces.width + left; i < py * surfaces.width + right; i++) {
        share[i] /= most;
      }
    }
  }

  /** Stores how much each pixel is of the same surface as one; returns the sum. */
  private float count(int x, int y, int left, int top, int right, int bottom) {
    float all = 0;
    for (int py = top; py < bottom; py++) {
      for (int px = left; px < right; px++) {
        float a = alike(x, y, px, py);
        share[py * surfaces.width + px] = a;
        all += a;
      }
    }
    return all;
  }

  private float alike(int x, int y, int px, int py) {
    int w = surfaces.width;
    return surfaces.alike(y * w + x, py * w + px, px - x, py - y);
  }

  /** Returns means over each square, with their noise. */
  Noisy means(Noisy n) {
    return new Noisy(means(n.planes()), means(n.variance(), true));
  }

  /** Returns means over each square. */
  float[][] means(float[][] planes) {
    return Stream.of(planes).map(p -> means(p, false)).toArray(float[][]::new);
  }

  /** Returns the surfaces of the squares. */
  Surfaces surfaces(Noisy normal, Noisy nearness) {
    return new Surfaces(columns, lines, means(normal), means(nearness), workers);
  }

  /**
   * @param variance true if the plane is the variance of what is added up
   */
  private float[] means(float[] plane, boolean variance) {
    float[] out = new float[columns * lines];
    workers.each(
        lines,
        l -> {
          for (int y = l * side; y < bottom(l); y++) {
            for (int c = 0; c < columns; c++) {
              float sum = 0;
              for (int i = y * surfaces.width + c * side; i < y * surfaces.width + right(c); i++) {
                sum += (variance ? share[i] * share[i] : share[i]) * plane[i];
              }
              out[l * columns + c] += sum;
            }
          }
        });
    return out;
  }

  /**
   * Adds to each pixel what the squares around it have, as far as they show its surface.
   *
   * @param small as many planes as {@code planes}, a value for each square
   * @param planes are changed, and not made less than 0
   */
  void spread(float[][] small, float[][] planes) {
    workers.each(
        surfaces.height,
        y -> {
          int[] squares = new int[4];
          float[] weights = new float[4];
          for (int x = 0; x < surfaces.width; x++) {
            int i = y * surfaces.width + x;
            float all = around(x, y, squares, weights);
            float scale = all > 0 ? 1 / Math.max(ENOUGH, all) : 0;
            for (int c = 0; c < planes.length; c++) {
              float sum = 0;
              for (int k = 0; k < 4; k++) {
                sum += weights[k] * small[c][squares[k]];
              }
              planes[c][i] = Math.max(0, planes[c][i] + sum * scale);
            }
          }
        });
  }

  /** Finds the four squares around a pixel; returns the sum of their weights. */
  private float around(int x, int y, int[] squares, float[] weights) {
    float u = (x + 0.5f) / side - 0.5f, v = (y + 0.5f) / side - 0.5f;
    int column = (int) Math.floor(u), line = (int) Math.floor(v);
    u -= column;
    v -= line;
    float all = 0;
    for (int k = 0; k < 4; k++) {
      int c = Math.max(0, Math.min(columns - 1, column + k % 2));
      int l = Math.max(0, Math.min(lines - 1, line + k / 2));
      int b = l * columns + c;
      squares[k] = b;
      float near = (k % 2 == 0 ? 1 - u : u) * (k / 2 == 0 ? 1 - v : v);
      weights[k] = near * alike(x, y, middleX[b], middleY[b]);
      all += weights[k];
    }
    return all;
  }
}
