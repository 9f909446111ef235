package posada.core.assembly;

import java.util.List;
import posada.core.scene.Track;

/**
 * Where an input acts.
 *
 * @param footage whose alpha, pass or ID matte it is, as in {@link Source}; null for the input's
 *     own
 * @param pass whose values are taken, or the set of ID mattes
 * @param names of what is chosen of an ID matte
 * @param from value of the pass that becomes 0; infinite depth is further than all
 * @param to value of the pass that becomes 1; may be below {@code from}
 * @param points of a shape, pairs of shares of the width and height: two opposite corners of a
 *     rectangle or ellipse, or the corners of a polygon
 * @param soft pixels of the full size over which a shape fades, 0 .. 1000
 * @param invert everywhere else
 */
public record Mask(
    Kind kind,
    String footage,
    String pass,
    List<String> names,
    Track from,
    Track to,
    List<List<Float>> points,
    Track soft,
    boolean invert) {
  /** Kinds of masks. */
  public enum Kind {
    NONE,
    MATTE,
    PASS,
    ALPHA,
    RECTANGLE,
    ELLIPSE,
    POLYGON
  }

  /** Most names and corners. */
  private static final int MOST_NAMES = 1000, MOST_POINTS = 200;

  /** Everywhere. */
  public static final Mask NONE =
      new Mask(
          Kind.NONE,
          null,
          "beauty",
          List.of(),
          Track.of(0),
          Track.of(1),
          List.of(),
          Track.of(0),
          false);

  public Mask {
    names = List.copyOf(names);
    points = List.copyOf(points);
    soft.within("soft edge", 0, 1000);
    from.within("the ramp's beginning", -1e9, 1e9);
    to.within("the ramp's end", -1e9, 1e9);
    if (pass == null || pass.isBlank()) {
      throw new IllegalArgumentException("a mask must name a pass");
    }
    if (names.size() > MOST_NAMES || points.size() > MOST_POINTS) {
      throw new IllegalArgumentException(
          "a mask has at most %d names and %d corners (got %d, %d)"
              .formatted(MOST_NAMES, MOST_POINTS, names.size(), points.size()));
    }
    boolean corners = kind == Kind.RECTANGLE || kind == Kind.ELLIPSE;
    if (corners && points.size() != 2 || kind == Kind.POLYGON && points.size() < 3) {
      throw new IllegalArgumentException(
          "a %s needs %s corners (got %d)"
              .formatted(
                  kind.name().toLowerCase(java.util.Locale.ROOT),
                  corners ? "2" : "3 or more",
                  points.size()));
    }
    for (List<Float> p : points) {
      if (p.size() != 2 || !(Math.abs(p.get(0)) <= 10) || !(Math.abs(p.get(1)) <= 10)) {
        throw new IllegalArgumentException(
            "a corner must be two shares of the picture, -10 .. 10 (got " + p + ")");
      }
    }
  }

  /** Returns true if it is drawn. */
  public boolean shape() {
    return kind == Kind.RECTANGLE || kind == Kind.ELLIPSE || kind == Kind.POLYGON;
  }

  /** Returns values of a pass as a mask, without inversion. */
  float[] ramp(float[] values, double t) {
    double a = from.at(t), b = to.at(t);
    float[] out = new float[values.length];
    for (int i = 0; i < out.length; i++) {
      double v = values[i];
      double f = a == b ? (v >= a ? 1 : 0) : (v - a) / (b - a);
      if (Double.isInfinite(v)) {
        f = b >= a ? 1 : 0;
      }
      out[i] = (float) (f > 0 ? Math.min(1, f) : 0);
    }
    return out;
  }

  /**
   * Returns a shape as a mask, without inversion: 1 inside, 0 outside, a smooth step across its
   * edge.
   *
   * @param scale by which the picture is smaller than the full size, 0 .. 1
   */
  float[] drawn(int w, int h, double scale, double t) {
    double width = Math.max(1, soft.at(t) * scale);
    float[] out = new float[w * h];
    for (int y = 0; y < h; y++) {
      for (int x = 0; x < w; x++) {
        double f = 0.5 - distance(x + 0.5, y + 0.5, w, h) / width;
        f = Math.max(0, Math.min(1, f));
        out[y * w + x] = (float) (width > 1 ? f * f * (3 - 2 * f) : f);
      }
    }
    return out;
  }

  private double distance(double x, double y, int w, int h) {
    if (kind == Kind.POLYGON) {
      return polygon(x, y, w, h);
    }
    double x0 = points.get(0).get(0) * w, x1 = points.get(1).get(0) * w;
    double y0 = points.get(0).get(1) * h, y1 = points.get(1).get(1) * h;
    double dx = Math.abs(x - (x0 + x1) / 2), dy = Math.abs(y - (y0 + y1) / 2);
    double rx = Math.abs(x1 - x0) / 2, ry = Math.abs(y1 - y0) / 2;
    if (kind == Kind.RECTANGLE) {
      double ox = dx - rx, oy = dy - ry;
      return ox > 0 && oy > 0 ? Math.hypot(ox, oy) : Math.max(ox, oy);
    }
    if (rx == 0 || ry == 0) {
      return 1e9;
    }
    // To first order: the value over the length of its gradient.
    double v = Math.hypot(dx / rx, dy / ry);
    double g = v == 0 ? 1 / Math.min(rx, ry) : Math.hypot(dx / (rx * rx), dy / (ry * ry)) / v;
    return (v - 1) / g;
  }

  private double polygon(double x, double y, int w, int h) {
    double least = Double.MAX_VALUE;
    boolean inside = false;
    for (int i = 0, j = points.size() - 1; i < points.size(); j = i++) {
      double ax = points.get(j).get(0) * w, ay = points.get(j).get(1) * h;
      double bx = points.get(i).get(0) * w, by = points.get(i).get(1) * h;
      double ex = bx - ax, ey = by - ay, length = ex * ex + ey * ey;
      double f = length == 0 ? 0 : ((x - ax) * ex + (y - ay) * ey) / length;
      f = Math.max(0, Math.min(1, f));
      least = Math.min(least, Math.hypot(x - ax - f * ex, y - ay - f * ey));
      if ((ay > y) != (by > y) && x < ax + (y - ay) / (by - ay) * ex) {
        inside = !inside;
      }
    }
    return inside ? -least : least;
  }
}
