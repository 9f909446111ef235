package posada.core.light;

import java.util.Arrays;

/**
 * Makes the tree of a {@link LightTree}: groups of lights are cut in two where power times surface
 * is least on both sides, and each branch gets bounds, power and a cone around those of its parts.
 *
 * <p>Source: A. Conty Estevez and C. Kulla, "Importance Sampling of Many Lights with Adaptive Tree
 * Splitting", HPG 2018.
 */
final class LightTreeBuilder {
  /**
   * 14 floats for each node: bounds, min and max; the cone's axis; cosine of the half angle around
   * which normals lie; cosine of the angle beyond a normal up to which light goes; power; angle of
   * the first cone in radians, for building; 1 if light leaves both ways.
   */
  static final int NODE = 14;

  static final int MIN = 0;
  static final int MAX = 3;
  static final int AXIS = 6;
  static final int COS_NORMALS = 9;
  static final int COS_EDGE = 10;
  static final int POWER = 11;
  private static final int ANGLE = 12;
  static final int BOTH = 13;

  private static final int BINS = 12;

  /** Below this depth groups are halved, so that descents end. */
  private static final int MAX_DEPTH = 40;

  final float[] nodes;

  /** Second child of a branch (the first is the next node), or the complement of a light. */
  final int[] links;

  final int[] parents;

  /** The node of each light. */
  final int[] leaves;

  private int count;
  private final int[] order;
  private final float[] own;

  /**
   * @param own {@link #NODE} floats for each light, as {@link #describe} stores them
   */
  LightTreeBuilder(float[] own) {
    this.own = own;
    int n = own.length / NODE;
    nodes = new float[Math.max(1, 2 * n - 1) * NODE];
    links = new int[Math.max(1, 2 * n - 1)];
    parents = new int[links.length];
    leaves = new int[n];
    order = new int[n];
    for (int i = 0; i < n; i++) {
      order[i] = i;
    }
    if (n > 0) {
      build(0, n, -1, 0);
    }
  }

  /**
   * Stores a light's entry.
   *
   * @param at number of the light
   * @param angle half angle of the cone of normals, radians
   * @param edge angle beyond a normal up to which it shines, radians, at most a quarter turn
   */
  static void describe(
      float[] own,
      int at,
      float[] min,
      float[] max,
      float[] axis,
      double angle,
      double edge,
      float power,
      boolean both) {
    int o = at * NODE;
    System.arraycopy(min, 0, own, o + MIN, 3);
    System.arraycopy(max, 0, own, o + MAX, 3);
    System.arraycopy(axis, 0, own, o + AXIS, 3);
    own[o + COS_NORMALS] = (float) StrictMath.cos(angle);
    own[o + COS_EDGE] = (float) StrictMath.cos(edge);
    own[o + POWER] = power;
    own[o + ANGLE] = (float) angle;
    own[o + BOTH] = both ? 1 : 0;
  }

  static float[] room(int lights) {
    return new float[lights * NODE];
  }

  private int build(int from, int to, int parent, int depth) {
    int me = count++;
    parents[me] = parent;
    if (to - from == 1) {
      System.arraycopy(own, order[from] * NODE, nodes, me * NODE, NODE);
      links[me] = ~order[from];
      leaves[order[from]] = me;
      return me;
    }
    int mid = split(from, to, depth);
    int first = build(from, mid, me, depth + 1);
    int second = build(mid, to, me, depth + 1);
    links[me] = second;
    merge(me, first, second);
    return me;
  }

  private float centre(int light, int axis) {
    return own[light * NODE + MIN + axis] + own[light * NODE + MAX + axis];
  }

  private int split(int from, int to, int depth) {
    float[] lo = {Float.POSITIVE_INFINITY, Float.POSITIVE_INFINITY, Float.POSITIVE_INFINITY};
    float[] hi = {Float.NEGATIVE_INFINITY, Float.NEGATIVE_INFINITY, Float.NEGATIVE_INFINITY};
    for (int i = from; i < to; i++) {
      for (int a = 0; a < 3; a++) {
        lo[a] = Math.min(lo[a], centre(order[i], a));
        hi[a] = Math.max(hi[a], centre(order[i], a));
      }
    }
    int axis = 0;
    for (int a = 1; a < 3; a++) {
      axis = hi[a] - lo[a] > hi[axis] - lo[axis] ? a : axis;
    }
    if (!(hi[axis] > lo[axis]) || depth >= MAX_DEPTH) {
      return (from + to) >>> 1;
    }
    float scale = BINS * (1 - 1e-5f) / (hi[axis] - lo[axis]);
    int cut = cheapest(from, to, axis, lo[axis], scale);
    int i = from;
    for (int j = from; j < to; j++) {
      if ((int) ((centre(order[j], axis) - lo[axis]) * scale) <= cut) {
        int t = order[i];
        order[i++] = order[j];
        order[j] = t;
      }
    }
    return i;
  }

  /** Returns the last bin of the first half: least power times surface on both sides. */
  private int cheapest(int from, int to, int axis, float origin, float scale) {
    float[][] box = new float[BINS][];
    double[] power = new double[BINS];
    for (int i = from; i < to; i++) {
      int b = (int) ((centre(order[i], axis) - origin) * scale);
      box[b] = grown(box[b], own, order[i] * NODE);
      power[b] += own[order[i] * NODE + POWER];
    }
    double[] after = new double[BINS];
    float[] sum = null;
    double p = 0;
    for (int b = BINS - 1; b > 0; b--) {
      sum = box[b] == null ? sum : grown(sum, box[b], 0);
      p += power[b];
      after[b] = p * surface(sum);
    }
    sum = null;
    p = 0;
    double best = Double.POSITIVE_INFINITY;
    int cut = 0;
    for (int b = 0; b < BINS - 1; b++) {
      sum = box[b] == null ? sum : grown(sum, box[b], 0);
      p += power[b];
      double cost = p * surface(sum) + after[b + 1];
      if (cost < best) {
        best = cost;
        cut = b;
      }
    }
    return cut;
  }

  private static float[] grown(float[] box, float[] by, int at) {
    if (box == null) {
      return Arrays.copyOfRange(by, at, at + 6);
    }
    for (int k = 0; k < 3; k++) {
      box[k] = Math.min(box[k], by[at + k]);
      box[3 + k] = Math.max(box[3 + k], by[at + 3 + k]);
    }
    return box;
  }

  private static double surface(float[] b) {
    if (b == null) {
      return 0;
    }
    double x = b[3] - b[0], y = b[4] - b[1], z = b[5] - b[2];
    return x * y + y * z + z * x + 1e-12;
  }

  private void merge(int to, int a, int b) {
    int o = to * NODE, p = a * NODE, q = b * NODE;
    for (int k = 0; k < 3; k++) {
      nodes[o + MIN + k] = Math.min(nodes[p + MIN + k], nodes[q + MIN + k]);
      nodes[o + MAX + k] = Math.max(nodes[p + MAX + k], nodes[q + MAX + k]);
    }
    nodes[o + POWER] = nodes[p + POWER] + nodes[q + POWER];
    nodes[o + COS_EDGE] = Math.min(nodes[p + COS_EDGE], nodes[q + COS_EDGE]);
    nodes[o + BOTH] = Math.max(nodes[p + BOTH], nodes[q + BOTH]);
    cone(o, p, q);
  }

  /** The smallest cone around two cones. */
  private void cone(int o, int p, int q) {
    if (nodes[p + ANGLE] < nodes[q + ANGLE]) {
      int t = p;
      p = q;
      q = t;
    }
    double a = nodes[p + ANGLE], b = nodes[q + ANGLE];
    double dot = 0;
    for (int k = 0; k < 3; k++) {
      dot += (double) nodes[p + AXIS + k] * nodes[q + AXIS + k];
    }
    double between = StrictMath.acos(Math.max(-1, Math.min(1, dot)));
    double angle = a;
    System.arraycopy(nodes, p + AXIS, nodes, o + AXIS, 3);
    if (Math.min(between + b, Math.PI) > a) {
      angle = (a + between + b) / 2;
      if (angle >= Math.PI || between < 1e-6) {
        angle = Math.min(Math.PI, angle);
      } else {
        turn(o, p, q, between, angle - a);
      }
    }
    nodes[o + ANGLE] = (float) Math.min(Math.PI, angle + 1e-4);
    nodes[o + COS_NORMALS] = (float) StrictMath.cos(nodes[o + ANGLE]);
  }

  /** Turns the axis at p towards that at q by an angle. */
  private void turn(int o, int p, int q, double between, double by) {
    double s = StrictMath.sin(between);
    if (s < 1e-9) {
      // Opposite axes: any direction across will do, the cone is as good as the whole sphere.
      nodes[o + ANGLE] = (float) Math.PI;
      return;
    }
    double wp = StrictMath.sin(between - by) / s, wq = StrictMath.sin(by) / s;
    for (int k = 0; k < 3; k++) {
      nodes[o + AXIS + k] = (float) (wp * nodes[p + AXIS + k] + wq * nodes[q + AXIS + k]);
    }
  }
}
