package posada.core.geometry;

import java.util.Arrays;
import java.util.concurrent.ConcurrentLinkedDeque;
import java.util.concurrent.atomic.AtomicInteger;
import posada.core.parallel.Workers;

/**
 * Builds a binary bounding volume hierarchy over boxes by binned surface-area heuristic.
 *
 * <p>Source: I. Wald, "On fast Construction of SAH-based Bounding Volume Hierarchies", 2007. Cost:
 * O(n log n), spread over the workers; at most 2^26 boxes. The tree does not depend on the number
 * of workers: a range of n boxes owns the n - 1 nodes from its own on, so that its two parts, at
 * {@code node + 1} and {@code node + boxes left}, can be built side by side without locks.
 *
 * <p>Node layout, 16 floats each:
 *
 * <pre>
 *  0..2  left min     3..5  left max
 *  6..8  right min    9..11 right max
 *  12    left child   13    right child, as raw int bits: a node's number if it is 0 or more,
 *                           else the complement of (first box * 8 + number of boxes)
 * </pre>
 */
final class BvhBuilder {
  static final int NODE = 16;
  static final int LEFT = 12;
  static final int RIGHT = 13;
  static final int MAX_PRIMITIVES = 1 << 26;

  /** A box being sorted: min x, y, z, number as raw int bits, max x, y, z, unused. */
  private static final int RECORD = 8;

  private static final int BINS = 16;

  /** Below this depth ranges are halved whatever it costs, so that a ray's stack is bounded. */
  private static final int MAX_SAH_DEPTH = 48;

  /** Levels of a hierarchy at most: the depth above plus log2(2^26). */
  static final int MAX_DEPTH = MAX_SAH_DEPTH + 27;

  /**
   * What a walk spends.
   *
   * @param maxLeaf most primitives in a leaf, 1 .. 7
   * @param block primitives that are tested at a time
   * @param node cost of visiting a node against testing one block
   */
  record Costs(int maxLeaf, int block, float node) {
    /** One primitive in every leaf. */
    static final Costs SINGLE = new Costs(1, 1, 1);

    int tests(int primitives) {
      return (primitives + block - 1) / block;
    }
  }

  /** Ranges above this many boxes are offered to other workers. */
  private static final int SHARED_RANGE = 4096;

  private final Costs costs;
  private final float[] records;
  private final ConcurrentLinkedDeque<Range> shared = new ConcurrentLinkedDeque<>();
  private final AtomicInteger open = new AtomicInteger();

  /**
   * Nodes, with gaps where a range became a leaf before it used its share; the first is the top.
   */
  final float[] nodes;

  /** One box's range: its own bounds and those of its centres, doubled, 6 values each. */
  private record Range(int node, int from, int to, int depth, float[] box, float[] centres) {}

  /**
   * @param boxes six values for each primitive: min x, y, z, max x, y, z; finite
   */
  BvhBuilder(float[] boxes, Costs costs, Workers workers) {
    this.costs = costs;
    int n = boxes.length / 6;
    if (n > MAX_PRIMITIVES) {
      throw new IllegalArgumentException(
          "a hierarchy holds at most 2^26 primitives (got " + n + ")");
    }
    records = new float[n * RECORD];
    nodes = new float[Math.max(1, n) * NODE];
    if (n < 2) {
      setChild(0, 0, LEFT, emptyBox(), leaf(0, 0));
      setChild(0, 6, RIGHT, emptyBox(), leaf(0, 0));
      if (n == 1) {
        copy(boxes, 0, 1);
        setChild(0, 0, LEFT, Arrays.copyOf(boxes, 6), leaf(0, 1));
      }
      return;
    }
    int chunk = 1 << 14;
    int chunks = (n + chunk - 1) / chunk;
    float[][] part = new float[chunks][];
    workers.each(chunks, c -> part[c] = copy(boxes, c * chunk, Math.min(n, (c + 1) * chunk)));
    float[] all = part[0];
    for (int c = 1; c < chunks; c++) {
      grow(all, 0, part[c], 0);
      grow(all, 6, part[c], 6);
    }
    open.set(1);
    shared.add(new Range(0, 0, n, 0, Arrays.copyOf(all, 6), Arrays.copyOfRange(all, 6, 12)));
    workers.each(workers.count(), w -> new Splitter().run(workers.check()));
  }

  static int leaf(int first, int count) {
    return ~(first << 3 | count);
  }

  static int leafFirst(int ref) {
    return ~ref >>> 3;
  }

  static int leafCount(int ref) {
    return ~ref & 7;
  }

  /** Returns the number of the primitive that ended at a place. */
  int primitive(int place) {
    return Float.floatToRawIntBits(records[place * RECORD + 3]);
  }

  private float[] copy(float[] boxes, int from, int to) {
    float[] all = new float[12];
    System.arraycopy(emptyBox(), 0, all, 0, 6);
    System.arraycopy(emptyBox(), 0, all, 6, 6);
    for (int i = from; i < to; i++) {
      int r = i * RECORD;
      records[r + 3] = Float.intBitsToFloat(i);
      for (int k = 0; k < 3; k++) {
        float lo = boxes[i * 6 + k], hi = boxes[i * 6 + 3 + k];
        records[r + k] = lo;
        records[r + 4 + k] = hi;
        float c = lo + hi;
        all[k] = lo < all[k] ? lo : all[k];
        all[3 + k] = hi > all[3 + k] ? hi : all[3 + k];
        all[6 + k] = c < all[6 + k] ? c : all[6 + k];
        all[9 + k] = c > all[9 + k] ? c : all[9 + k];
      }
    }
    return all;
  }

  /** One worker's part of the build, with its scratch. */
  private final class Splitter {
    private final float[] bins = new float[3 * BINS * 6];
    private final int[] counts = new int[3 * BINS];
    private final float[] rightArea = new float[BINS];
    private final float[] sweep = new float[6];
    private int axis, lastLeft, binCount;

    void run(Runnable check) {
      while (open.get() > 0) {
        check.run();
        Range r = shared.pollFirst();
        if (r == null) {
          Thread.onSpinWait();
          continue;
        }
        try {
          inner(r);
        } finally {
          open.decrementAndGet();
        }
      }
    }

    /** Fills the node of a range that is known to be split. */
    private void inner(Range r) {
      if (!chooseSplit(r)) {
        axis = -1;
      }
      divide(r);
    }

    private void divide(Range r) {
      float[] leftCentres = emptyBox();
      float[] rightCentres = emptyBox();
      float[] leftBox = emptyBox();
      float[] rightBox = emptyBox();
      int mid;
      if (axis < 0) {
        mid = (r.from + r.to) >>> 1;
        for (int i = r.from; i < r.to; i++) {
          addRecord(i, i < mid ? leftBox : rightBox, i < mid ? leftCentres : rightCentres);
        }
      } else {
        int o = axis * BINS * 6;
        for (int b = 0; b < binCount; b++) {
          grow(b <= lastLeft ? leftBox : rightBox, 0, bins, o + b * 6);
        }
        mid = partition(r, leftCentres, rightCentres);
      }
      child(r, 0, LEFT, new Range(r.node + 1, r.from, mid, r.depth + 1, leftBox, leftCentres));
      child(
          r,
          6,
          RIGHT,
          new Range(r.node + mid - r.from, mid, r.to, r.depth + 1, rightBox, rightCentres));
    }

    private void child(Range parent, int boxAt, int refAt, Range c) {
      int n = c.to - c.from;
      boolean must = n > costs.maxLeaf;
      boolean split = must || n > 1 && c.depth < MAX_SAH_DEPTH;
      if (split && c.depth >= MAX_SAH_DEPTH) {
        axis = -1;
      } else if (split && !chooseSplit(c)) {
        axis = -1;
        split = must;
      }
      if (!split) {
        setChild(parent.node, boxAt, refAt, c.box, leaf(c.from, n));
        return;
      }
      setChild(parent.node, boxAt, refAt, c.box, c.node);
      if (n > SHARED_RANGE) {
        open.incrementAndGet();
        shared.addFirst(c);
      } else {
        divide(c);
      }
    }

    /**
     * Finds the cheapest split; returns false if a leaf is cheaper or nothing can be told apart.
     */
    private boolean chooseSplit(Range r) {
      int n = r.to - r.from;
      binCount = Math.min(BINS, Math.max(4, n));
      bin(r);
      float best = Float.POSITIVE_INFINITY;
      axis = -1;
      for (int a = 0; a < 3; a++) {
        if (r.centres[a + 3] > r.centres[a]) {
          best = sweep(a, n, best);
        }
      }
      if (axis < 0) {
        return false;
      }
      float area = area(r.box, 0);
      return n > costs.maxLeaf || best + costs.node * area < area * costs.tests(n);
    }

    private float sweep(int a, int n, float best) {
      int o = a * BINS * 6;
      setEmpty(sweep, 0);
      for (int b = binCount - 1; b > 0; b--) {
        grow(sweep, 0, bins, o + b * 6);
        rightArea[b] = area(sweep, 0);
      }
      setEmpty(sweep, 0);
      int left = 0;
      for (int b = 0; b < binCount - 1; b++) {
        grow(sweep, 0, bins, o + b * 6);
        left += counts[a * BINS + b];
        if (left == 0 || left == n) {
          continue;
        }
        float cost = area(sweep, 0) * costs.tests(left) + rightArea[b + 1] * costs.tests(n - left);
        if (cost < best) {
          best = cost;
          axis = a;
          lastLeft = b;
        }
      }
      return best;
    }

    private void bin(Range r) {
      for (int a = 0; a < 3; a++) {
        for (int b = a * BINS; b < a * BINS + binCount; b++) {
          setEmpty(bins, b * 6);
          counts[b] = 0;
        }
      }
      final float[] c = r.centres;
      final float sx = scale(c, 0), sy = scale(c, 1), sz = scale(c, 2);
      final float x0 = c[0], y0 = c[1], z0 = c[2];
      for (int i = r.from, p = r.from * RECORD; i < r.to; i++, p += RECORD) {
        final float lx = records[p], ly = records[p + 1], lz = records[p + 2];
        final float hx = records[p + 4], hy = records[p + 5], hz = records[p + 6];
        put((int) ((lx + hx - x0) * sx), lx, ly, lz, hx, hy, hz);
        put(BINS + (int) ((ly + hy - y0) * sy), lx, ly, lz, hx, hy, hz);
        put(2 * BINS + (int) ((lz + hz - z0) * sz), lx, ly, lz, hx, hy, hz);
      }
    }

    /** Bins for each unit; a hair less than all of them, so that the last box stays inside. */
    private float scale(float[] centres, int a) {
      float extent = centres[a + 3] - centres[a];
      return extent > 0 ? binCount * (1 - 1e-5f) / extent : 0;
    }

    private void put(int bin, float lx, float ly, float lz, float hx, float hy, float hz) {
      final float[] b = bins;
      final int o = bin * 6;
      counts[bin]++;
      if (lx < b[o]) {
        b[o] = lx;
      }
      if (ly < b[o + 1]) {
        b[o + 1] = ly;
      }
      if (lz < b[o + 2]) {
        b[o + 2] = lz;
      }
      if (hx > b[o + 3]) {
        b[o + 3] = hx;
      }
      if (hy > b[o + 4]) {
        b[o + 4] = hy;
      }
      if (hz > b[o + 5]) {
        b[o + 5] = hz;
      }
    }

    /** Moves the boxes of the left bins to the front; returns where the right ones begin. */
    private int partition(Range r, float[] leftCentres, float[] rightCentres) {
      final float origin = r.centres[axis], scale = scale(r.centres, axis);
      int i = r.from;
      int j = r.to - 1;
      while (i <= j) {
        int p = i * RECORD;
        if ((int) ((records[p + axis] + records[p + 4 + axis] - origin) * scale) <= lastLeft) {
          addCentre(p, leftCentres);
          i++;
        } else {
          addCentre(p, rightCentres);
          int q = j-- * RECORD;
          for (int k = 0; k < RECORD - 1; k++) {
            float t = records[p + k];
            records[p + k] = records[q + k];
            records[q + k] = t;
          }
        }
      }
      return i;
    }

    private void addCentre(int p, float[] c) {
      for (int k = 0; k < 3; k++) {
        float v = records[p + k] + records[p + 4 + k];
        if (v < c[k]) {
          c[k] = v;
        }
        if (v > c[k + 3]) {
          c[k + 3] = v;
        }
      }
    }

    private void addRecord(int i, float[] box, float[] centres) {
      int p = i * RECORD;
      for (int k = 0; k < 3; k++) {
        box[k] = Math.min(box[k], records[p + k]);
        box[k + 3] = Math.max(box[k + 3], records[p + 4 + k]);
      }
      addCentre(p, centres);
    }
  }

  private void setChild(int node, int boxAt, int refAt, float[] box, int ref) {
    System.arraycopy(box, 0, nodes, node * NODE + boxAt, 6);
    nodes[node * NODE + refAt] = Float.intBitsToFloat(ref);
  }

  static float[] emptyBox() {
    float[] box = new float[6];
    setEmpty(box, 0);
    return box;
  }

  static void setEmpty(float[] box, int at) {
    box[at] = box[at + 1] = box[at + 2] = Float.POSITIVE_INFINITY;
    box[at + 3] = box[at + 4] = box[at + 5] = Float.NEGATIVE_INFINITY;
  }

  /** Widens the box at {@code i} by the box at {@code j}. */
  static void grow(float[] a, int i, float[] b, int j) {
    if (b[j] < a[i]) {
      a[i] = b[j];
    }
    if (b[j + 1] < a[i + 1]) {
      a[i + 1] = b[j + 1];
    }
    if (b[j + 2] < a[i + 2]) {
      a[i + 2] = b[j + 2];
    }
    if (b[j + 3] > a[i + 3]) {
      a[i + 3] = b[j + 3];
    }
    if (b[j + 4] > a[i + 4]) {
      a[i + 4] = b[j + 4];
    }
    if (b[j + 5] > a[i + 5]) {
      a[i + 5] = b[j + 5];
    }
  }

  /** Returns half the surface of a box, 0 if it is empty. */
  static float area(float[] b, int o) {
    float x = b[o + 3] - b[o];
    float y = b[o + 4] - b[o + 1];
    float z = b[o + 5] - b[o + 2];
    return x < 0 ? 0 : x * y + y * z + z * x;
  }
}
