package posada.core.trace.preview;

import posada.core.trace.stage.View;

/**
 * What each pixel of a quick picture sees. It is kept and used again for the next picture of the
 * same size.
 */
final class PreviewSight {
  /** No surface. */
  static final int NOTHING = -1;

  final int width, height;

  /** Linear colour, before contact darkens it. */
  final float[] red, green, blue;

  /** Along the view axis, metres; infinite where nothing is. */
  final float[] depth;

  /** Normal of unit length; all 0 where there is none. */
  final float[] nx, ny, nz;

  /** Which surface: instance and primitive; or {@link #NOTHING}. */
  final int[] surface;

  /** Null for views that cannot be projected. */
  final Projector projector;

  final PreviewContact contact;

  PreviewSight(View view) {
    width = view.width;
    height = view.height;
    int n = width * height;
    red = new float[n];
    green = new float[n];
    blue = new float[n];
    depth = new float[n];
    nx = new float[n];
    ny = new float[n];
    nz = new float[n];
    surface = new int[n];
    projector = view.oneEye() ? new Projector(view) : null;
    contact = new PreviewContact(this);
  }

  /** Returns the cosine between the normals of two pixels; 0 if one has none. */
  float cosine(int i, int j) {
    return nx[i] * nx[j] + ny[i] * ny[j] + nz[i] * nz[j];
  }

  /** Returns the nearest and the farthest depth, metres; null if nothing is seen. */
  double[] depths() {
    double least = Double.POSITIVE_INFINITY;
    double most = 0;
    for (int i = 0; i < depth.length; i++) {
      if (surface[i] != NOTHING) {
        least = Math.min(least, depth[i]);
        most = Math.max(most, depth[i]);
      }
    }
    return most > 0 ? new double[] {least, most} : null;
  }
}
