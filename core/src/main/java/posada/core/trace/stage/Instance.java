package posada.core.trace.stage;

import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.Vec3;
import posada.core.scene.Primitive;
import posada.core.settings.Layer;

/** One placed mesh of a stage. Immutable once the stage is ready. */
public final class Instance {
  public final MeshGeometry mesh;

  /** Its primitives as they are when the shutter opens, and when it closes; null if unbent. */
  public final List<Primitive> primitives;

  final List<Primitive> closing;

  /** Rows of 3 by 4 for each of its places while the shutter is open; one if it stands still. */
  private final float[] places;

  private final List<Affine> worlds;

  private final int steps;

  /** Inverse transpose of the linear part, rows of 3 by 3, for normals; of the first place. */
  private final float[] normal = new float[9];

  /** 1, or -1 if the placement mirrors. */
  public final float hand;

  /** Number of the first emissive triangle of each primitive, or -1. */
  final int[] emissive;

  /** The largest side of its bounds in world space, metres: the scale of rounding errors. */
  final float extent;

  /** How each of its primitives looks. */
  public final Look[] looks;

  public final boolean cameraSees;
  public final boolean holdout;
  public final boolean catcher;
  public final boolean castsShadows;
  public final boolean reflected;

  /** Light groups that light it, as bits. */
  public final long receives;

  /** Factor on what it gives off; null for 1. */
  final float[] glow;

  public final int node;

  /** Placement of this copy under its node. */
  final Affine copy;

  Instance(
      MeshGeometry mesh,
      List<Primitive> opening,
      List<Primitive> closing,
      Bounds bounds,
      List<Affine> worlds,
      Look[] looks,
      boolean cameraSees,
      ObjectRoles cast,
      int node,
      Affine copy) {
    this.mesh = mesh;
    primitives = opening;
    this.closing = closing;
    this.looks = looks;
    this.cameraSees = cameraSees && cast.role(node) != Layer.Role.UNSEEN;
    holdout = cast.role(node) == Layer.Role.HOLDOUT;
    catcher = cast.role(node) == Layer.Role.SHADOW_CATCHER;
    castsShadows = cast.castsShadows(node);
    reflected = cast.reflected(node);
    receives = cast.receives(node);
    glow = cast.gain(node);
    this.node = node;
    this.copy = copy;
    this.worlds = worlds;
    steps = worlds.size();
    places = new float[12 * steps];
    for (int k = 0; k < steps; k++) {
      System.arraycopy(worlds.get(k).toFloats(), 0, places, 12 * k, 12);
    }
    hand = worlds.get(0).determinant() < 0 ? -1 : 1;
    cofactors(places, normal, hand);
    emissive = new int[opening.size()];
    java.util.Arrays.fill(emissive, -1);
    Bounds b = new Bounds();
    for (Affine world : worlds) {
      b.add(bounds, world);
    }
    Vec3 lo = b.min();
    Vec3 hi = b.max();
    extent = (float) Math.max(Math.max(hi.x() - lo.x(), hi.y() - lo.y()), hi.z() - lo.z());
  }

  /** Returns its placements while the shutter is open. */
  List<Affine> worlds() {
    return worlds;
  }

  /**
   * Returns the corners of a triangle in world space, nine numbers, in the order of its indices.
   *
   * @param time 0 for the shutter's opening, 1 for its closing
   */
  float[] corners(int primitive, int triangle, int time) {
    Primitive p = (time > 0 && closing != null ? closing : primitives).get(primitive);
    float[] m = place(time, new float[12]);
    float[] out = new float[9];
    for (int k = 0; k < 3; k++) {
      int v = p.indices()[triangle * 3 + k] * 3;
      float x = p.positions()[v], y = p.positions()[v + 1], z = p.positions()[v + 2];
      for (int r = 0; r < 3; r++) {
        out[k * 3 + r] = m[r * 4] * x + m[r * 4 + 1] * y + m[r * 4 + 2] * z + m[r * 4 + 3];
      }
    }
    return out;
  }

  boolean moves() {
    return steps > 1 || closing != null;
  }

  /** Stores a cofactor matrix of the upper left 3 by 3, times {@code hand}. */
  private static void cofactors(float[] m, float[] c, float hand) {
    c[0] = hand * (m[5] * m[10] - m[6] * m[9]);
    c[1] = hand * (m[6] * m[8] - m[4] * m[10]);
    c[2] = hand * (m[4] * m[9] - m[5] * m[8]);
    c[3] = hand * (m[2] * m[9] - m[1] * m[10]);
    c[4] = hand * (m[0] * m[10] - m[2] * m[8]);
    c[5] = hand * (m[1] * m[8] - m[0] * m[9]);
    c[6] = hand * (m[1] * m[6] - m[2] * m[5]);
    c[7] = hand * (m[2] * m[4] - m[0] * m[6]);
    c[8] = hand * (m[0] * m[5] - m[1] * m[4]);
  }

  /**
   * Returns rows of 3 by 4 of its placement at a time.
   *
   * @param time part of the shutter's opening, 0 .. 1
   * @param scratch 12 places, used if it moves
   */
  public float[] place(float time, float[] scratch) {
    if (steps == 1) {
      return places;
    }
    float at = time * (steps - 1);
    int k = Math.max(0, Math.min(steps - 2, (int) at));
    float f = at - k;
    for (int i = 0; i < 12; i++) {
      float a = places[12 * k + i];
      scratch[i] = a + (places[12 * k + 12 + i] - a) * f;
    }
    return scratch;
  }

  /** Returns rows of 3 by 3 that turn normals, for the placement {@link #place} returned. */
  float[] normals(float[] place, float[] scratch) {
    if (steps == 1) {
      return normal;
    }
    cofactors(place, scratch, hand);
    return scratch;
  }
}
