package posada.core.trace;

import posada.core.irradiance.LightPoints;
import posada.core.light.Luminance;

/** What the paths of one light point have found so far: more can be added at any time. */
final class PathSums {
  /** Irradiance of what is about as dark as can be seen, that noise is measured against. */
  static final float DARK = 0.15f;

  /** Least cosine that a flux along the surface is divided by. */
  private static final float GRAZING = 0.15f;

  /** Flux of the light that comes from surfaces: as the points have it, times the paths. */
  private final double[] flux = new double[9];

  /** Likewise of light that comes straight from lights and that paths have met. */
  private final double[] straight = new double[9];

  /** Likewise of lights that were chosen, times the choices. */
  private final double[] chosen = new double[9];

  private int paths, choices;
  private double luminance, squares, near;

  /** Returns the number of paths. */
  int paths() {
    return paths;
  }

  /** Returns the number of lights that were chosen. */
  int choices() {
    return choices;
  }

  /** Counts a path, whether it has found anything or not. */
  void count() {
    paths++;
  }

  void countChoice() {
    choices++;
  }

  /**
   * Adds the light that a path has found on surfaces.
   *
   * @param way unit direction
   * @param light times cosine over density, of red, green and blue
   * @param near one over the distance, times cosine over density and over pi
   * @param point whose normal it is for
   */
  void add(float[] way, float[] light, float near, float[] point) {
    float nx = point[3], ny = point[4], nz = point[5];
    float cos = way[0] * nx + way[1] * ny + way[2] * nz;
    float flat = 1 / Math.max(GRAZING, cos);
    // The part along the normal is exact, that along the surface tamed.
    float ax = (way[0] - cos * nx) * flat + nx;
    float ay = (way[1] - cos * ny) * flat + ny;
    float az = (way[2] - cos * nz) * flat + nz;
    for (int c = 0; c < 3; c++) {
      flux[3 * c] += light[c] * ax;
      flux[3 * c + 1] += light[c] * ay;
      flux[3 * c + 2] += light[c] * az;
    }
    double y = Luminance.of(light[0], light[1], light[2]);
    luminance += y;
    squares += y * y;
    this.near += near;
  }

  /** Adds light straight from lights that a path has met. */
  void addStraight(float[] way, float[] radiance, float weight) {
    add(straight, way, radiance, weight);
  }

  /** Adds light straight from a light that was chosen. */
  void addChosen(float[] way, float[] radiance, float weight) {
    add(chosen, way, radiance, weight);
  }

  private static void add(double[] sums, float[] way, float[] radiance, float weight) {
    for (int c = 0; c < 3; c++) {
      for (int k = 0; k < 3; k++) {
        sums[3 * c + k] += radiance[c] * weight * way[k];
      }
    }
  }

  /** Returns the standard error of irradiance over it. */
  double error() {
    return error(paths);
  }

  /** Returns the standard error of irradiance over it that so many such paths have. */
  double error(int many) {
    double mean = luminance / paths;
    return Math.sqrt(Math.max(0, squares / paths - mean * mean) / many) / (mean + DARK);
  }

  /** Returns the mean of one over the distance that light comes from, 1 / metres. */
  double near() {
    return near / paths;
  }

  /** Stores both fluxes in a point. */
  void store(float[] point) {
    for (int i = 0; i < 9; i++) {
      point[LightPoints.FLUX + i] = (float) (flux[i] / paths);
      point[LightPoints.DIRECT + i] = (float) (straight[i] / paths + chosen[i] / choices);
    }
  }
}
