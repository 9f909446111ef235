package posada.core.assembly;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;

/** Finds which objects a map of a picture is brightest at, and where. */
public final class BrightPlaces {
  /** A place is a quarter of the picture across and down; it is looked for in steps of a 16th. */
  private static final int PART = 4;

  private static final int STEPS = 16;

  private BrightPlaces() {}

  /**
   * An object's part of a map.
   *
   * @param node its number; -1 for where there is none
   * @param share of the map's sum, 0 .. 1
   * @param pixels share of the picture's pixels, 0 .. 1
   * @param x left of the place where most of it is, pixels; y, width and height likewise
   */
  public record Place(int node, double share, double pixels, int x, int y, int width, int height) {}

  /**
   * Returns the objects with the largest parts of a map, the largest first.
   *
   * @param map 0 or more for each pixel, row by row; what is not a number counts as 0
   * @param nodes which object is at each pixel; -1 for none
   * @param most how many are returned
   */
  public static List<Place> of(float[] map, int[] nodes, int width, int height, int most) {
    Map<Integer, double[]> sums = new HashMap<>();
    double all = 0;
    for (int i = 0; i < map.length; i++) {
      double v = value(map[i]);
      double[] s = sums.computeIfAbsent(nodes[i], k -> new double[2]);
      s[0] += v;
      s[1]++;
      all += v;
    }
    if (!(all > 0)) {
      return List.of();
    }
    List<Map.Entry<Integer, double[]>> ranked = new ArrayList<>(sums.entrySet());
    ranked.sort(
        Comparator.<Map.Entry<Integer, double[]>>comparingDouble(e -> -e.getValue()[0])
            .thenComparing(Map.Entry::getKey));
    List<Place> places = new ArrayList<>();
    for (Map.Entry<Integer, double[]> e : ranked.subList(0, Math.min(most, ranked.size()))) {
      double[] s = e.getValue();
      places.add(place(map, nodes, width, height, e.getKey(), s[0] / all, s[1] / map.length));
    }
    return places;
  }

  private static double value(float v) {
    return v > 0 ? v : 0;
  }

  private static Place place(
      float[] map, int[] nodes, int w, int h, int node, double share, double pixels) {
    // Sums of all that lies above and to the left.
    double[] sum = new double[(w + 1) * (h + 1)];
    for (int y = 0; y < h; y++) {
      double row = 0;
      for (int x = 0; x < w; x++) {
        row += nodes[y * w + x] == node ? value(map[y * w + x]) : 0;
        sum[(y + 1) * (w + 1) + x + 1] = sum[y * (w + 1) + x + 1] + row;
      }
    }
    int pw = Math.max(1, w / PART), ph = Math.max(1, h / PART);
    int bestX = 0, bestY = 0;
    double best = -1;
    for (int j = 0; j <= STEPS; j++) {
      for (int i = 0; i <= STEPS; i++) {
        int x = (w - pw) * i / STEPS, y = (h - ph) * j / STEPS;
        double inside =
            sum[(y + ph) * (w + 1) + x + pw]
                - sum[y * (w + 1) + x + pw]
                - sum[(y + ph) * (w + 1) + x]
                + sum[y * (w + 1) + x];
        if (inside > best * (1 + 1e-9)) {
          best = inside;
          bestX = x;
          bestY = y;
        }
      }
    }
    return new Place(node, share, pixels, bestX, bestY, pw, ph);
  }
}
