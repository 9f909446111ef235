package posada.core.geometry;

/**
 * Builds a binary bounding volume hierarchy over boxes by binned surface-area heuristic.
 *
 * <p>Source: I. Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies", 2007. Cost:
 * O(n log n). At most 2^26 boxes.
 *
 * <p>Node layout, 16 floats each:
 *
 * <pre>
 *  0..2  left min     3..5  left max
 *  6..8  right min    9..11 right max
 *  12    left child   13    right child, as raw int bits: a node's number if it is 0 or more,
 *                           else the complement of (first primitive * 8 + number - 1)
 * </pre>
 */
final class BvhBuilder {
  static final int NODE = 16;
  static final int LEFT = 12;
  static final int RIGHT = 13;
  private static final int BINS = 16;

  /** Below this depth ranges are halved whatever it costs, so that a ray's stack is bounded. */
  private static final int MAX_SAH_DEPTH = 48;

  /** Places a ray's stack needs for one level of hierarchy: the depth above plus log2(2^26). */
  static final int STACK = MAX_SAH_DEPTH + 32;

  /** Cost of one box test against one primitive test: measured near 1 for triangles. */
  private static final float TRAVERSAL_COST = 1.2f;

  private final float[] boxes;
  private final int maxLeaf;
  final int[] order;
  float[] nodes;
  private int nodeCount;

  private final float[] binBox = new float[BINS * 6];
  private final int[] binCount = new int[BINS];
  private final float[] rightArea = new float[BINS];

  /**
   * @param boxes six values for each primitive: min x, y, z, max x, y, z
   * @param maxLeaf most primitives in a leaf, 1 .. 8
   */
  BvhBuilder(float[] boxes, int maxLeaf) {
    this.boxes = boxes;
    this.maxLeaf = maxLeaf;
    int n = boxes.length / 6;
    if (n > 1 << 26) {
      throw new IllegalArgumentException(
          "a hierarchy holds at most 2^26 primitives (got " + n + ")");
    }
    order = new int[n];
    for (int i = 0; i < n; i++) {
      order[i] = i;
    }
    nodes = new float[Math.max(1, n) * NODE];
    nodeCount = 1;
    if (n == 0) {
      setBox(0, 0, emptyBox());
      setBox(0, 6, emptyBox());
      setRef(0, LEFT, leaf(0, 1));
      setRef(0, RIGHT, leaf(0, 1));
    } else if (n == 1) {
      setBox(0, 0, range(0, 1));
      setRef(0, LEFT, leaf(0, 1));
      setBox(0, 6, emptyBox());
      setRef(0, RIGHT, leaf(0, 1));
    } else {
      int mid = split(0, n, range(0, n), true);
      fill(0, 0, mid, n, 0);
    }
    nodes = java.util.Arrays.copyOf(nodes, nodeCount * NODE);
  }

  static int leaf(int first, int count) {
    return ~(first << 3 | (count - 1));
  }

  private void fill(int node, int from, int mid, int to, int depth) {
    child(node, 0, LEFT, from, mid, depth);
    child(node, 6, RIGHT, mid, to, depth);
  }

  private void child(int node, int boxAt, int refAt, int from, int to, int depth) {
    float[] box = range(from, to);
    setBox(node, boxAt, box);
    boolean must = to - from > maxLeaf;
    int mid = -1;
    if (must && depth >= MAX_SAH_DEPTH) {
      mid = (from + to) >>> 1;
    } else if (to - from > 1) {
      mid = split(from, to, box, must);
    }
    if (mid < 0) {
      setRef(node, refAt, leaf(from, to - from));
      return;
    }
    int next = nodeCount++;
    setRef(node, refAt, next);
    fill(next, from, mid, to, depth + 1);
  }

  /** Partitions the range; returns the start of its right part, or -1 if a leaf is cheaper. */
  private int split(int from, int to, float[] box, boolean must) {
    float[] c = centroidRange(from, to);
    int bestAxis = -1;
    int bestBin = 0;
    float bestCost = Float.POSITIVE_INFINITY;
    for (int axis = 0; axis < 3; axis++) {
      float extent = c[axis + 3] - c[axis];
      if (!(extent > 0)) {
        continue;
      }
      bin(from, to, axis, c[axis], BINS / extent);
      sweepRight();
      float[] acc = emptyBox();
      int n = 0;
      for (int b = 0; b < BINS - 1; b++) {
        grow(acc, binBox, b * 6);
        n += binCount[b];
        if (n == 0 || n == to - from) {
          continue;
        }
        float cost = area(acc) * n + rightArea[b + 1] * (to - from - n);
        if (cost < bestCost) {
          bestCost = cost;
          bestAxis = axis;
          bestBin = b;
        }
      }
    }
    if (bestAxis < 0) {
      return must ? (from + to) >>> 1 : -1;
    }
    float a = area(box);
    if (!must && bestCost + TRAVERSAL_COST * a >= a * (to - from)) {
      return -1;
    }
    return partition(
        from, to, bestAxis, c[bestAxis], BINS / (c[bestAxis + 3] - c[bestAxis]), bestBin);
  }

  private void bin(int from, int to, int axis, float origin, float scale) {
    for (int b = 0; b < BINS; b++) {
      binCount[b] = 0;
      for (int k = 0; k < 3; k++) {
        binBox[b * 6 + k] = Float.POSITIVE_INFINITY;
        binBox[b * 6 + 3 + k] = Float.NEGATIVE_INFINITY;
      }
    }
    for (int i = from; i < to; i++) {
      int p = order[i] * 6;
      int b = binOf(p, axis, origin, scale);
      binCount[b]++;
      int o = b * 6;
      for (int k = 0; k < 3; k++) {
        binBox[o + k] = Math.min(binBox[o + k], boxes[p + k]);
        binBox[o + 3 + k] = Math.max(binBox[o + 3 + k], boxes[p + 3 + k]);
      }
    }
  }

  private void sweepRight() {
    float[] acc = emptyBox();
    for (int b = BINS - 1; b > 0; b--) {
      grow(acc, binBox, b * 6);
      rightArea[b] = area(acc);
    }
  }

  private int partition(int from, int to, int axis, float origin, float scale, int lastLeft) {
    int i = from;
    int j = to - 1;
    while (i <= j) {
      if (binOf(order[i] * 6, axis, origin, scale) <= lastLeft) {
        i++;
      } else {
        int t = order[i];
        order[i] = order[j];
        order[j--] = t;
      }
    }
    return i;
  }

  private int binOf(int p, int axis, float origin, float scale) {
    float c = 0.5f * (boxes[p + axis] + boxes[p + 3 + axis]);
    return Math.max(0, Math.min(BINS - 1, (int) ((c - origin) * scale)));
  }

  private float[] range(int from, int to) {
    float[] b = emptyBox();
    for (int i = from; i < to; i++) {
      grow(b, boxes, order[i] * 6);
    }
    return b;
  }

  private float[] centroidRange(int from, int to) {
    float[] b = emptyBox();
    for (int i = from; i < to; i++) {
      int p = order[i] * 6;
      for (int k = 0; k < 3; k++) {
        float c = 0.5f * (boxes[p + k] + boxes[p + 3 + k]);
        b[k] = Math.min(b[k], c);
        b[k + 3] = Math.max(b[k + 3], c);
      }
    }
    return b;
  }

  private static float[] emptyBox() {
    float p = Float.POSITIVE_INFINITY;
    return new float[] {p, p, p, -p, -p, -p};
  }

  private static void grow(float[] a, float[] b, int o) {
    for (int k = 0; k < 3; k++) {
      a[k] = Math.min(a[k], b[o + k]);
      a[k + 3] = Math.max(a[k + 3], b[o + 3 + k]);
    }
  }

  private static float area(float[] b) {
    float x = b[3] - b[0];
    float y = b[4] - b[1];
    float z = b[5] - b[2];
    return x < 0 ? 0 : x * y + y * z + z * x;
  }

  private void setBox(int node, int at, float[] box) {
    System.arraycopy(box, 0, nodes, node * NODE + at, 6);
  }

  private void setRef(int node, int at, int ref) {
    nodes[node * NODE + at] = Float.intBitsToFloat(ref);
  }
}
