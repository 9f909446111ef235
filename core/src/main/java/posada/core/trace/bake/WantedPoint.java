package posada.core.trace.bake;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.TreeSet;
import posada.core.irradiance.LightLookup;

/**
 * A surface that needs a light point.
 *
 * @param frame number in the list of frames
 * @param depth surfaces that the ray was followed over before
 * @param turn of looking aside; 0 if it is seen from the camera or in mirrors
 * @param place and, from 3 on, normal
 * @param width of a pixel there, metres
 */
record WantedPoint(int frame, int x, int y, int depth, int turn, float[] place, float width) {
  /** Least distance of points of one pass, in steps. */
  private static final float APART = 0.7f;

  /** Returns true if the camera sees it straight. */
  boolean seen() {
    return depth == 0 && turn == 0;
  }

  /** Returns true if another is as good, closer than so many of its pixels and turned alike. */
  private boolean near(WantedPoint o, float pixels) {
    float far = 0;
    float cos = 0;
    for (int k = 0; k < 3; k++) {
      far += (place[k] - o.place[k]) * (place[k] - o.place[k]);
      cos += place[3 + k] * o.place[3 + k];
    }
    float r = pixels * Math.min(width, o.width);
    return far < r * r && cos > LightLookup.LEAST_COSINE;
  }

  /** Leaves out what is close to one that is taken, such as the same spot in two mirrors. */
  static List<WantedPoint> spread(List<List<WantedPoint>> found, int step) {
    List<WantedPoint> taken = new ArrayList<>();
    Map<Cell, List<WantedPoint>> grid = new HashMap<>();
    TreeSet<Integer> levels = new TreeSet<>();
    for (List<WantedPoint> row : found) {
      for (WantedPoint w : row) {
        float own = APART * step * w.width;
        boolean free =
            levels.stream()
                .flatMap(l -> Cell.around(l, w.place, own).stream())
                .flatMap(c -> grid.getOrDefault(c, List.of()).stream())
                .noneMatch(t -> t.near(w, APART * step));
        if (free) {
          int level = Math.getExponent(own) + 1;
          levels.add(level);
          grid.computeIfAbsent(Cell.of(level, w.place), c -> new ArrayList<>()).add(w);
          taken.add(w);
        }
      }
    }
    return taken;
  }

  /** A cube of space whose side is two to the power of its level, metres. */
  private record Cell(int level, long x, long y, long z) {
    static Cell of(int level, float[] p) {
      return new Cell(level, at(p[0], level), at(p[1], level), at(p[2], level));
    }

    private static long at(float x, int level) {
      return (long) Math.floor(x / Math.scalb(1f, level));
    }

    /** Returns the cells that something as large as they, or of this radius if less, may be in. */
    static List<Cell> around(int level, float[] p, float radius) {
      float r = Math.min(radius, Math.scalb(1f, level));
      List<Cell> out = new ArrayList<>();
      for (long x = at(p[0] - r, level); x <= at(p[0] + r, level); x++) {
        for (long y = at(p[1] - r, level); y <= at(p[1] + r, level); y++) {
          for (long z = at(p[2] - r, level); z <= at(p[2] + r, level); z++) {
            out.add(new Cell(level, x, y, z));
          }
        }
      }
      return out;
    }
  }
}
