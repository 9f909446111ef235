package posada.core.rig;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Vec3;

/** How fast a camera moves and turns from frame to frame, and where it jerks. */
public final class PathSpeed {
  /** How many times as much as usual a speed must change for a jerk. */
  private static final double TIMES = 6;

  /** Share of the fastest that a change must be at least. */
  private static final double LEAST = 0.15;

  /**
   * A camera over frames.
   *
   * @param metres a second, from each frame to the next; the last as the one before
   * @param degrees a second that the view turns, likewise
   * @param jerks numbers of frames, from 0, at which either changes abruptly
   */
  public record CameraSpeed(List<Double> metres, List<Double> degrees, List<Integer> jerks) {}

  private PathSpeed() {}

  /**
   * Returns the speeds of a camera.
   *
   * @param world where it is at each frame, at least one
   * @param rate frames a second
   */
  public static CameraSpeed of(List<Affine> world, double rate) {
    int n = world.size();
    double[] metres = new double[n];
    double[] degrees = new double[n];
    for (int i = 0; i + 1 < n; i++) {
      Affine a = world.get(i);
      Affine b = world.get(i + 1);
      metres[i] = b.translation().minus(a.translation()).length() * rate;
      degrees[i] = Math.toDegrees(angle(a, b)) * rate;
    }
    if (n > 1) {
      metres[n - 1] = metres[n - 2];
      degrees[n - 1] = degrees[n - 2];
    }
    List<Integer> jerks = new ArrayList<>();
    for (int i = 1; i + 1 < n; i++) {
      if (jerk(metres, i) || jerk(degrees, i)) {
        jerks.add(i);
      }
    }
    return new CameraSpeed(list(metres), list(degrees), List.copyOf(jerks));
  }

  private static List<Double> list(double[] v) {
    return Arrays.stream(v).boxed().toList();
  }

  /** Returns the largest angle between axes of two placements, radians. */
  private static double angle(Affine a, Affine b) {
    double most = 0;
    for (Vec3 axis : List.of(new Vec3(0, 0, -1), new Vec3(0, 1, 0))) {
      Vec3 u = a.vector(axis).normalized();
      Vec3 v = b.vector(axis).normalized();
      most = Math.max(most, StrictMath.atan2(u.cross(v).length(), u.dot(v)));
    }
    return most;
  }

  /** Returns true if the speed changes at a frame far more than around it. */
  private static boolean jerk(double[] v, int i) {
    double change = Math.abs(v[i] - v[i - 1]);
    double most = Arrays.stream(v).max().orElse(0);
    if (change < LEAST * most || most < 1e-6) {
      return false;
    }
    double around = 0;
    int count = 0;
    for (int k = Math.max(1, i - 4); k <= Math.min(v.length - 1, i + 4); k++) {
      if (k != i) {
        around += Math.abs(v[k] - v[k - 1]);
        count++;
      }
    }
    return change > TIMES * Math.max(around / Math.max(1, count), 1e-3 * most);
  }
}
