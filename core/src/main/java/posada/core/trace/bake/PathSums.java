package posada.core.trace.bake;

import posada.core.irradiance.LightPoints;
import posada.core.irradiance.RareLight;
import posada.core.light.Luminance;

/** What the paths of one light point have found so far: more can be added at any time. */
final class PathSums {
  /** How many points what is rare is shared among, about. */
  private static final double SHARING = 16;

  /** Least cosine that a flux along the surface is divided by. */
  private static final float GRAZING = 0.15f;

  /** Flux of the light that comes from surfaces: as the points have it, times the paths. */
  private final double[] flux = new double[9];

  /** Likewise of what single paths have found beyond the limit. */
  private final double[] rare = new double[9];

  /** Likewise of light that comes straight from lights and that paths have met. */
  private final double[] straight = new double[9];

  /** Likewise of lights that were chosen, times the choices. */
  private final double[] chosen = new double[9];

  private final float dark;

  private int paths, choices;
  private double luminance, squares, rareSquares, near, deep;

  /** Most luminance of a path's irradiance that counts as the point's own. */
  private double limit = Double.POSITIVE_INFINITY;

  /**
   * @param dark irradiance that noise is measured against
   */
  PathSums(float dark) {
    this.dark = dark;
  }

  /**
   * Sets apart what single paths will find beyond a limit: a few such paths say little about one
   * point, but together with those of many points around they do.
   *
   * @param irradiance luminance of one path's light times cosine over density
   */
  void limit(double irradiance) {
    limit = irradiance;
  }

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
    double y = Luminance.of(light[0], light[1], light[2]);
    double own = Math.min(y, limit), over = y - own;
    add(flux, light, ax, ay, az, over > 0 ? (float) (own / y) : 1);
    if (over > 0) {
      add(rare, light, ax, ay, az, (float) (over / y));
    }
    luminance += y;
    squares += own * own + over * over / SHARING;
    rareSquares += over * over;
    this.near += near;
  }

  /**
   * Adds the part of what a path has found that comes over the most surfaces.
   *
   * @param light luminance times cosine over density
   */
  void addDeep(double light) {
    deep += light;
  }

  /**
   * Returns the part of the light that comes over at least one surface less than the most, 0 .. 1.
   */
  float shallow() {
    return luminance > 0 ? (float) Math.max(0, 1 - deep / luminance) : 0;
  }

  private static void add(double[] sums, float[] light, float x, float y, float z, float share) {
    for (int c = 0; c < 3; c++) {
      float l = light[c] * share;
      sums[3 * c] += l * x;
      sums[3 * c + 1] += l * y;
      sums[3 * c + 2] += l * z;
    }
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

  /** Returns what single paths have found beyond the limit. */
  RareLight.Found rare() {
    float[] mean = new float[9];
    int n = Math.max(1, paths);
    for (int i = 0; i < 9; i++) {
      mean[i] = (float) (rare[i] / n);
    }
    return new RareLight.Found(mean, rareSquares / n / n, n);
  }

  /** Returns the standard error of irradiance over it, once what is rare has been shared. */
  double error() {
    return error(paths);
  }

  /** Returns the standard error of irradiance over it that so many such paths have. */
  double error(int many) {
    double mean = luminance / paths;
    return Math.sqrt(Math.max(0, squares / paths - mean * mean) / many) / (mean + dark);
  }

  /** Returns the mean of one over the distance that light comes from, 1 / metres. */
  double near() {
    return near / paths;
  }

  /** Stores both fluxes in a point, without what is rare. */
  void store(float[] point) {
    for (int i = 0; i < 9; i++) {
      point[LightPoints.FLUX + i] = (float) (flux[i] / paths);
      point[LightPoints.DIRECT + i] = (float) (straight[i] / paths + chosen[i] / choices);
    }
  }
}
