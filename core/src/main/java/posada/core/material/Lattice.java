package posada.core.material;

/**
 * Evenly spread points of the unit square, for integrals that are tabulated once: Fibonacci's
 * lattice, whose error falls nearly with the number of points.
 */
final class Lattice {
  /** Fibonacci numbers: so many points, and the step of the second coordinate. */
  static final int POINTS = 987;

  private static final int STEP = 610;

  private Lattice() {}

  static float u(int i) {
    return (i + 0.5f) / POINTS;
  }

  static float v(int i) {
    return ((long) i * STEP % POINTS + 0.5f) / POINTS;
  }
}
