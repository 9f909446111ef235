package posada.core.geometry;

/**
 * One ray and its nearest hit so far: the scratch of one worker thread, reused from ray to ray.
 *
 * <p>Origin in metres; the direction has any length and distances are in units of it. {@link #tMax}
 * shrinks to the nearest hit. The inverse direction is kept finite by moving tiny components away
 * from zero.
 */
public final class Ray {
  private static final float TINY = 1e-18f;

  /** Stands for where the box of a triangle by itself begins. */
  static final int OWN_BOX = -1;

  /** What a product may be off by, with a factor of 4 in hand. */
  private static final float ROUNDING = 0x1p-22f;

  public float ox, oy, oz, dx, dy, dz;
  float ix, iy, iz;

  /** Which way the ray goes: 1 for negative x, 2 for negative y, 4 for negative z. */
  int octant;

  /** Minus origin times inverse direction, moved towards the origin and away from it. */
  float nearX, nearY, nearZ, farX, farY, farZ;

  /**
   * The axis along which the ray goes most and the two that follow it, the shear that turns the ray
   * into that axis, and the origin on these axes.
   */
  int major, axisU, axisV;

  float shearU, shearV, shearW;
  float originU, originV, originW;

  public float tMax;

  /** The instance whose mesh is being walked, and the raw bits of where its box begins. */
  int entered = -1;

  int floor;

  /** When the ray flies, as part of the shutter's opening: 0 .. 1. */
  public float time;

  /**
   * Instance and triangle that were hit, -1 if none; barycentrics of its second and third corner.
   */
  public int instance = -1;

  public int triangle = -1;
  public float u, v;

  /**
   * Children still to be visited: the raw bits of how far their boxes begin in the upper half, the
   * reference in the lower.
   */
  final long[] stack = new long[Tree.STACK];

  /**
   * By the number of each instance whether any ray met it: it was the nearest, or it kept a shadow
   * ray from its end. Null if nobody asks; shared by threads, which only ever set what is not set.
   */
  public boolean[] met;

  /** The joined mesh that was met last. */
  int member;

  /** The same ray in the space of a placed mesh. */
  private Ray inner;

  /** Near distances of the eight children of one node, as raw bits. */
  final int[] lanes = new int[8];

  /** Distances, weights of the second and of the third corners, of a leaf's four triangles. */
  final float[] quad = new float[12];

  /** Corners of a moving triangle at the ray's time. */
  final float[] moved = new float[9];

  /** Spheres that the ray has passed through, of {@link SphereBvh}. */
  public int[] spheres = new int[8];

  public int sphereCount;

  /** World to mesh, rows of 3 by 4, of a moving instance at the ray's time. */
  final float[] placement = new float[12];

  /** Starts a new ray without a hit; its time stays. */
  public void set(float ox, float oy, float oz, float dx, float dy, float dz, float tMax) {
    this.tMax = tMax;
    instance = -1;
    triangle = -1;
    entered = -1;
    floor = 0;
    place(ox, oy, oz, dx, dy, dz);
  }

  Ray inner() {
    if (inner == null) {
      inner = new Ray();
    }
    return inner;
  }

  void meets(int number) {
    // Read first: threads that all write to one place hold each other up.
    if (met != null && !met[number]) {
      met[number] = true;
    }
  }

  void passes(int sphere) {
    if (sphereCount == spheres.length) {
      spheres = java.util.Arrays.copyOf(spheres, 2 * sphereCount);
    }
    spheres[sphereCount++] = sphere;
  }

  /** Moves the ray to another space; its end and its hit stay. */
  void place(float ox, float oy, float oz, float dx, float dy, float dz) {
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    this.dx = dx;
    this.dy = dy;
    this.dz = dz;
    ix = 1 / clampTiny(dx);
    iy = 1 / clampTiny(dy);
    iz = 1 / clampTiny(dz);
    octant = (ix < 0 ? 1 : 0) | (iy < 0 ? 2 : 0) | (iz < 0 ? 4 : 0);
    float px = -ox * ix, py = -oy * iy, pz = -oz * iz;
    float ex = Math.abs(px) * ROUNDING, ey = Math.abs(py) * ROUNDING, ez = Math.abs(pz) * ROUNDING;
    nearX = px - ex;
    nearY = py - ey;
    nearZ = pz - ez;
    farX = px + ex;
    farY = py + ey;
    farZ = pz + ez;
    float ax = Math.abs(dx), ay = Math.abs(dy), az = Math.abs(dz);
    if (az >= ax && az >= ay) {
      turn(2, 0, 1, dx * iz, dy * iz, iz, ox, oy, oz);
    } else if (ay >= ax) {
      turn(1, 2, 0, dz * iy, dx * iy, iy, oz, ox, oy);
    } else {
      turn(0, 1, 2, dy * ix, dz * ix, ix, oy, oz, ox);
    }
  }

  private void turn(
      int w, int u, int v, float su, float sv, float sw, float ou, float ov, float ow) {
    major = w;
    axisU = u;
    axisV = v;
    shearU = su;
    shearV = sv;
    shearW = sw;
    originU = ou;
    originV = ov;
    originW = ow;
  }

  public boolean hit() {
    return triangle >= 0;
  }

  /** Returns whether the raw bits of a distance are those of a number up to the ray's end. */
  boolean reaches(int distance) {
    return distance > 0 && distance <= Float.floatToRawIntBits(tMax);
  }

  /**
   * Returns the raw bits of where the box around a triangle begins, as a {@link Tree} finds them.
   *
   * @param t holds the triangle's coordinates
   * @param o where x of the first corner stands
   * @param corner from one corner to the next
   * @param axis from one axis to the next
   */
  int nearOf(float[] t, int o, int corner, int axis) {
    return Math.max(
        Math.max(
            near(t[o], t[o + corner], t[o + 2 * corner], ix, nearX),
            near(t[o + axis], t[o + axis + corner], t[o + axis + 2 * corner], iy, nearY)),
        near(t[o + 2 * axis], t[o + 2 * axis + corner], t[o + 2 * (axis + corner)], iz, nearZ));
  }

  private static int near(float a, float b, float c, float inverse, float origin) {
    float side = inverse >= 0 ? Math.min(Math.min(a, b), c) : Math.max(Math.max(a, b), c);
    return Float.floatToRawIntBits(Math.fma(side, inverse, origin));
  }

  /**
   * Takes a triangle's hit if it is the nearest so far; of two equally near ones the lower instance
   * and number wins.
   *
   * @param distance raw bits of its distance, which {@link #reaches}
   * @param near raw bits of where a box around it begins: it counts as no nearer than that
   */
  boolean accept(int distance, int near, int number, float u, float v) {
    int t = Math.max(distance, Math.max(near, floor));
    int end = Float.floatToRawIntBits(tMax);
    if (t > end || t == end && !wins(number)) {
      return false;
    }
    tMax = Float.intBitsToFloat(t);
    this.u = u;
    this.v = v;
    triangle = number;
    instance = entered;
    return true;
  }

  private boolean wins(int number) {
    return triangle >= 0 && (entered < instance || entered == instance && number < triangle);
  }

  private static float clampTiny(float d) {
    return Math.abs(d) < TINY ? Math.copySign(TINY, d) : d;
  }
}
