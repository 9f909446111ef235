package posada.core.irradiance;

import java.util.Arrays;
import java.util.Comparator;
import java.util.stream.IntStream;

/**
 * Finds the points whose reach covers a place: an octree for each of the six sides that surfaces
 * face, whose leaves list all points that count anywhere in them. Immutable; safe for several
 * threads.
 */
public final class PointIndex {
  /** A point counts up to this many radii away. */
  static final float REACH = 2;

  /** A cube with more points than this is cut in eight. */
  private static final int FEW = 20;

  /** A cube whose side is below this part of its points' smallest reach is left whole. */
  private static final float SMALL = 0.5f;

  private static final int DEEPEST = 16;
  private static final int SIDES = 6;

  /**
   * Least cosine to a side of normals that help one that faces it most: that one is up to 54.7
   * degrees off, and they are up to 25.8 off that.
   */
  private static final float ALSO = 0.16f;

  /**
   * Numbers of a disc: centre, normal, one over the squared reach, 1 if nothing stands within it.
   */
  static final int DISC = 8;

  private final float[] discs;

  /** The cube around everything. */
  private final float x0, y0, z0, size;

  /** Of each cube its first child, or the complement of where its list begins. */
  private int[] nodes = new int[1024];

  /** Lists of points, each behind its length. */
  private int[] lists = new int[4096];

  private int nodeCount = SIDES;
  private int listEnd;

  public PointIndex(LightPoints p) {
    int n = p.count();
    discs = new float[n * DISC];
    float[] box = {0, 0, 0, 0, 0, 0};
    // The smallest first: who takes the first few gets those that know the place best.
    int[] all =
        IntStream.range(0, n)
            .boxed()
            .sorted(Comparator.comparingDouble(p::radius))
            .mapToInt(i -> i)
            .toArray();
    for (int i = 0; i < n; i++) {
      float reach = REACH * p.radius(i);
      for (int k = 0; k < 6; k++) {
        discs[i * DISC + k] = p.get(i, k);
      }
      discs[i * DISC + 6] = 1 / (reach * reach);
      boolean free = true;
      for (int s = 0; s < LightPoints.SECTORS; s++) {
        free &= p.get(i, LightPoints.CLEARANCE + s) >= reach;
      }
      discs[i * DISC + 7] = free ? 1 : 0;
      for (int k = 0; k < 3; k++) {
        float at = p.get(i, k);
        box[k] = i == 0 ? at - reach : Math.min(box[k], at - reach);
        box[3 + k] = i == 0 ? at + reach : Math.max(box[3 + k], at + reach);
      }
    }
    x0 = box[0];
    y0 = box[1];
    z0 = box[2];
    size = Math.max(1e-3f, Math.max(box[3] - x0, Math.max(box[4] - y0, box[5] - z0)));
    for (int side = 0; side < SIDES; side++) {
      int s = side;
      int[] facing = Arrays.stream(all).filter(i -> component(s, i) > ALSO).toArray();
      build(side, facing, x0, y0, z0, size, 0);
    }
    nodes = Arrays.copyOf(nodes, nodeCount);
    lists = Arrays.copyOf(lists, listEnd);
  }

  private float component(int side, int i) {
    float c = discs[i * DISC + 3 + side % 3];
    return side < 3 ? c : -c;
  }

  private void build(int node, int[] points, float x, float y, float z, float side, int depth) {
    if (points.length <= FEW || depth == DEEPEST || side < SMALL * least(points)) {
      if (listEnd + points.length + 1 > lists.length) {
        lists = Arrays.copyOf(lists, 2 * (listEnd + points.length + 1));
      }
      nodes[node] = ~listEnd;
      lists[listEnd++] = points.length;
      System.arraycopy(points, 0, lists, listEnd, points.length);
      listEnd += points.length;
      return;
    }
    int first = nodeCount;
    nodeCount += 8;
    if (nodeCount > nodes.length) {
      nodes = Arrays.copyOf(nodes, 2 * nodeCount);
    }
    nodes[node] = first;
    float half = side / 2;
    for (int k = 0; k < 8; k++) {
      float cx = x + (k & 1) * half, cy = y + (k >> 1 & 1) * half, cz = z + (k >> 2) * half;
      int[] in =
          Arrays.stream(points)
              .filter(i -> touches(i, cx + half / 2, cy + half / 2, cz + half / 2, half / 2))
              .toArray();
      build(first + k, in, cx, cy, cz, half, depth + 1);
    }
  }

  /** Returns the smallest reach. */
  private float least(int[] points) {
    float most = 0;
    for (int i : points) {
      most = Math.max(most, discs[i * DISC + 6]);
    }
    return 1 / (float) Math.sqrt(most);
  }

  /** Returns whether a cube meets the flat disc in which a point counts, or nearly does. */
  private boolean touches(int i, float x, float y, float z, float half) {
    int at = i * DISC;
    float dx = x - discs[at], dy = y - discs[at + 1], dz = z - discs[at + 2];
    float reach = 1 / (float) Math.sqrt(discs[at + 6]);
    float ex = Math.max(0, Math.abs(dx) - half);
    float ey = Math.max(0, Math.abs(dy) - half);
    float ez = Math.max(0, Math.abs(dz) - half);
    if (ex * ex + ey * ey + ez * ez > reach * reach) {
      return false;
    }
    float nx = discs[at + 3], ny = discs[at + 4], nz = discs[at + 5];
    float height = Math.abs(dx * nx + dy * ny + dz * nz);
    float thick = half * (Math.abs(nx) + Math.abs(ny) + Math.abs(nz));
    // Heights are measured along the mean of two normals that may differ by 26 degrees.
    return height < LightLookup.SLANTED * reach + thick;
  }

  /** Returns which of the six sides a unit normal faces most. */
  public static int side(float nx, float ny, float nz) {
    float x = Math.abs(nx), y = Math.abs(ny), z = Math.abs(nz);
    int axis = x >= y && x >= z ? 0 : y >= z ? 1 : 2;
    float c = axis == 0 ? nx : axis == 1 ? ny : nz;
    return c >= 0 ? axis : axis + 3;
  }

  /** Returns where the list of points for a place begins, its length first; -1 for none. */
  int list(float x, float y, float z, float nx, float ny, float nz) {
    float u = (x - x0) / size, v = (y - y0) / size, w = (z - z0) / size;
    if (!(u >= 0 && u < 1 && v >= 0 && v < 1 && w >= 0 && w < 1)) {
      return -1;
    }
    // The bits of the place, from the first on, are the way down.
    int a = (int) (u * (1 << DEEPEST)), b = (int) (v * (1 << DEEPEST));
    int c = (int) (w * (1 << DEEPEST));
    int node = nodes[side(nx, ny, nz)];
    for (int bit = DEEPEST - 1; node >= 0; bit--) {
      node = nodes[node + (a >> bit & 1 | (b >> bit & 1) << 1 | (c >> bit & 1) << 2)];
    }
    return ~node;
  }

  int[] lists() {
    return lists;
  }

  /** Returns what decides whether points count, {@link #DISC} numbers for each. */
  float[] discs() {
    return discs;
  }

  /** Returns the bytes that it takes. */
  long bytes() {
    return 4L * (nodes.length + lists.length + discs.length);
  }
}
