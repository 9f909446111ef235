package posada.core.trace.preview;

import java.util.BitSet;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.function.Function;
import posada.core.geometry.Vec3;
import posada.core.image.DisplayImage;
import posada.core.light.DayLight;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.parallel.Workers;
import posada.core.scene.DaySky;
import posada.core.scene.Light;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.Preview;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.RenderScene;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/**
 * Draws quick pictures of a sequence. Safe for several threads: frames drawn side by side, each on
 * one thread, come out as they do one by one.
 */
public final class Previewer {
  private final RenderScene scene;
  private final int node;
  private final int width, height, fine;
  private final RenderSettings settings;
  private final Preview look;
  private final BitSet without;

  /** Memory of pictures that are finished. */
  private final Queue<PreviewSight> spare = new ConcurrentLinkedQueue<>();

  /**
   * @param camera name of a camera of the scene
   * @param moments of the sequence
   * @param settings what takes part and the lens; the shutter and the focus do not count
   * @throws IllegalArgumentException if the settings name what is not there, or the picture is too
   *     large
   */
  public Previewer(
      RenderScene scene,
      String camera,
      List<Moment> moments,
      int width,
      int height,
      RenderSettings settings,
      Preview look,
      Workers workers) {
    this.scene = scene;
    node = scene.scene().cameraNode(scene.camera(camera));
    scene.check(settings);
    this.width = width;
    this.height = height;
    fine = (int) Math.round(Math.sqrt(look.rays()));
    if ((long) width * height * look.rays() > PreviewFrame.MOST_RAYS) {
      throw new IllegalArgumentException(
          String.format(
              "a preview of %d x %d pixels with %d rays for each is too large; choose fewer rays or"
                  + " a smaller size",
              width, height, look.rays()));
    }
    this.settings = quick(settings, look.style() == Preview.Style.CLAY);
    without = new PreviewKinds(scene.scene(), settings.clips()).of(look.without());
    this.look = look.style() == Preview.Style.DEPTH ? deep(look, moments, workers) : look;
  }

  private static RenderSettings quick(RenderSettings s, boolean clay) {
    Lens l = s.lens();
    Lens pinhole =
        new Lens(
            l.focalLength(),
            l.filmWidth(),
            l.filmHeight(),
            false,
            l.fStop(),
            l.focusDistance(),
            null,
            0,
            0,
            l.exposure());
    Shutter shut = new Shutter(false, 0, 0, false, false, false, 1);
    Layer layer = s.layer();
    if (clay && layer.material() == null) {
      layer = layer.of(Layer.Plain.CLAY);
    }
    return s.with(pinhole).with(shut).with(layer);
  }

  /** Looks for the depths between which everything lies, in the first, middle and last frame. */
  private Preview deep(Preview p, List<Moment> moments, Workers workers) {
    double near = p.near();
    double far = p.far();
    if (near > 0 && far > 0) {
      return p;
    }
    double least = Double.POSITIVE_INFINITY;
    double most = 0;
    for (int k : new int[] {0, moments.size() / 2, moments.size() - 1}) {
      double[] d = with(moments.get(k), p, workers, f -> f.depths(workers));
      least = d == null ? least : Math.min(least, d[0]);
      most = d == null ? most : Math.max(most, d[1]);
    }
    near = near > 0 ? near : most > 0 ? least : 1;
    far = far > 0 ? far : Math.max(most, near * 1.01);
    return p.between(near, Math.max(far, near * 1.01));
  }

  /** Draws one frame: three values for each pixel. */
  public DisplayImage draw(Moment moment, Workers workers) {
    return with(moment, look, workers, f -> f.draw(workers));
  }

  /** Returns the focal length at a moment, millimetres; NaN without perspective. */
  public double focalLength(Moment moment) {
    Scene s = at(moment.seconds());
    return View.focalLength(
        s.cameras().get(s.nodes().get(node).camera()),
        settings.lens(),
        width,
        height,
        moment.seconds());
  }

  private Scene at(double seconds) {
    return Values.at(scene.scene(), seconds, settings.clips());
  }

  private <T> T with(Moment moment, Preview p, Workers workers, Function<PreviewFrame, T> work) {
    Stage stage = scene.placed(moment, settings, without, workers);
    View view = stage.view(node, width * fine, height * fine, settings.lens());
    PreviewSight b = spare.poll();
    b = b == null ? new PreviewSight(view) : b;
    T made = work.apply(new PreviewFrame(stage, view, p, key(moment.seconds(), view), b));
    spare.add(b);
    return made;
  }

  /** Towards the sun, or the strongest parallel light, or over the left shoulder. */
  private Vec3 key(double seconds, View view) {
    Scene s = at(seconds);
    DaySky day = s.environment().day();
    if (day != null) {
      Vec3 sun = DayLight.sun(day, seconds);
      if (sun.y() > 0) {
        return sun;
      }
    }
    Light strongest = null;
    int at = -1;
    for (int i = 0; i < s.nodes().size(); i++) {
      int l = s.nodes().get(i).light();
      if (l >= 0 && s.lights().get(l).kind() == Light.Kind.DIRECTIONAL) {
        Light light = s.lights().get(l);
        if (strongest == null || light.intensity() > strongest.intensity()) {
          strongest = light;
          at = i;
        }
      }
    }
    if (strongest != null) {
      Pose pose = Pose.at(s, seconds, settings.clips());
      return pose.world(at).vector(new Vec3(0, 0, 1)).normalized();
    }
    return view.world(-0.5f, 0.7f, 0.6f).normalized();
  }
}
