package posada.core.trace;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.DoubleConsumer;
import java.util.function.LongSupplier;
import java.util.stream.Collectors;
import posada.core.geometry.InstanceBvh;
import posada.core.irradiance.BakeInfo;
import posada.core.irradiance.BakedLight;
import posada.core.light.EnvironmentLight;
import posada.core.motion.Values;
import posada.core.parallel.Recent;
import posada.core.parallel.Stop;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Digest;
import posada.core.scene.Environment;
import posada.core.scene.Scene;
import posada.core.settings.Crop;
import posada.core.settings.Irradiance;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.RenderSettings;
import posada.core.trace.bake.Baker;
import posada.core.trace.bake.SceneState;
import posada.core.trace.bake.ViewChange;
import posada.core.trace.film.Film;
import posada.core.trace.stage.Geometry;
import posada.core.trace.stage.LightGroups;
import posada.core.trace.stage.Looks;
import posada.core.trace.stage.ObjectRoles;
import posada.core.trace.stage.RegionPlan;
import posada.core.trace.stage.Stage;
import posada.core.trace.stage.View;

/**
 * A scene with its hierarchies and textures, from which pictures of any frame and camera are taken.
 * Safe for several threads.
 */
public final class RenderScene {
  private final Scene scene;
  private final Geometry geometry;
  private final Looks looks;

  /** True if hierarchies and textures are another scene's. */
  private final boolean shares;

  /** Of an environment without a picture, about: tables of where their light comes from. */
  private static final long ENVIRONMENT_BYTES = 1 << 20;

  /** Environments kept by a layer's factor. */
  private static final int ENVIRONMENTS = 8;

  /** Environments that are the same at all times, needed lately, by a layer's factor. */
  private final Recent<List<Float>, EnvironmentLight> still;

  public RenderScene(Scene scene, Workers workers) {
    this(scene, workers, Stop.NEVER);
  }

  /**
   * @throws Stop.Stopped if a stop was asked for meanwhile
   * @throws FrameFailure if memory runs out
   */
  public RenderScene(Scene scene, Workers workers, Stop stop) {
    this.scene = scene;
    shares = false;
    contents = new FrameContent.Known();
    still = new Recent<>(ENVIRONMENTS, v -> 1);
    try {
      Workers stoppable = workers.until(stop::check);
      geometry = Geometry.build(scene, stoppable);
      looks = new Looks(scene, stoppable);
    } catch (OutOfMemoryError e) {
      throw FrameFailure.memory(e);
    }
  }

  /** About the share of the time of baking up to the end of the first round. */
  private static final double LOOKING = 0.3;

  /** Up to the end of trying out, and of the second round. */
  private static final double TRIED = 0.53, AGAIN = 0.77;

  /** Light that was baked; null for none. */
  private BakedLight baked;

  /** Fingerprints of meshes, materials and textures, shared by all scenes made of this one. */
  private final FrameContent.Known contents;

  private RenderScene(RenderScene s, Scene scene) {
    this.scene = scene;
    shares = true;
    geometry = s.geometry;
    looks = s.looks;
    contents = s.contents;
    boolean same = scene.environment() == s.scene.environment();
    still = same ? s.still : new Recent<>(ENVIRONMENTS, v -> 1);
  }

  /**
   * Returns what makes pictures of frames, for their fingerprints.
   *
   * @throws IllegalArgumentException if the settings name what is not there
   */
  public FrameContent content(String camera, int width, int height, RenderSettings settings) {
    String light = baked == null ? "" : Digest.of(baked.info(), baked.points().numbers());
    return content(camera, width, height, settings, light);
  }

  /**
   * Returns what makes pictures of frames in light that may still have to be baked.
   *
   * @param light fingerprint of what that is baked from; empty for none
   */
  public FrameContent content(
      String camera, int width, int height, RenderSettings settings, String light) {
    int node = scene.cameraNode(camera(camera));
    return new FrameContent(scene, light, contents, node, width, height, settings);
  }

  /** Returns the same objects in another environment, sharing what was built. */
  public RenderScene withEnvironment(Environment e) {
    return new RenderScene(this, scene.withEnvironment(e));
  }

  /**
   * Returns another scene, sharing what was built for this one if its meshes and what never moves
   * are the same: cameras, lights, materials and the environment may be others.
   */
  public RenderScene changed(Scene other, Workers workers) {
    boolean same =
        other.meshes() == scene.meshes()
            && other.textures() == scene.textures()
            && other.materials().size() == scene.materials().size()
            && geometry.fits(other);
    return same ? new RenderScene(this, other) : new RenderScene(other, workers);
  }

  public Scene scene() {
    return scene;
  }

  /**
   * Returns the name of the camera to use.
   *
   * @param wanted null to take the only one
   * @throws IllegalArgumentException listing the cameras if there is no such one, or several and
   *     none was named
   */
  public String camera(String wanted) {
    if (wanted == null && scene.cameras().size() == 1) {
      return scene.cameras().get(0).name();
    }
    if (wanted != null && scene.cameraNode(wanted) >= 0) {
      return wanted;
    }
    String names =
        scene.cameras().stream().map(Camera::name).sorted().collect(Collectors.joining(", "));
    throw new IllegalArgumentException(
        wanted == null
            ? "the scene has several cameras, name one of " + names
            : "there is no camera \"" + wanted + "\"; there are " + names);
  }

  /** Returns a renderer of one picture at a time; see {@link #frame(String, Moment, int, int)}. */
  public FrameRenderer frame(
      String camera, double seconds, int width, int height, RenderSettings settings) {
    return frame(
        camera, Moment.at(seconds), width, height, settings, Workers.CALLER, Stop.NEVER, null);
  }

  /**
   * Places and bends everything and returns a renderer of one picture.
   *
   * @param camera name of a camera of the scene
   * @param free tells how many bytes of memory are free; null if that is not to be checked
   * @return null if it was stopped
   * @throws IllegalArgumentException if the settings name a clip, an object or a region that is not
   *     there
   * @throws FrameFailure if memory runs out, or is estimated to
   */
  public FrameRenderer frame(
      String camera,
      Moment moment,
      int width,
      int height,
      RenderSettings settings,
      Workers workers,
      Stop stop,
      LongSupplier free) {
    int node = scene.cameraNode(camera(camera));
    checkClips(settings.clips());
    long room = OwnHierarchies.ROOM;
    if (free != null) {
      long needed = frameBytes(width, height, settings);
      long there = free.getAsLong();
      if (needed > there) {
        throw FrameFailure.estimate(needed, there);
      }
      room = Math.min(room, there - needed);
    }
    try {
      Stage stage = stage(moment, settings, workers.until(stop::check));
      View view = stage.view(node, width, height, settings.lens());
      stage.use(baked, 0);
      stage.findMotion(settings.passes(), node, width, height, settings.lens());
      return new FrameRenderer(stage, view, settings, moment.frame(), room);
    } catch (Stop.Stopped e) {
      return null;
    } catch (OutOfMemoryError e) {
      throw FrameFailure.memory(e);
    }
  }

  /**
   * Returns the region of each frame: the settings' own, or that of their layer, which may follow
   * objects. To be called with all frames of a sequence, since they may be of one size.
   *
   * @return for each moment a region, or null for the whole picture; null if it was stopped
   * @throws IllegalArgumentException if the settings name what is not there
   */
  public List<Crop> regions(
      String camera,
      List<Moment> moments,
      int width,
      int height,
      RenderSettings s,
      Workers workers,
      Stop stop) {
    check(s);
    Layer.Region region = s.layer().region();
    if (s.crop() != null || region == null || region.fixed() != null) {
      Crop one = s.crop() != null || region == null ? s.crop() : region.fixed();
      return Collections.nCopies(moments.size(), one);
    }
    int node = scene.cameraNode(camera(camera));
    RegionPlan plan = new RegionPlan(region, width, height, s);
    if (!region.drawn().isEmpty()) {
      return plan.crops(moments.stream().map(m -> plan.drawn(m.seconds())).toList());
    }
    int[] followed = RegionPlan.followed(scene, region);
    if (Arrays.stream(followed).allMatch(k -> k < 0)) {
      return Collections.nCopies(moments.size(), null);
    }
    List<int[]> bounds = new ArrayList<>();
    try {
      for (Moment m : moments) {
        Stage stage = stage(m, s, null, workers.until(stop::check));
        bounds.add(plan.bounds(stage, stage.view(node, width, height, s.lens()), followed));
      }
    } catch (Stop.Stopped e) {
      return null;
    }
    return plan.crops(bounds);
  }

  /**
   * Bakes the light that surfaces send each other, as a camera sees it.
   *
   * @param moments frames that are looked at
   * @param progress hears the share that is done, 0 .. 1
   * @param nanoseconds a clock, of any origin
   * @return null if it was stopped
   * @throws IllegalArgumentException if the settings name what is not there
   * @throws FrameFailure if memory runs out
   */
  public BakedLight bake(
      String camera,
      List<Moment> moments,
      int width,
      int height,
      RenderSettings settings,
      Workers workers,
      Stop stop,
      DoubleConsumer progress,
      LongSupplier nanoseconds) {
    long start = nanoseconds.getAsLong();
    int node = scene.cameraNode(camera(camera));
    checkClips(settings.clips());
    Baker baker = new Baker(settings);
    try {
      Workers stoppable = workers.until(stop::check);
      for (int i = 0; i < moments.size(); i++) {
        Stage stage = stage(moments.get(i), settings, stoppable);
        View view = stage.view(node, width, height, settings.lens());
        baker.look(i, stage, view, stoppable);
        progress.accept(LOOKING * (i + 1) / moments.size());
      }
      BakedLight first = baker.firstRound();
      for (int trial = 0; trial < Baker.TRIALS.length; trial++) {
        for (int i = 0; i < moments.size(); i++) {
          Stage stage = litStage(moments.get(i), settings, first, stoppable);
          baker.tryOut(
              trial, i, stage, stage.view(node, width, height, settings.lens()), stoppable);
          double done = (trial + (i + 1.0) / moments.size()) / Baker.TRIALS.length;
          progress.accept(LOOKING + (TRIED - LOOKING) * done);
        }
        baker.tried(stoppable);
      }
      for (int i = 0; i < moments.size(); i++) {
        Stage stage = litStage(moments.get(i), settings, first, stoppable);
        View view = stage.view(node, width, height, settings.lens());
        baker.again(
            i, stage, view, stoppable, done -> progress.accept(TRIED + (AGAIN - TRIED) * done));
      }
      for (int k = 0; k < Baker.REFINEMENTS && baker.sharpen(stoppable); k++) {
        for (int i = 0; i < moments.size(); i++) {
          Stage stage = litStage(moments.get(i), settings, first, stoppable);
          baker.refine(i, stage, stage.view(node, width, height, settings.lens()), stoppable);
          double done = (k + (i + 1.0) / moments.size()) / Baker.REFINEMENTS;
          progress.accept(AGAIN + (1 - AGAIN) * done);
        }
      }
      baker.share(stoppable);
      baker.points().narrow();
    } catch (Stop.Stopped e) {
      return null;
    } catch (OutOfMemoryError e) {
      throw FrameFailure.memory(e);
    }
    Irradiance s = settings.irradiance();
    return new BakedLight(
        baker.points(),
        new BakeInfo(
            camera(camera),
            moments.stream().map(Moment::frame).toList(),
            width,
            height,
            s.accuracy(),
            s.tolerance(),
            s.direct(),
            (nanoseconds.getAsLong() - start) * 1e-9,
            new SceneState(scene, settings).at(moments.get(0))));
  }

  /**
   * Returns how many frames may lie between those that light is baked for: a power of two between
   * which nearly all that is seen is seen in one of them, too.
   *
   * @param moments frames of the sequence, in order
   */
  public int suggestEvery(
      String camera, List<Moment> moments, RenderSettings settings, Workers workers) {
    int node = scene.cameraNode(camera(camera));
    Stage first = stage(moments.get(0), settings, workers);
    List<View> views = new ArrayList<>();
    for (Moment m : moments) {
      views.add(ViewChange.view(stage(m, settings, null, workers), node, settings.lens()));
    }
    return new ViewChange(first, views).suggested(workers);
  }

  /** Returns every Nth of some moments, with the first and the last. */
  public static List<Moment> someOf(List<Moment> all, int every) {
    List<Moment> some = new ArrayList<>();
    for (int k = 0; k < all.size(); k += every) {
      some.add(all.get(k));
    }
    if ((all.size() - 1) % every != 0) {
      some.add(all.get(all.size() - 1));
    }
    return some;
  }

  /**
   * Returns why light that is baked once would be wrong in some of these frames: sentences that
   * name what moves, bends or changes, and when. The camera may move.
   */
  public List<String> changes(List<Moment> moments, RenderSettings settings) {
    return new SceneState(scene, settings).changes(null, moments);
  }

  /**
   * Returns in which of these frames things are not as in the first, by what they are and their
   * names: {@code object car-1}.
   */
  public Map<String, List<Integer>> differing(List<Moment> moments, RenderSettings settings) {
    return new SceneState(scene, settings).differing(null, moments);
  }

  /** Returns why light that was baked is wrong in some of these frames, likewise. */
  public List<String> changes(BakedLight light, List<Moment> moments, RenderSettings settings) {
    return new SceneState(scene, settings).changes(light.info().depends(), moments);
  }

  /** Returns the same objects with light that was baked for them; null for none. */
  public RenderScene withBakedLight(BakedLight light) {
    RenderScene s = new RenderScene(this, scene);
    s.baked = light;
    return s;
  }

  /** Returns the hierarchy over everything at a moment, for measurements. */
  public InstanceBvh hierarchy(Moment moment, RenderSettings settings, Workers workers) {
    return stage(moment, settings, workers).top();
  }

  /** Sets a scene up in which light that a first round of baking has found lights surfaces. */
  private Stage litStage(
      Moment moment, RenderSettings settings, BakedLight first, Workers workers) {
    Stage stage = stage(moment, settings, workers);
    stage.use(first, 1);
    return stage;
  }

  private Stage stage(Moment moment, RenderSettings settings, Workers workers) {
    return stage(
        moment,
        settings,
        environmentLight(settings.layer().environment(), moment, workers),
        workers);
  }

  /**
   * @param around null if it only matters where everything is
   */
  private Stage stage(
      Moment moment, RenderSettings settings, EnvironmentLight around, Workers workers) {
    boolean hit = around != null || settings.lens().focusesOnTheMiddle();
    return stage(moment, settings, new BitSet(), hit, around, workers);
  }

  /** Returns what a camera sees at a moment, to find places in its picture. */
  View view(
      String camera,
      Moment moment,
      int width,
      int height,
      RenderSettings settings,
      Workers workers) {
    return stage(moment, settings, null, workers)
        .view(scene.cameraNode(camera(camera)), width, height, settings.lens());
  }

  /** Places everything but some nodes, to be met by rays and not to be lit. */
  public Stage placed(Moment moment, RenderSettings settings, BitSet without, Workers workers) {
    return stage(moment, settings, without, true, null, workers);
  }

  private Stage stage(
      Moment moment,
      RenderSettings settings,
      BitSet without,
      boolean hit,
      EnvironmentLight around,
      Workers workers) {
    LightGroups groups = new LightGroups(scene, settings.passes());
    ObjectRoles cast = new ObjectRoles(scene, settings.layer(), groups).without(without);
    Geometry kept = geometry.without(cast.leftOut(), workers);
    Scene now = Values.at(scene, moment.seconds(), settings.clips());
    return new Stage(now, kept, looks, groups, cast, moment, settings, hit, around, workers);
  }

  private EnvironmentLight environmentLight(List<Float> factor, Moment moment, Workers workers) {
    float[] f = {factor.get(0), factor.get(1), factor.get(2)};
    Environment e = scene.environment().times(f);
    return e.changes()
        ? new EnvironmentLight(e, moment.seconds(), workers)
        : still.get(factor, x -> new EnvironmentLight(e, moment.seconds(), workers));
  }

  /**
   * Refuses settings that cannot be rendered here.
   *
   * @throws IllegalArgumentException naming the animation or the light group that is not there
   */
  public void check(RenderSettings settings) {
    if (baked != null && settings.passes().wants(Pass.LIGHT_GROUPS)) {
      throw new IllegalArgumentException(
          "baked light cannot be told apart by light groups; leave out the pass light-groups or the"
              + " baked light");
    }
    new ObjectRoles(scene, settings.layer(), new LightGroups(scene, settings.passes()));
    checkClips(settings.clips());
  }

  void checkClips(Set<String> clips) {
    if (clips == null) {
      return;
    }
    Set<String> there = new TreeSet<>();
    scene.animations().forEach(a -> there.add(a.name()));
    for (String c : clips) {
      if (!there.contains(c)) {
        throw new IllegalArgumentException(
            "there is no animation \"" + c + "\"; there are " + String.join(", ", there));
      }
    }
  }

  /** Returns the bytes that the scene takes as long as it is open: what was read and built. */
  public long bytes() {
    return geometry.bytes() + looks.bytes() + MemoryEstimate.arrays(scene);
  }

  /** Returns about the bytes that it takes beside the scene that it was made of. */
  public long ownBytes() {
    Environment.Picture p = scene.environment().picture();
    long around = ENVIRONMENT_BYTES + (p == null ? 0 : ENVIRONMENTS * p.image().bytes());
    return around + (shares ? 0 : geometry.bytes() + looks.bytes());
  }

  /** Returns the bytes of a frame's sums of samples, and once more as a picture. */
  public static long filmBytes(int width, int height, RenderSettings settings) {
    return 2 * Film.bytes(width, height, settings);
  }

  /** Returns an estimate of the bytes that one frame takes on top. */
  public long frameBytes(int width, int height, RenderSettings settings) {
    return MemoryEstimate.frame(scene, width, height, settings);
  }
}
