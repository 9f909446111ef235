package posada.core.trace.bake;

import java.util.Arrays;
import java.util.Comparator;
import java.util.List;
import posada.core.irradiance.PointIndex;

/**
 * Parts of the surfaces of a scene with the directions that light comes from there: neighbours
 * share what their paths have met, since each alone meets little that is rare. Immutable.
 */
final class LitRegions {
  /** Most lists of bright paths in a region: a point has one from each time it was looked at. */
  private static final int MOST = 64;

  /** Lists that a cell must be in to count: one is chance. */
  private static final int SEVERAL = 3;

  /** A part of space, cut in two at a place along an axis unless it holds directions. */
  private record Part(int axis, float at, Part below, Part above, LitDirections lit) {}

  /** For each of six sides that surfaces face. */
  private final Part[] sides = new Part[6];

  /**
   * The brightest of some paths of a point.
   *
   * @param place and normal
   * @param cells of directions
   * @param squares of the light from there
   * @param rest sum of the squares of all other paths
   */
  record Bright(float[] place, int[] cells, float[] squares, double rest) {}

  LitRegions(List<Bright> all) {
    for (int side = 0; side < sides.length; side++) {
      int s = side;
      Bright[] facing =
          all.stream()
              .filter(b -> PointIndex.side(b.place[3], b.place[4], b.place[5]) == s)
              .toArray(Bright[]::new);
      sides[side] = facing.length == 0 ? null : part(facing);
    }
  }

  private static Part part(Bright[] all) {
    if (all.length <= MOST) {
      return new Part(0, 0, null, null, lit(all));
    }
    int widest = 0;
    float width = -1;
    for (int k = 0; k < 3; k++) {
      float least = Float.POSITIVE_INFINITY, most = Float.NEGATIVE_INFINITY;
      for (Bright b : all) {
        least = Math.min(least, b.place[k]);
        most = Math.max(most, b.place[k]);
      }
      if (most - least > width) {
        width = most - least;
        widest = k;
      }
    }
    int axis = widest;
    Bright[] sorted = all.clone();
    Arrays.sort(sorted, Comparator.comparingDouble(b -> b.place[axis]));
    int half = sorted.length / 2;
    return new Part(
        axis,
        sorted[half].place[axis],
        part(Arrays.copyOf(sorted, half)),
        part(Arrays.copyOfRange(sorted, half, sorted.length)),
        null);
  }

  private static LitDirections lit(Bright[] all) {
    double[] squares = new double[LitDirections.CELLS];
    int[] points = new int[LitDirections.CELLS];
    double rest = 0;
    for (Bright b : all) {
      rest += b.rest;
      for (int k = 0; k < b.cells.length; k++) {
        squares[b.cells[k]] += b.squares[k];
      }
      Arrays.stream(b.cells).distinct().forEach(c -> points[c]++);
    }
    for (int c = 0; c < squares.length; c++) {
      if (points[c] < SEVERAL) {
        rest += squares[c];
        squares[c] = 0;
      }
    }
    return new LitDirections(squares, rest);
  }

  /**
   * Returns where light comes from at a place.
   *
   * @param place and, from 3 on, unit normal
   * @return null if nothing is known
   */
  LitDirections at(float[] place) {
    Part p = sides[PointIndex.side(place[3], place[4], place[5])];
    while (p != null && p.lit == null) {
      p = place[p.axis] < p.at ? p.below : p.above;
    }
    return p == null || p.lit.share <= 0 ? null : p.lit;
  }

  /** Collects the brightest paths of a point. */
  static final class Collector {
    /** Paths that are kept. */
    private static final int KEPT = 64;

    private final int[] cells = new int[KEPT];
    private final float[] squares = new float[KEPT];
    private int count;
    private double all;

    void clear() {
      count = 0;
      all = 0;
    }

    /** Adds the square of the light from a cell. */
    void add(int cell, float square) {
      all += square;
      if (count == KEPT && !(square > squares[KEPT - 1])) {
        return;
      }
      int at = count < KEPT ? count++ : KEPT - 1;
      // The brightest come first.
      while (at > 0 && squares[at - 1] < square) {
        squares[at] = squares[at - 1];
        cells[at] = cells[at - 1];
        at--;
      }
      squares[at] = square;
      cells[at] = cell;
    }

    Bright bright(float[] place) {
      double kept = 0;
      for (int k = 0; k < count; k++) {
        kept += squares[k];
      }
      return new Bright(
          Arrays.copyOf(place, 6),
          Arrays.copyOf(cells, count),
          Arrays.copyOf(squares, count),
          Math.max(0, all - kept));
    }
  }
}
