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
  private static final int NODE = 12;

  /** Most branches and lights of a cut. */
  static final int CUT = 16;

  /** Squared radius over squared distance up to which a branch counts as small. */
  private static final float SMALL = 0.2f;

  /**
   * What a choice looks at, 12 floats for each node: middle of the bounds, squared radius; the
   * cone's axis; cosine and sine of its half angle; cosine of the edge; power; 1 if light leaves
   * both ways.
   */
  private final float[] nodes;

  /** Second child of a branch (the first is the next node), or the complement of a light. */
  private final int[] links;

  private final int[] parents;

  /** The node of each light. */
  private final int[] leaves;

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
   * @param b the lights
   * @param guess tells what single lights give
   */
  LightTree(LightTreeBuilder b, Guess guess) {
    this.guess = guess;
    links = b.links;
    parents = b.parents;
    leaves = b.leaves;
    nodes = new float[links.length * NODE];
    for (int i = 0; i < links.length; i++) {
      store(b.nodes, i * LightTreeBuilder.NODE, i * NODE);
    }
  }

  private void store(float[] from, int o, int f) {
    float r2 = 0;
    for (int k = 0; k < 3; k++) {
      float lo = from[o + LightTreeBuilder.MIN + k], hi = from[o + LightTreeBuilder.MAX + k];
      nodes[f + k] = 0.5f * (lo + hi);
      nodes[f + 4 + k] = from[o + LightTreeBuilder.AXIS + k];
      r2 += 0.25f * (hi - lo) * (hi - lo);
    }
    nodes[f + 3] = r2;
    float cos = from[o + LightTreeBuilder.COS_NORMALS];
    nodes[f + 7] = cos;
    nodes[f + 8] = root(1 - cos * cos);
    nodes[f + 9] = from[o + LightTreeBuilder.COS_EDGE];
    nodes[f + 10] = from[o + LightTreeBuilder.POWER];
    nodes[f + 11] = from[o + LightTreeBuilder.BOTH];
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
    final float[] n = nodes;
    final int o = node * NODE;
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
    final int o = node * NODE;
    float cx = nodes[o] - x, cy = nodes[o + 1] - y, cz = nodes[o + 2] - z;
    return nodes[o + 3] > SMALL * (cx * cx + cy * cy + cz * cz);
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
    return 4L * (nodes.length + 2L * links.length + leaves.length);
  }
}
