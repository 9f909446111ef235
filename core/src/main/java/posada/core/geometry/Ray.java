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

  public float ox, oy, oz, dx, dy, dz;
  float ix, iy, iz;
  public float tMax;

  /**
   * Instance and triangle that were hit, -1 if none; barycentrics of its second and third corner.
   */
  public int instance = -1;

  public int triangle = -1;
  public float u, v;

  /**
   * Children still to be visited, of both levels, and the raw bits of how far their boxes begin.
   */
  final int[] stack = new int[2 * BvhBuilder.STACK];

  final int[] distance = new int[2 * BvhBuilder.STACK];

  /** Starts a new ray without a hit. */
  public void set(float ox, float oy, float oz, float dx, float dy, float dz, float tMax) {
    this.ox = ox;
    this.oy = oy;
    this.oz = oz;
    this.dx = dx;
    this.dy = dy;
    this.dz = dz;
    this.tMax = tMax;
    ix = 1 / clampTiny(dx);
    iy = 1 / clampTiny(dy);
    iz = 1 / clampTiny(dz);
    instance = -1;
    triangle = -1;
  }

  public boolean hit() {
    return triangle >= 0;
  }

  private static float clampTiny(float d) {
    return Math.abs(d) < TINY ? Math.copySign(TINY, d) : d;
  }
}
