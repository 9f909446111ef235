package posada.core.trace.stage;

import java.util.List;
import posada.core.geometry.Affine;
import posada.core.scene.Primitive;

/** Where a frame's surfaces are in another frame's picture. Immutable. */
public final class Motion {
  /** An instance there. */
  record Place(List<Primitive> primitives, float[] world) {
    Place(List<Primitive> primitives, Affine world) {
      this(primitives, world.toFloats());
    }
  }

  private final View view;
  private final Place[] places;

  /**
   * @param view through the camera as it is there
   * @param places of the frame's instances
   */
  Motion(View view, Place[] places) {
    this.view = view;
    this.places = places;
  }

  /**
   * Finds where a point of a surface is seen, in pixels from the top left.
   *
   * @param number of its instance
   * @return false if it is behind the camera
   */
  public boolean surface(TrianglePoint p, int number, View.Place scratch, float[] out) {
    float[] m = places[number].world;
    float[] at = places[number].primitives.get(p.prim).positions();
    float x = at[p.a * 3] * p.u + at[p.b * 3] * p.v + at[p.c * 3] * p.w;
    float y = at[p.a * 3 + 1] * p.u + at[p.b * 3 + 1] * p.v + at[p.c * 3 + 1] * p.w;
    float z = at[p.a * 3 + 2] * p.u + at[p.b * 3 + 2] * p.v + at[p.c * 3 + 2] * p.w;
    return view.project(
        m[0] * x + m[1] * y + m[2] * z + m[3],
        m[4] * x + m[5] * y + m[6] * z + m[7],
        m[8] * x + m[9] * y + m[10] * z + m[11],
        0,
        scratch,
        out);
  }

  /** Likewise for what is infinitely far away in a direction. */
  public boolean direction(float x, float y, float z, View.Place scratch, float[] out) {
    return view.projectDirection(x, y, z, 0, scratch, out);
  }
}
