package posada.core.trace;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import posada.core.geometry.Ray;
import posada.core.image.FrameImage;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Animation;
import posada.core.settings.Crop;
import posada.core.settings.Irradiance;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.settings.Sampling;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.SurfacePoint;
import posada.core.trace.stage.View;

/**
 * What a quick look at some frames of a sequence finds, before any of them is rendered.
 *
 * @param looked frames that were looked at
 * @param empty frames of them in which no object is seen
 * @param inside frames of them in which the camera is inside an object, and its name
 * @param nearest what is nearest before the camera in each frame in which an object is seen
 * @param dark true if they show objects, and no light at all
 * @param changes why light that is baked once would be wrong; none if none is baked
 * @param keyRate frames per second on which all keys of the animations lie; null if there are none,
 *     or on none of the usual ones
 */
public record SceneLook(
    List<Integer> looked,
    List<Integer> empty,
    Map<Integer, String> inside,
    Map<Integer, Near> nearest,
    boolean dark,
    List<String> changes,
    Double keyRate) {
  /** An object and how far it is before the camera, along where that looks. */
  public record Near(double metres, String object) {}

  /** Most frames that are looked at. */
  public static final int MOST = 12;

  /** Pixels of a look across and down. */
  private static final int WIDTH = 48, HEIGHT = 27;

  /** Rays in all directions that meet the inside of one object if the camera is in it. */
  private static final int AROUND = 40;

  private static final double GOLDEN = Math.PI * (3 - Math.sqrt(5));

  /** Frame rates that are usual for animations, whole ones first. */
  private static final double[] RATES = {
    24, 25, 30, 48, 50, 60, 12, 15, 24000 / 1001.0, 30000 / 1001.0, 60000 / 1001.0
  };

  /** Frames by which a key may be off. */
  private static final double OFF = 2e-3;

  /**
   * Looks at frames.
   *
   * @param moments all frames of the sequence; some of them are looked at
   * @return null if it was stopped
   * @throws IllegalArgumentException if the settings name what is not there
   */
  public static SceneLook of(
      RenderScene scene,
      String camera,
      List<Moment> moments,
      RenderSettings settings,
      Workers workers,
      Stop stop) {
    int n = Math.min(MOST, moments.size());
    List<Integer> looked = new ArrayList<>(), empty = new ArrayList<>();
    Map<Integer, String> inside = new TreeMap<>();
    Map<Integer, Near> nearest = new TreeMap<>();
    boolean dark = true;
    boolean seen = false;
    for (int i = 0; i < n; i++) {
      int at = n == 1 ? 0 : (int) Math.round(i * (moments.size() - 1.0) / (n - 1));
      Moment m = moments.get(at);
      looked.add(m.frame());
      try {
        Workers w = workers.until(stop::check);
        Stage stage = scene.placed(m, settings, new BitSet(), w);
        View view =
            stage.view(
                scene.scene().cameraNode(scene.camera(camera)), WIDTH, HEIGHT, settings.lens());
        Looker looker = new Looker(stage, view, settings.bounces().transparency());
        if (looker.sees()) {
          seen = true;
          nearest.put(
              m.frame(), new Near(looker.depth, scene.scene().nodes().get(looker.node).name()));
        } else {
          empty.add(m.frame());
        }
        int node = looker.inside();
        if (node >= 0) {
          inside.put(m.frame(), scene.scene().nodes().get(node).name());
        }
      } catch (Stop.Stopped e) {
        return null;
      }
      dark = dark && isDark(scene, camera, m, settings, workers, stop);
      if (stop.asked()) {
        return null;
      }
    }
    List<String> changes =
        settings.irradiance().use() ? scene.changes(moments, settings) : List.of();
    return new SceneLook(
        looked, empty, inside, nearest, dark && seen, changes, keyRate(scene.scene().animations()));
  }

  /** A small picture of a few samples without any light in it. */
  private static boolean isDark(
      RenderScene scene, String camera, Moment m, RenderSettings s, Workers workers, Stop stop) {
    Sampling few = s.sampling().with(4, 0);
    RenderSettings plain =
        s.with(few)
            .with(s.passes().with(EnumSet.of(Pass.BEAUTY)))
            .with(Irradiance.DEFAULT)
            .with((Crop) null);
    FrameRenderer r = scene.frame(camera, m, WIDTH, HEIGHT, plain, workers, stop, null);
    if (r == null || !r.advance(few.most(), workers, stop)) {
      return true;
    }
    FrameImage image = r.image(Set.of(Pass.BEAUTY), workers, stop);
    if (image != null) {
      for (String name : List.of("R", "G", "B")) {
        for (float v : image.find(name)) {
          if (v > 0) {
            return false;
          }
        }
      }
    }
    return true;
  }

  /** Sends rays from a camera. */
  private static final class Looker {
    private final View view;
    private final ObjectMap.Looker rays;
    private final View.Place place = new View.Place();

    private Looker(Stage stage, View view, int transparency) {
      this.view = view;
      rays = new ObjectMap.Looker(stage, transparency);
    }

    /** Of what is nearest, metres along where the camera looks, and its node. */
    private double depth;

    private int node;

    private boolean sees() {
      view.aim(WIDTH / 2f, HEIGHT / 2f, 0, 0, 0.5f, place, rays.ray);
      double ax = rays.ray.dx, ay = rays.ray.dy, az = rays.ray.dz;
      depth = Double.POSITIVE_INFINITY;
      for (int y = 0; y < HEIGHT; y++) {
        for (int x = 0; x < WIDTH; x++) {
          view.aim(x + 0.5f, y + 0.5f, 0, 0, 0.5f, place, rays.ray);
          // What cuts a hole or catches shadows is no object to be seen.
          if (rays.follow() && !rays.point.instance.holdout && !rays.point.instance.catcher) {
            Ray r = rays.ray;
            double ahead = rays.distance() * (r.dx * ax + r.dy * ay + r.dz * az);
            if (ahead < depth) {
              depth = ahead;
              node = rays.point.instance.node;
            }
          }
        }
      }
      return Double.isFinite(depth);
    }

    /** Number of the node whose inside is seen in all directions; -1 if there is none. */
    private int inside() {
      Ray ray = rays.ray;
      SurfacePoint point = rays.point;
      view.aim(WIDTH / 2f, HEIGHT / 2f, 0, 0, 0.5f, place, ray);
      float ox = ray.ox, oy = ray.oy, oz = ray.oz;
      int node = -1;
      for (int k = 0; k < AROUND; k++) {
        // Evenly over the sphere, on a spiral.
        double z = 1 - (2 * k + 1.0) / AROUND;
        double r = Math.sqrt(1 - z * z);
        ray.set(
            ox,
            oy,
            oz,
            (float) (r * StrictMath.cos(GOLDEN * k)),
            (float) (r * StrictMath.sin(GOLDEN * k)),
            (float) z,
            Float.POSITIVE_INFINITY);
        if (!rays.meets() || point.front || !point.instance.cameraSees) {
          return -1;
        }
        if (k > 0 && point.instance.node != node) {
          return -1;
        }
        node = point.instance.node;
      }
      return node;
    }
  }

  private static Double keyRate(List<Animation> animations) {
    List<float[]> times = new ArrayList<>();
    for (Animation a : animations) {
      a.channels().forEach(c -> times.add(c.curve().times()));
    }
    if (times.stream().noneMatch(t -> t.length > 1)) {
      return null;
    }
    for (double rate : RATES) {
      if (times.stream().allMatch(t -> liesOn(t, rate))) {
        return rate;
      }
    }
    return null;
  }

  private static boolean liesOn(float[] times, double rate) {
    for (float t : times) {
      double frame = t * rate;
      if (Math.abs(frame - Math.rint(frame)) > OFF * Math.max(1, t)) {
        return false;
      }
    }
    return true;
  }

  /** Returns whether keys lie on the frames of a rate. */
  public boolean keysFit(double rate) {
    return keyRate == null || isWhole(rate / keyRate) || isWhole(keyRate / rate);
  }

  private static boolean isWhole(double x) {
    return Math.abs(x - Math.rint(x)) < 1e-6;
  }
}
