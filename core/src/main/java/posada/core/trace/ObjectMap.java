package posada.core.trace;

import java.util.Arrays;
import java.util.BitSet;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.settings.Moment;
import posada.core.settings.RenderSettings;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/**
 * Which object is at the middle of each pixel of a picture, row by row.
 *
 * @param nodes their numbers; -1 where there is none
 * @param distances from the camera, metres; infinite where there is none
 */
public record ObjectMap(int width, int height, int[] nodes, float[] distances) {
  /**
   * Returns what is where. What is seen through half or more, and what the camera does not see, is
   * passed.
   *
   * @param settings what a layer leaves out is not there
   * @return null if it was stopped
   * @throws IllegalArgumentException if the settings name what is not there
   */
  public static ObjectMap of(
      RenderScene scene,
      String camera,
      Moment moment,
      int width,
      int height,
      RenderSettings settings,
      Workers workers,
      Stop stop) {
    try {
      Workers w = workers.until(stop::check);
      Stage stage = scene.placed(moment, settings, new BitSet(), w);
      View view =
          stage.view(
              scene.scene().cameraNode(scene.camera(camera)), width, height, settings.lens());
      int most = settings.bounces().transparency();
      int[] nodes = new int[width * height];
      float[] distances = new float[width * height];
      Arrays.fill(nodes, -1);
      Arrays.fill(distances, Float.POSITIVE_INFINITY);
      w.each(
          height,
          y -> {
            Looker looker = new Looker(stage, most);
            View.Place place = new View.Place();
            for (int x = 0; x < width; x++) {
              view.aim(x + 0.5f, y + 0.5f, 0, 0, 0.5f, place, looker.ray);
              if (looker.follow()) {
                nodes[y * width + x] = looker.point.instance.node;
                distances[y * width + x] = looker.distance;
              }
            }
          });
      return new ObjectMap(width, height, nodes, distances);
    } catch (Stop.Stopped e) {
      return null;
    }
  }

  /**
   * What is at a place of a picture.
   *
   * @param node its number
   * @param depth distance along the view axis, metres
   */
  public record Picked(int node, double depth) {}

  /**
   * Returns what is at a place of a picture.
   *
   * @param x share of the picture's width from its left, 0 .. 1; y likewise from its top
   * @return null if nothing is there
   */
  public static Picked pick(
      RenderScene scene,
      String camera,
      Moment moment,
      int width,
      int height,
      double x,
      double y,
      RenderSettings settings,
      Workers workers) {
    Stage stage = scene.placed(moment, settings, new BitSet(), workers);
    View view =
        stage.view(scene.scene().cameraNode(scene.camera(camera)), width, height, settings.lens());
    Looker looker = new Looker(stage, settings.bounces().transparency());
    View.Place place = new View.Place();
    view.aim((float) (x * width), (float) (y * height), 0, 0, 0.5f, place, looker.ray);
    if (!looker.follow()) {
      return null;
    }
    SurfacePoint p = looker.point;
    return new Picked(p.instance.node, view.depth(p.x, p.y, p.z, 0.5f, place));
  }

  /** Follows rays to the first surface that is at least half solid. */
  static final class Looker {
    final Ray ray = new Ray();
    final SurfacePoint point = new SurfacePoint();
    private float distance;
    private final Stage stage;
    private final InstanceBvh top;
    private final int transparency;

    Looker(Stage stage, int transparency) {
      this.stage = stage;
      this.transparency = transparency;
      top = stage.top().copy();
    }

    /** Returns how far from where the ray began that surface is, metres. */
    float distance() {
      return distance;
    }

    /** Returns true if the ray meets anything, which {@link #point} then is of. */
    boolean meets() {
      top.intersect(ray);
      if (!ray.hit()) {
        return false;
      }
      point.fill(stage, ray, 0);
      return true;
    }

    /** Returns true if there is a surface that the camera sees, which {@link #point} then is of. */
    boolean follow() {
      distance = 0;
      for (int k = 0; k <= transparency; k++) {
        float end = ray.tMax;
        if (!meets()) {
          return false;
        }
        float here = ray.tMax;
        distance += here;
        if (point.alpha >= 0.5f && point.instance.cameraSees) {
          return true;
        }
        point.leave(ray, ray.dx, ray.dy, ray.dz, end - here);
      }
      return false;
    }
  }
}
