package posada.core.trace.bake;

import java.util.List;
import posada.core.geometry.Ray;
import posada.core.parallel.Workers;
import posada.core.settings.Lens;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/**
 * How fast a view changes: whether what is seen in a frame is also seen in one of two others. What
 * is neither was baked in neither.
 */
public final class ViewChange {
  private static final int COLUMNS = 32;
  private static final int ROWS = 18;

  /** Share of the picture that must be seen in a frame before or after. */
  private static final double ENOUGH = 0.98;

  /** Relative difference of distances that is still the same surface. */
  private static final float SAME = 0.01f;

  private static final int LARGEST = 64;

  private final Stage stage;
  private final List<View> views;
  private final Ray ray = new Ray();
  private final View.Place place = new View.Place();
  private final float[] at = new float[2];

  /**
   * @param stage of any frame, since nothing but the camera moves
   * @param views of all frames, 32 by 18 pixels
   */
  public ViewChange(Stage stage, List<View> views) {
    this.stage = stage;
    this.views = views;
  }

  public static View view(Stage s, int camera, Lens lens) {
    return s.view(camera, COLUMNS, ROWS, lens);
  }

  /** Returns the largest power of two of frames that nothing is missed between, 1 .. 64. */
  public int suggested(Workers workers) {
    for (int n = LARGEST; n > 1; n /= 2) {
      boolean fine = true;
      for (int from = 0; from < views.size() - 1 && fine; from += n) {
        workers.check().run();
        int to = Math.min(from + n, views.size() - 1);
        fine = to - from < 2 || seen((from + to) / 2, from, to) >= ENOUGH;
      }
      if (fine) {
        return Math.min(n, Math.max(1, views.size() - 1));
      }
    }
    return 1;
  }

  private double seen(int frame, int before, int after) {
    int surfaces = 0;
    int seen = 0;
    for (int i = 0; i < COLUMNS * ROWS; i++) {
      if (meet(views.get(frame), i % COLUMNS + 0.5f, i / COLUMNS + 0.5f)) {
        float x = ray.ox + ray.tMax * ray.dx;
        float y = ray.oy + ray.tMax * ray.dy;
        float z = ray.oz + ray.tMax * ray.dz;
        surfaces++;
        seen += shows(views.get(before), x, y, z) || shows(views.get(after), x, y, z) ? 1 : 0;
      }
    }
    return surfaces == 0 ? 1 : seen / (double) surfaces;
  }

  private boolean meet(View v, float px, float py) {
    v.aim(px, py, 0, 0, 0.5f, place, ray);
    stage.top().intersect(ray);
    return ray.hit();
  }

  private boolean shows(View v, float x, float y, float z) {
    if (!v.project(x, y, z, 0.5f, place, at)
        || !(at[0] >= 0 && at[0] < COLUMNS && at[1] >= 0 && at[1] < ROWS)
        || !meet(v, at[0], at[1])) {
      return false;
    }
    float dx = x - ray.ox, dy = y - ray.oy, dz = z - ray.oz;
    float far = (float) Math.sqrt(dx * dx + dy * dy + dz * dz);
    return ray.tMax > far * (1 - SAME);
  }
}
