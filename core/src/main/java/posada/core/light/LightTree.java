package posada.core.light;

/**
 * Chooses one of many lights for a point, in about the logarithm of their number: at each branch
 * the side that may give the point more light is more likely. A branch knows its bounds, its power
 * and the cone of directions it shines into.
 *
 * <p>Where branches are near and wide their bounds say little. So for each point a {@link Cut} is
 * taken first: the widest promising branches are opened until what remains is small from there, or
 * single lights, which are guessed exactly.
 *
 * <p>Source: A. Conty Estevez and C. Kulla, "Importance Sampling of Many Lights with Adaptive Tree
 * Splitting", HPG 2018 (importance and the cost of a split); B. Walter et al., "Lightcuts", 2005
 * (cuts). Immutable.
 */
final class LightTree {
  /**
   * 14 floats for each node: bounds, min and max; the cone's axis; cosine of the half angle around
   * which normals lie; cosine of the angle beyond a normal up to which light goes; power; angle of
   * the first cone in radians, for building; 1 if light leaves both ways.
   */
  private static final int NODE = 14;

  private static final int MIN = 0;
  private static final int MAX = 3;
  private static final int AXIS = 6;
  private static final int COS_NORMALS = 9;
  private static final int COS_EDGE = 10;
  private static final int POWER = 11;
  private static final int ANGLE = 12;
  private static final int BOTH = 13;

  private static final int BINS = 12;

  /** Below this depth groups are halved, so that descents end. */
  private static final int MAX_DEPTH = 40;

  /** Most branches and lights of a cut. */
  static final int CUT = 16;

  /** Squared radius over squared distance up to which a branch counts as small. */
  private static final float SMALL = 0.2f;

  private final float[] nodes;

  /**
   * What a choice looks at, 12 floats for each node: middle of the bounds, squared radius; the
   * cone's axis; cosine and sine of its half angle; cosine of the edge; power; 1 if light leaves
   * both ways.
   */
  private final float[] fast;

  private static final int FAST = 12;

  /** Second child of a branch (the first is the next node), or the complement of a light. */
  private final int[] links;

  private final int[] parents;

  /** The node of each light. */
  private final int[] leaves;

  private int count;
  private final int[] order;
  private final float[] own;
  private final Guess guess;

  /** Tells how much light a single light may give to a point. */
  interface Guess {
    /**
     * Returns the irradiance, without shadows.
     *
     * @param nx normal of the lit surface; all 0 if light from both sides counts
     */
    float of(int light, float x, float y, float z, float nx, float ny, float nz);
  }

  /** Branches and lights that together are all lights, for one point: scratch of one thread. */
  static final class Cut {
    private final int[] at = new int[CUT];
    private final float[] weights = new float[CUT];

    /** True for those that may not be opened any more. */
    private final boolean[] closed = new boolean[CUT];

    private int size;

    /** Sum of the weights: the irradiance of all lights. */
    float sum;

    void copy(Cut o) {
      size = o.size;
      sum = o.sum;
      System.arraycopy(o.at, 0, at, 0, size);
      System.arraycopy(o.weights, 0, weights, 0, size);
    }
  }

  /**
   * @param guess tells what single lights give
   * @param own {@link #NODE} floats for each light, as {@link #describe} stores them
   */
  LightTree(float[] own, Guess guess) {
    this.own = own;
    this.guess = guess;
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
    fast = new float[links.length * FAST];
    for (int i = 0; i < count; i++) {
      quicken(i * NODE, i * FAST);
    }
  }

  private void quicken(int o, int f) {
    float r2 = 0;
    for (int k = 0; k < 3; k++) {
      float lo = nodes[o + MIN + k], hi = nodes[o + MAX + k];
      fast[f + k] = 0.5f * (lo + hi);
      fast[f + 4 + k] = nodes[o + AXIS + k];
      r2 += 0.25f * (hi - lo) * (hi - lo);
    }
    fast[f + 3] = r2;
    float cos = nodes[o + COS_NORMALS];
    fast[f + 7] = cos;
    fast[f + 8] = root(1 - cos * cos);
    fast[f + 9] = nodes[o + COS_EDGE];
    fast[f + 10] = nodes[o + POWER];
    fast[f + 11] = nodes[o + BOTH];
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
      return java.util.Arrays.copyOfRange(by, at, at + 6);
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

  /**
   * Returns an upper guess at the irradiance that a node gives at a point.
   *
   * @param nx normal of the lit surface; all 0 if light from both sides counts
   */
  private float importance(int node, float x, float y, float z, float nx, float ny, float nz) {
    if (links[node] < 0) {
      return guess.of(~links[node], x, y, z, nx, ny, nz);
    }
    final float[] n = fast;
    final int o = node * FAST;
    float cx = n[o] - x, cy = n[o + 1] - y, cz = n[o + 2] - z;
    float r2 = n[o + 3];
    float d2 = cx * cx + cy * cy + cz * cz;
    float power = n[o + 10];
    if (d2 <= r2) {
      return power / Math.max(r2, 1e-12f);
    }
    float inv = 1 / (float) Math.sqrt(d2);
    cx *= inv;
    cy *= inv;
    cz *= inv;
    // The angle under which the bounds are seen widens every other angle.
    float sin2 = r2 * inv * inv;
    float sinB = (float) Math.sqrt(sin2), cosB = (float) Math.sqrt(1 - sin2);
    float cosW = -(cx * n[o + 4] + cy * n[o + 5] + cz * n[o + 6]);
    if (n[o + 11] > 0) {
      cosW = Math.abs(cosW);
    }
    float cosO = n[o + 7];
    float cosP = 1;
    if (cosW < cosO) {
      float sinW = root(1 - cosW * cosW), sinO = n[o + 8];
      float cosX = cosW * cosO + sinW * sinO;
      float sinX = sinW * cosO - cosW * sinO;
      cosP = cosOfDifference(sinX, cosX, sinB, cosB);
    }
    if (cosP <= n[o + 9] || cosP <= 0) {
      return 0;
    }
    float result = power * cosP * inv * inv;
    if (nx != 0 || ny != 0 || nz != 0) {
      float cosI = cx * nx + cy * ny + cz * nz;
      result *= Math.max(0, cosOfDifference(root(1 - cosI * cosI), cosI, sinB, cosB));
    }
    return result;
  }

  private static float root(float v) {
    return v > 0 ? (float) Math.sqrt(v) : 0;
  }

  /** Cosine of max(0, a - b). */
  private static float cosOfDifference(float sinA, float cosA, float sinB, float cosB) {
    return cosA > cosB ? 1 : cosA * cosB + sinA * sinB;
  }

  /** Returns true if a branch is so near and wide that its bounds say little. */
  private boolean wide(int node, float x, float y, float z) {
    if (links[node] < 0) {
      return false;
    }
    final int o = node * FAST;
    float cx = fast[o] - x, cy = fast[o + 1] - y, cz = fast[o + 2] - z;
    return fast[o + 3] > SMALL * (cx * cx + cy * cy + cz * cz);
  }

  /**
   * Takes the cut for a point; a normal of 0 counts light from both sides.
   *
   * @param most nodes of the cut, 1 .. {@link #CUT}
   */
  void cut(float x, float y, float z, float nx, float ny, float nz, int most, Cut c) {
    c.size = 0;
    c.sum = 0;
    if (leaves.length == 0) {
      return;
    }
    put(c, 0, x, y, z, nx, ny, nz);
    while (c.size < most) {
      int best = -1;
      for (int i = 0; i < c.size; i++) {
        if (!c.closed[i] && (best < 0 || c.weights[i] > c.weights[best])) {
          best = i;
        }
      }
      if (best < 0 || !(c.weights[best] > 0)) {
        break;
      }
      int node = c.at[best];
      c.size--;
      c.at[best] = c.at[c.size];
      c.weights[best] = c.weights[c.size];
      c.closed[best] = c.closed[c.size];
      put(c, node + 1, x, y, z, nx, ny, nz);
      put(c, links[node], x, y, z, nx, ny, nz);
    }
    for (int i = 0; i < c.size; i++) {
      c.sum += c.weights[i];
    }
  }

  private void put(Cut c, int node, float x, float y, float z, float nx, float ny, float nz) {
    float w = importance(node, x, y, z, nx, ny, nz);
    if (w > 0) {
      c.at[c.size] = node;
      c.weights[c.size] = w;
      c.closed[c.size] = !wide(node, x, y, z);
      c.size++;
    }
  }

  /**
   * Chooses a light.
   *
   * @param c the point's cut
   * @param u in [0, 1)
   * @param odds one place: receives the probability of the choice
   * @return its number, or -1 if none gives light to the point
   */
  int choose(
      Cut c, float x, float y, float z, float nx, float ny, float nz, float u, float[] odds) {
    if (!(c.sum > 0)) {
      return -1;
    }
    float at = u * c.sum;
    int i = 0;
    while (i < c.size - 1 && at >= c.weights[i]) {
      at -= c.weights[i++];
    }
    int node = c.at[i];
    float p = c.weights[i] / c.sum;
    u = Math.min(0.9999999f, Math.max(0, at / c.weights[i]));
    while (links[node] >= 0) {
      float a = importance(node + 1, x, y, z, nx, ny, nz);
      float b = importance(links[node], x, y, z, nx, ny, nz);
      float sum = a + b;
      if (!(sum > 0)) {
        return -1;
      }
      float first = a / sum;
      if (u < first) {
        node++;
        p *= first;
        u = Math.min(0.9999999f, u / first);
      } else {
        node = links[node];
        p *= 1 - first;
        u = Math.min(0.9999999f, (u - first) / (1 - first));
      }
    }
    odds[0] = p;
    return p > 0 ? ~links[node] : -1;
  }

  /** Returns the probability with which {@link #choose} takes a light. */
  float odds(Cut c, int light, float x, float y, float z, float nx, float ny, float nz) {
    int node = leaves[light];
    float p = 1;
    while (p > 0) {
      for (int i = 0; i < c.size; i++) {
        if (c.at[i] == node) {
          return p * c.weights[i] / c.sum;
        }
      }
      int parent = parents[node];
      if (parent < 0) {
        return 0;
      }
      float a = importance(parent + 1, x, y, z, nx, ny, nz);
      float b = importance(links[parent], x, y, z, nx, ny, nz);
      float first = a + b > 0 ? a / (a + b) : 0;
      p *= node == parent + 1 ? first : a + b > 0 ? 1 - first : 0;
      node = parent;
    }
    return 0;
  }

  long bytes() {
    return 4L * (nodes.length + fast.length + own.length + 2L * links.length + 2L * leaves.length);
  }
}
