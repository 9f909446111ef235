package posada.core.trace.preview;

import java.util.Arrays;
import posada.core.geometry.Vec3;
import posada.core.scene.Primitive;
import posada.core.trace.stage.Instance;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/**
 * Finds the triangle that each pixel's middle sees by projecting all of them onto the picture: what
 * a ray through each middle would meet, for much less as long as there are not many more triangles
 * than pixels. For views in perspective without a lens. Scratch of one thread.
 *
 * <p>Source: J. Pineda, "A Parallel Algorithm for Polygon Rasterization", SIGGRAPH 1988.
 */
final class Projector {
  /** Nothing nearer to the eye than this is seen, metres. */
  private static final double NEAR = 1e-4;

  /** Triangles up to this many pixels wide, less one, are tested pixel by pixel. */
  private static final int NARROW = 3;

  /** Pixels by which a middle may miss a side and still count, so that no two sides leave a gap. */
  private static final double ON_SIDE = 1e-7;

  /** Weights of a whole triangle's second and third corner at its corners. */
  private static final float[] WHOLE = {0, 0, 1, 0, 0, 1};

  private final int width, height;

  /** One over the depth along the view axis; 0 where nothing is. */
  private final float[] nearness;

  /**
   * What each pixel sees, side by side since it is read and written together: the instance, the
   * triangle of its mesh times two, plus one if its front is seen, raw bits of the weights of the
   * second and third corner.
   */
  private final int[] seen;

  private static final int EACH = 4;

  /** Corners in the picture: x, y, one over depth (0 if too near or behind). */
  private float[] placed = new float[0];

  /** From the mesh to the eye: right, up, forward; rows of 4. */
  private final double[] toEye = new double[12];

  /** A triangle's corners before the eye, up to four once it is cut: right, up, forward, u, v. */
  private final double[] corners = new double[20];

  private final double[] cut = new double[20];

  /** Part of a triangle that was cut: its corners as placed, and their weights. */
  private final float[] part = new float[9];

  private final float[] partWeights = new float[6];

  /** Pixels for each metre at a depth of 1 m. */
  private double scale;

  private float hand;

  /** The instance being projected, the first triangle of its primitive, and the triangle. */
  private int current, first, triangle;

  Projector(View view) {
    width = view.width;
    height = view.height;
    nearness = new float[width * height];
    seen = new int[EACH * width * height];
  }

  /** Projects all triangles of a stage, near instances first. */
  void project(Stage stage, View view) {
    Arrays.fill(nearness, 0);
    scale = height / view.height(1);
    Instance[] all = stage.instances;
    long[] order = new long[all.length];
    int n = 0;
    for (int i = 0; i < all.length; i++) {
      view.toEye(all[i].place(0, null), toEye);
      Vec3 c = all[i].mesh.bounds.centre();
      double depth = Math.max(0, eye(8, c.x(), c.y(), c.z()));
      if (inside(all[i])) {
        order[n++] = (long) Float.floatToRawIntBits((float) depth) << 32 | i;
      }
    }
    Arrays.sort(order, 0, n);
    for (int k = 0; k < n; k++) {
      current = (int) order[k];
      Instance in = all[current];
      view.toEye(in.place(0, null), toEye);
      hand = in.hand;
      for (int p = 0; p < in.primitives.size(); p++) {
        first = in.mesh.firstTriangle(p);
        primitive(in.primitives.get(p));
      }
    }
  }

  /** Returns the number of the instance that a pixel sees; -1 for none. */
  int instance(int i) {
    return nearness[i] == 0 ? -1 : seen[EACH * i];
  }

  /** Returns the number of the triangle in its mesh. */
  int triangle(int i) {
    return seen[EACH * i + 1] >> 1;
  }

  /** Returns true if its front is seen. */
  boolean front(int i) {
    return (seen[EACH * i + 1] & 1) != 0;
  }

  /** Returns the depth along the view axis, metres. */
  float depth(int i) {
    return 1 / nearness[i];
  }

  /** Returns the weight of the triangle's second corner. */
  float u(int i) {
    return Float.intBitsToFloat(seen[EACH * i + 2]);
  }

  /** Returns the weight of its third corner. */
  float v(int i) {
    return Float.intBitsToFloat(seen[EACH * i + 3]);
  }

  /** Returns false if an instance's box lies wholly outside one side of the picture. */
  private boolean inside(Instance in) {
    Vec3 lo = in.mesh.bounds.min();
    Vec3 hi = in.mesh.bounds.max();
    int outside = 31;
    double sx = width / 2.0 / scale, sy = height / 2.0 / scale;
    for (int k = 0; k < 8 && outside != 0; k++) {
      double x = (k & 1) == 0 ? lo.x() : hi.x();
      double y = (k & 2) == 0 ? lo.y() : hi.y();
      double z = (k & 4) == 0 ? lo.z() : hi.z();
      double r = eye(0, x, y, z), t = eye(4, x, y, z), f = eye(8, x, y, z);
      outside &=
          (r < -sx * f ? 1 : 0)
              | (r > sx * f ? 2 : 0)
              | (t < -sy * f ? 4 : 0)
              | (t > sy * f ? 8 : 0)
              | (f < NEAR ? 16 : 0);
    }
    return outside == 0;
  }

  private double eye(int row, double x, double y, double z) {
    return toEye[row] * x + toEye[row + 1] * y + toEye[row + 2] * z + toEye[row + 3];
  }

  private void primitive(Primitive p) {
    float[] at = p.positions();
    if (placed.length < at.length) {
      placed = new float[at.length];
    }
    final float[] q = placed;
    final float rx = (float) toEye[0], ry = (float) toEye[1], rz = (float) toEye[2];
    final float ux = (float) toEye[4], uy = (float) toEye[5], uz = (float) toEye[6];
    final float fx = (float) toEye[8], fy = (float) toEye[9], fz = (float) toEye[10];
    final float r = (float) toEye[3], t = (float) toEye[7], f = (float) toEye[11];
    final float middleX = width / 2f, middleY = height / 2f, k = (float) scale;
    for (int i = 0; i < at.length; i += 3) {
      float x = at[i], y = at[i + 1], z = at[i + 2];
      float w = 1 / (fx * x + fy * y + fz * z + f);
      q[i] = middleX + k * w * (rx * x + ry * y + rz * z + r);
      q[i + 1] = middleY - k * w * (ux * x + uy * y + uz * z + t);
      q[i + 2] = w > 0 && w < 1 / NEAR ? w : 0;
    }
    int[] indices = p.indices();
    for (int i = 0; i < indices.length; i += 3) {
      int a = indices[i] * 3, b = indices[i + 1] * 3, c = indices[i + 2] * 3;
      triangle = first + i / 3;
      float wa = q[a + 2], wb = q[b + 2], wc = q[c + 2];
      if (wa > 0 && wb > 0 && wc > 0) {
        fill(q, a, b, c, WHOLE);
      } else if (wa > 0 || wb > 0 || wc > 0) {
        cut(at, a, b, c);
      }
    }
  }

  /** Keeps what of a triangle lies before the eye. */
  private void cut(float[] at, int a, int b, int c) {
    put(at, a, 0, 0, 0);
    put(at, b, 5, 1, 0);
    put(at, c, 10, 0, 1);
    int n = 0;
    for (int i = 0; i < 15; i += 5) {
      int j = (i + 5) % 15;
      double f = corners[i + 2] - NEAR, g = corners[j + 2] - NEAR;
      if (f > 0) {
        System.arraycopy(corners, i, cut, n, 5);
        n += 5;
      }
      if (f > 0 != g > 0) {
        double s = f / (f - g);
        for (int k = 0; k < 5; k++) {
          cut[n + k] = corners[i + k] + (corners[j + k] - corners[i + k]) * s;
        }
        n += 5;
      }
    }
    for (int i = 5; i + 5 < n; i += 5) {
      for (int k = 0; k < 3; k++) {
        int from = k == 0 ? 0 : k == 1 ? i : i + 5;
        double w = 1 / cut[from + 2];
        part[k * 3] = (float) (width / 2.0 + scale * w * cut[from]);
        part[k * 3 + 1] = (float) (height / 2.0 - scale * w * cut[from + 1]);
        part[k * 3 + 2] = (float) w;
        partWeights[k * 2] = (float) cut[from + 3];
        partWeights[k * 2 + 1] = (float) cut[from + 4];
      }
      fill(part, 0, 3, 6, partWeights);
    }
  }

  private void put(float[] at, int i, int to, double u, double v) {
    for (int k = 0; k < 3; k++) {
      corners[to + k] = eye(4 * k, at[i], at[i + 1], at[i + 2]);
    }
    corners[to + 3] = u;
    corners[to + 4] = v;
  }

  /**
   * Fills the pixels of a triangle.
   *
   * @param q for each corner x, y and one over depth
   * @param a where the first corner stands, likewise b and c
   * @param weights for each corner those of the whole triangle's second and third corner
   */
  private void fill(float[] q, int a, int b, int c, float[] weights) {
    final float fax = q[a], fay = q[a + 1], fbx = q[b], fby = q[b + 1], fcx = q[c], fcy = q[c + 1];
    float lo = fax < fbx ? fax : fbx, hi = fax < fbx ? fbx : fax;
    lo = lo < fcx ? lo : fcx;
    hi = hi > fcx ? hi : fcx;
    // Pixels whose middle lies between.
    final int x0 = lo > 0 ? (int) (lo + 0.5f) : 0;
    final int x1 = hi < width ? (int) (hi + 0.5f) - 1 : width - 1;
    if (x0 > x1) {
      return;
    }
    lo = fay < fby ? fay : fby;
    hi = fay < fby ? fby : fay;
    lo = lo < fcy ? lo : fcy;
    hi = hi > fcy ? hi : fcy;
    final int y0 = lo > 0 ? (int) (lo + 0.5f) : 0;
    final int y1 = hi < height ? (int) (hi + 0.5f) - 1 : height - 1;
    if (y0 > y1) {
      return;
    }
    final double ax = fax, ay = fay, bx = fbx, by = fby, cx = fcx, cy = fcy;
    final double area = (bx - ax) * (cy - ay) - (cx - ax) * (by - ay);
    if (area == 0) {
      return;
    }
    // Corners run against the clock on the front; the picture's y runs down.
    final boolean onFront = area * hand < 0;
    // Each weight is 0 on the side across from its corner and 1 at it.
    final double k = 1 / area;
    final double bdx = (cy - ay) * k, bdy = (ax - cx) * k;
    final double cdx = (ay - by) * k, cdy = (bx - ax) * k;
    final double adx = -bdx - cdx;
    final float aw = q[a + 2], bw = q[b + 2] - aw, cw = q[c + 2] - aw;
    if (x1 - x0 < NARROW) {
      for (int y = y0; y <= y1; y++) {
        final double py = y + 0.5 - ay;
        for (int x = x0; x <= x1; x++) {
          final double px = x + 0.5 - ax;
          final double sb = px * bdx + py * bdy, sc = px * cdx + py * cdy;
          if (sb >= 0 && sc >= 0 && sb + sc <= 1) {
            cover(
                y * width + x,
                (float) (aw + sb * bw + sc * cw),
                sb,
                sc,
                q[b + 2],
                q[c + 2],
                onFront,
                weights);
          }
        }
      }
      return;
    }
    // Each row is filled from side to side, without asking at each pixel.
    final double aZero = -1 / adx, bZero = -1 / bdx, cZero = -1 / cdx;
    final double wdx = bdx * bw + cdx * cw;
    for (int y = y0; y <= y1; y++) {
      final double py = y + 0.5 - ay;
      final double b0 = (0.5 - ax) * bdx + py * bdy, c0 = (0.5 - ax) * cdx + py * cdy;
      final double a1 = (1 - b0 - c0) * aZero, b1 = b0 * bZero, c1 = c0 * cZero;
      double from = adx > 0 ? a1 : x0, to = adx < 0 ? a1 : x1;
      from = bdx > 0 && b1 > from ? b1 : from;
      to = bdx < 0 && b1 < to ? b1 : to;
      from = cdx > 0 && c1 > from ? c1 : from;
      to = cdx < 0 && c1 < to ? c1 : to;
      final int start = Math.max(x0, (int) Math.ceil(from - ON_SIDE));
      final int end = Math.min(x1, (int) Math.floor(to + ON_SIDE));
      final double w0 = aw + b0 * bw + c0 * cw;
      for (int x = start; x <= end; x++) {
        final float w = (float) (w0 + x * wdx);
        if (w > nearness[y * width + x]) {
          cover(y * width + x, w, b0 + x * bdx, c0 + x * cdx, q[b + 2], q[c + 2], onFront, weights);
        }
      }
    }
  }

  /** Takes a triangle at a pixel if nothing is nearer. */
  private void cover(
      int pixel,
      float w,
      double sb,
      double sc,
      float bw,
      float cw,
      boolean onFront,
      float[] weights) {
    if (!(w > nearness[pixel])) {
      return;
    }
    nearness[pixel] = w;
    final int i = EACH * pixel;
    final float in = 1 / w;
    final float b = (float) sb * bw * in, c = (float) sc * cw * in, a = 1 - b - c;
    seen[i] = current;
    seen[i + 1] = 2 * triangle + (onFront ? 1 : 0);
    seen[i + 2] = Float.floatToRawIntBits(a * weights[0] + b * weights[2] + c * weights[4]);
    seen[i + 3] = Float.floatToRawIntBits(a * weights[1] + b * weights[3] + c * weights[5]);
  }
}
