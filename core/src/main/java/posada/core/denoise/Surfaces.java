package posada.core.denoise;

import posada.core.parallel.Workers;

/** Tells which pixels of a picture show the same surface, by normals and distances. */
final class Surfaces {
  /** Squared difference of unit normals that is still one surface. */
  static final float NORMAL = 4e-3f;

  /** Squared relative difference of distances that is still one surface. */
  private static final float DISTANCE = 4e-4f;

  /** How far the slope of a surface may be off, squared, in its own units. */
  private static final float SLOPE = 4;

  /** Variances of a feature that are still one surface. */
  private static final float FEATURE_NOISE = 2;

  final int width, height;

  /** Unit normals, and one over the squared difference that is still alike. */
  final float[][] normal;

  /**
   * One over the distance, which changes evenly along a flat surface; one over the squared
   * difference that is still alike; its change for each pixel to the right, and downwards.
   */
  final float[][] nearness;

  /** The same planes, one by one. */
  private final float[] nx, ny, nz, turns, z, depths, right, down;

  /**
   * @param nearness one plane, one over the distance
   */
  Surfaces(int width, int height, Noisy normal, Noisy nearness, Workers workers) {
    this.width = width;
    this.height = height;
    this.normal = feature(normal, NORMAL);
    nx = this.normal[0];
    ny = this.normal[1];
    nz = this.normal[2];
    turns = this.normal[3];
    z = nearness.planes()[0];
    depths = new float[z.length];
    right = new float[z.length];
    down = new float[z.length];
    float[] noise = nearness.variance();
    workers.each(height, y -> distances(y, noise));
    this.nearness = new float[][] {z, depths, right, down};
  }

  /** Finds how distances change along a row, and how far they may differ. */
  private void distances(int y, float[] noise) {
    for (int x = 0; x < width; x++) {
      int i = y * width + x;
      right[i] = slope(z[x > 0 ? i - 1 : i], z[i], z[x < width - 1 ? i + 1 : i]);
      down[i] = slope(z[y > 0 ? i - width : i], z[i], z[y < height - 1 ? i + width : i]);
      float steep = right[i] * right[i] + down[i] * down[i];
      float least = Math.max(DISTANCE * z[i] * z[i], SLOPE * steep);
      depths[i] = 1 / (Math.max(least, FEATURE_NOISE * noise[i]) + Rows.ROUNDING);
    }
  }

  /**
   * Returns three planes and one over the squared difference that is still alike.
   *
   * @param least that difference where there is no noise
   */
  static float[][] feature(Noisy f, float least) {
    float[] alike = new float[f.variance().length];
    for (int i = 0; i < alike.length; i++) {
      alike[i] = 1 / Math.max(least, FEATURE_NOISE * f.variance()[i]);
    }
    float[][] p = f.planes();
    return new float[][] {p[0], p[1], p[2], alike};
  }

  /** The smaller change of both sides: the larger one may be another surface. */
  private static float slope(float a, float b, float c) {
    float l = b - a;
    float r = c - b;
    return Math.abs(l) < Math.abs(r) ? l : r;
  }

  /**
   * Returns how much a pixel is of the same surface as one sees it: 1 if it is, 0 if not.
   *
   * @param dx how far the other pixel is to the right, likewise dy downwards
   */
  float alike(int i, int other, int dx, int dy) {
    float x = nx[i] - nx[other], y = ny[i] - ny[other], q = nz[i] - nz[other];
    float d = z[i] + right[i] * dx + down[i] * dy - z[other];
    return Rows.bump(Math.max((x * x + y * y + q * q) * turns[i], d * d * depths[i]));
  }
}
