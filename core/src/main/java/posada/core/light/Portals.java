package posada.core.light;

/**
 * Window panes through which the environment lights a room: directions are chosen through them,
 * since most others end at a wall beside them. Immutable.
 */
public final class Portals {
  /** More triangles than this cost more than they gain. */
  public static final int MOST = 48;

  /** No panes. */
  public static final Portals NONE = new Portals(new float[0]);

  /** Solid angle at which half of the directions are chosen through panes, steradians. */
  private static final float HALF = 0.1f;

  /** Panes that are seen under less than this together are left to chance. */
  private static final float LEAST = 0.005f;

  private static final int CORNERS = 9;
  private final float[] t;
  private final int count;

  /** Unit normals and areas. */
  private final float[] normals;

  private final float[] areas;
  private final float area;

  /** A ball around all panes. */
  private final float cx, cy, cz, radius;

  /**
   * @param triangles nine numbers for each: x, y, z of its corners, metres
   */
  public Portals(float[] triangles) {
    t = triangles;
    count = triangles.length / CORNERS;
    normals = new float[count * 3];
    areas = new float[count];
    float sum = 0;
    float[] box = {
      Float.POSITIVE_INFINITY, Float.POSITIVE_INFINITY, Float.POSITIVE_INFINITY,
      Float.NEGATIVE_INFINITY, Float.NEGATIVE_INFINITY, Float.NEGATIVE_INFINITY
    };
    for (int i = 0; i < count; i++) {
      int o = i * CORNERS;
      float ax = t[o + 3] - t[o], ay = t[o + 4] - t[o + 1], az = t[o + 5] - t[o + 2];
      float bx = t[o + 6] - t[o], by = t[o + 7] - t[o + 1], bz = t[o + 8] - t[o + 2];
      float x = ay * bz - az * by, y = az * bx - ax * bz, z = ax * by - ay * bx;
      float l = (float) Math.sqrt(x * x + y * y + z * z);
      areas[i] = l / 2;
      sum += areas[i];
      float k = l > 0 ? 1 / l : 0;
      normals[i * 3] = x * k;
      normals[i * 3 + 1] = y * k;
      normals[i * 3 + 2] = z * k;
      for (int c = 0; c < CORNERS; c++) {
        box[c % 3] = Math.min(box[c % 3], t[o + c]);
        box[3 + c % 3] = Math.max(box[3 + c % 3], t[o + c]);
      }
    }
    area = sum;
    cx = count == 0 ? 0 : (box[0] + box[3]) / 2;
    cy = count == 0 ? 0 : (box[1] + box[4]) / 2;
    cz = count == 0 ? 0 : (box[2] + box[5]) / 2;
    float dx = count == 0 ? 0 : box[3] - cx, dy = box[4] - cy, dz = box[5] - cz;
    radius = count == 0 ? 0 : (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
  }

  /** The panes as seen from one point. Scratch of one worker thread. */
  final class From {
    private final float[] weights = new float[count];
    private float sum;

    /** Part of the directions that are to be chosen through panes, 0 .. 1. */
    float share;

    private float x, y, z;

    /** Direction chosen last. */
    float dx, dy, dz;

    /** Looks from a point; a normal of 0 counts light from both sides. */
    void at(float px, float py, float pz, float nx, float ny, float nz) {
      x = px;
      y = py;
      z = pz;
      share = 0;
      sum = 0;
      if (count == 0) {
        return;
      }
      float ex = cx - x, ey = cy - y, ez = cz - z;
      float away = (float) Math.sqrt(ex * ex + ey * ey + ez * ez) - radius;
      if (away > 0 && area < LEAST * away * away) {
        return;
      }
      boolean sided = nx != 0 || ny != 0 || nz != 0;
      for (int i = 0; i < count; i++) {
        int o = i * CORNERS;
        float mx = (t[o] + t[o + 3] + t[o + 6]) / 3 - x;
        float my = (t[o + 1] + t[o + 4] + t[o + 7]) / 3 - y;
        float mz = (t[o + 2] + t[o + 5] + t[o + 8]) / 3 - z;
        boolean above = !sided;
        for (int c = 0; c < CORNERS && !above; c += 3) {
          above = (t[o + c] - x) * nx + (t[o + c + 1] - y) * ny + (t[o + c + 2] - z) * nz > 0;
        }
        float d2 = mx * mx + my * my + mz * mz + areas[i];
        float cos =
            Math.abs(mx * normals[i * 3] + my * normals[i * 3 + 1] + mz * normals[i * 3 + 2]);
        // Never 0 for a pane that light may come through, since the guess is made for its middle.
        float w = areas[i] / d2 * Math.max(0.02f, cos / (float) Math.sqrt(d2));
        weights[i] = above ? w : 0;
        sum += weights[i];
      }
      share = sum > 0 ? 0.9f * sum / (sum + HALF) : 0;
    }

    void copy(From o) {
      System.arraycopy(o.weights, 0, weights, 0, count);
      sum = o.sum;
      share = o.share;
      x = o.x;
      y = o.y;
      z = o.z;
    }

    /** Chooses a direction through a pane by two numbers in [0, 1). */
    void sample(float u, float v) {
      float at = u * sum;
      int i = 0;
      while (i < count - 1 && at >= weights[i]) {
        at -= weights[i++];
      }
      float rest = Math.min(0.9999999f, Math.max(0, at / weights[i]));
      float s = (float) Math.sqrt(rest);
      float b = 1 - s, c = v * s, a = 1 - b - c;
      int o = i * CORNERS;
      dx = a * t[o] + b * t[o + 3] + c * t[o + 6] - x;
      dy = a * t[o + 1] + b * t[o + 4] + c * t[o + 7] - y;
      dz = a * t[o + 2] + b * t[o + 5] + c * t[o + 8] - z;
      float l = (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
      float k = l > 0 ? 1 / l : 0;
      dx *= k;
      dy *= k;
      dz *= k;
    }

    /** Returns the density per steradian of choosing a unit direction through the panes. */
    float density(float dx, float dy, float dz) {
      float density = 0;
      for (int i = 0; i < count; i++) {
        if (weights[i] > 0) {
          float distance = met(i, dx, dy, dz);
          if (distance > 0) {
            float cos =
                Math.abs(dx * normals[i * 3] + dy * normals[i * 3 + 1] + dz * normals[i * 3 + 2]);
            density += weights[i] / sum * distance * distance / (cos * areas[i]);
          }
        }
      }
      return density < Float.POSITIVE_INFINITY ? density : 0;
    }

    /**
     * Returns the distance to a pane in a direction, or 0.
     *
     * <p>Source: T. Moeller and B. Trumbore, "Fast, Minimum Storage Ray/Triangle Intersection",
     * 1997.
     */
    private float met(int i, float dx, float dy, float dz) {
      int o = i * CORNERS;
      float ax = t[o + 3] - t[o], ay = t[o + 4] - t[o + 1], az = t[o + 5] - t[o + 2];
      float bx = t[o + 6] - t[o], by = t[o + 7] - t[o + 1], bz = t[o + 8] - t[o + 2];
      float px = dy * bz - dz * by, py = dz * bx - dx * bz, pz = dx * by - dy * bx;
      float det = ax * px + ay * py + az * pz;
      if (det == 0) {
        return 0;
      }
      float inv = 1 / det;
      float sx = x - t[o], sy = y - t[o + 1], sz = z - t[o + 2];
      float u = (sx * px + sy * py + sz * pz) * inv;
      if (!(u >= 0 && u <= 1)) {
        return 0;
      }
      float qx = sy * az - sz * ay, qy = sz * ax - sx * az, qz = sx * ay - sy * ax;
      float v = (dx * qx + dy * qy + dz * qz) * inv;
      if (!(v >= 0 && u + v <= 1)) {
        return 0;
      }
      return Math.max(0, (bx * qx + by * qy + bz * qz) * inv);
    }
  }
}
