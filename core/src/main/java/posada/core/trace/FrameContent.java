package posada.core.trace;

import java.util.ArrayList;
import java.util.EnumMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import posada.core.geometry.Affine;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.Camera;
import posada.core.scene.Digest;
import posada.core.scene.Environment;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.TextureUse;
import posada.core.scene.Track;
import posada.core.settings.Crop;
import posada.core.settings.Layer;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;
import posada.core.trace.stage.LightGroups;
import posada.core.trace.stage.ObjectRoles;

/**
 * What makes a frame's picture, as fingerprints of its parts: the scene as the layer sees it while
 * the shutter is open, camera, lens, size, recipe and passes. Names are none of it but where ID
 * mattes are made of them, nor is what the layer leaves out. Equal fingerprints, equal pictures,
 * bit for bit. For one thread.
 */
public final class FrameContent {
  /** Goes up whenever the renderer makes other pictures of the same input. */
  public static final int PICTURE_VERSION = 1;

  /** What a picture is made of. */
  public enum Part {
    CAMERA,
    OBJECTS,
    MATERIALS,
    LIGHTS,
    ENVIRONMENT,
    BAKED_LIGHT,
    SIZE,
    RECIPE,
    PASSES
  }

  /** Fingerprints of what is the same in all frames, shared by all that look at a scene. */
  static final class Known {
    private final Map<Object, String> byObject = new IdentityHashMap<>();

    private synchronized String of(Object o, java.util.function.Function<Object, String> digest) {
      String known = byObject.get(o);
      if (known == null) {
        known = digest.apply(o);
        byObject.put(o, known);
      }
      return known;
    }
  }

  private final Scene rest;
  private final String bakedLight;
  private final Known known;
  private final int cameraNode;
  private final int width;
  private final int height;
  private final RenderSettings settings;
  private final ObjectRoles roles;
  private final LightGroups groups;

  FrameContent(
      Scene scene,
      String bakedLight,
      Known known,
      int cameraNode,
      int width,
      int height,
      RenderSettings settings) {
    rest = scene;
    this.bakedLight = bakedLight;
    this.known = known;
    this.cameraNode = cameraNode;
    this.width = width;
    this.height = height;
    this.settings = settings;
    groups = new LightGroups(scene, settings.passes());
    roles = new ObjectRoles(scene, settings.layer(), groups);
  }

  /**
   * Returns the fingerprints of a frame's parts.
   *
   * @param region that is rendered; null for the whole picture
   */
  public Map<Part, String> at(Moment m, Crop region) {
    Shutter shutter = settings.shutter();
    int steps = shutter.open() ? shutter.steps() : 0;
    double opening = m.opening(shutter), exposure = m.exposure(shutter);
    double middle = opening + exposure / 2;
    List<Pose> poses = new ArrayList<>();
    for (int k = 0; k <= steps; k++) {
      poses.add(pose(opening + (steps == 0 ? 0 : exposure * k / steps)));
    }
    Pose still = steps == 0 ? poses.get(0) : pose(middle);
    PassSettings passes = settings.passes();
    List<Double> seconds = new ArrayList<>(List.of(m.seconds()));
    if (passes.wants(Pass.MOTION_NEXT) || passes.wants(Pass.GUIDES) || settings.guided()) {
      poses.add(pose(middle + 1 / m.framesPerSecond()));
      seconds.add(m.seconds() + 1 / m.framesPerSecond());
    }
    if (passes.wants(Pass.MOTION_PREVIOUS) || passes.wants(Pass.GUIDES) || settings.guided()) {
      poses.add(pose(middle - 1 / m.framesPerSecond()));
      seconds.add(m.seconds() - 1 / m.framesPerSecond());
    }
    poses.add(still);
    Scene scene = Values.at(rest, m.seconds(), settings.clips());
    Map<Part, String> parts = new EnumMap<>(Part.class);
    parts.put(Part.CAMERA, camera(poses, seconds));
    parts.put(Part.OBJECTS, objects(scene, poses, still));
    parts.put(Part.MATERIALS, materials(scene, still));
    parts.put(Part.LIGHTS, lights(scene, still));
    parts.put(Part.ENVIRONMENT, environment(scene.environment(), m.seconds()));
    parts.put(Part.BAKED_LIGHT, bakedLight);
    parts.put(Part.SIZE, Digest.of(width, height, region));
    boolean own = settings.sampling().seedPerFrame();
    parts.put(Part.RECIPE, Digest.of(settings.recipe(), own ? m.frame() : 0, PICTURE_VERSION));
    parts.put(Part.PASSES, Digest.of(passes, settings.background(), names(passes, scene)));
    return parts;
  }

  /** Returns one fingerprint of all parts. */
  public static String whole(Map<Part, String> parts) {
    return Digest.of(new EnumMap<>(parts));
  }

  private Pose pose(double seconds) {
    return Pose.at(rest, seconds, settings.clips());
  }

  /** Settings and environment that change over time count as they are at the time. */
  private static String at(double seconds, Object... parts) {
    return Digest.with(o -> o instanceof Track t ? Double.valueOf(t.at(seconds)) : o, parts);
  }

  private String camera(List<Pose> poses, List<Double> seconds) {
    List<Object> all = new ArrayList<>();
    poses.forEach(p -> all.add(p.world(cameraNode)));
    for (double s : seconds) {
      Camera c =
          Values.at(rest, s, settings.clips()).cameras().get(rest.nodes().get(cameraNode).camera());
      all.add(at(s, c, settings.lens()));
    }
    String focus = settings.lens().focusObject();
    int node = focus == null ? -1 : rest.node(focus);
    if (node >= 0) {
      all.add(poses.get(poses.size() - 1).world(node));
    }
    return Digest.of(settings.shutter(), all);
  }

  private boolean there(int node, Pose still) {
    return !roles.leftOut(node) && still.shown(node);
  }

  private String objects(Scene scene, List<Pose> poses, Pose still) {
    List<Object> all = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (n.mesh() < 0 || !there(i, still)) {
        continue;
      }
      all.add(known.of(scene.meshes().get(n.mesh()), FrameContent::mesh));
      all.add(roles.content(i));
      all.add(n.cameraSees());
      all.add(n.copies());
      all.add(groups.of(i));
      boolean bends = Deformation.of(scene, n);
      for (Pose p : poses) {
        Affine[] joints = bends ? Deformation.joints(rest, i, p) : null;
        all.add(joints == null ? p.world(i) : joints);
        all.add(bends ? p.weights(i) : null);
      }
    }
    return Digest.of(all);
  }

  /** The shape of a mesh, whatever it is made of. */
  private static String mesh(Object mesh) {
    return Digest.with(
        o ->
            o instanceof Primitive p
                ? java.util.Arrays.asList(
                    p.positions(),
                    p.normals(),
                    p.tangents(),
                    p.uvs(),
                    p.colors(),
                    p.indices(),
                    p.binding(),
                    p.targets())
                : o,
        ((Mesh) mesh).primitives());
  }

  private String materials(Scene scene, Pose still) {
    List<Object> all = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (n.mesh() >= 0 && there(i, still)) {
        all.add(roles.plain(i));
        for (Primitive p : scene.meshes().get(n.mesh()).primitives()) {
          Material m = scene.materials().get(p.material());
          // What keys change is another one in each frame, and not worth keeping.
          boolean same = m == rest.materials().get(p.material());
          all.add(same ? known.of(m, o -> material(scene, m)) : material(scene, m));
        }
      }
    }
    Layer l = settings.layer();
    Layer.Plain plain = l.material();
    return Digest.of(
        all, l.textures(), l.under(), plain == null ? null : List.of(plain.kind(), plain.grey()));
  }

  private String material(Scene scene, Material m) {
    return Digest.with(
        o ->
            o instanceof TextureUse t
                ? java.util.Arrays.asList(
                    known.of(scene.textures().get(t.texture()), Digest::of),
                    t.uvSet(),
                    t.placement())
                : o,
        m);
  }

  private String lights(Scene scene, Pose still) {
    List<Object> all = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (n.light() >= 0 && there(i, still)) {
        all.add(scene.lights().get(n.light()));
        all.add(still.world(i));
        all.add(roles.content(i));
        all.add(groups.of(i));
      }
    }
    return Digest.of(all, groups.environmentLight());
  }

  private String environment(Environment e, double seconds) {
    Environment.Picture p = e.picture();
    return at(
        seconds,
        e.sky(),
        e.day(),
        e.ambient(),
        e.gain(),
        settings.layer().environment(),
        p == null ? null : known.of(p.image(), Digest::of),
        p == null ? null : p.rotation(),
        p == null ? null : p.strength());
  }

  /** What is written down by name: mattes, and objects that passes of the user's own choose. */
  private List<Object> names(PassSettings passes, Scene scene) {
    List<Object> all = new ArrayList<>();
    boolean objects = passes.wants(Pass.MATTE_OBJECTS) || passes.wants(Pass.OWN);
    for (Node n : scene.nodes()) {
      if (objects && n.mesh() >= 0) {
        all.add(n.name());
      }
    }
    if (passes.wants(Pass.MATTE_MATERIALS)) {
      scene.materials().forEach(m -> all.add(m.name()));
    }
    if (passes.wants(Pass.MATTE_LAYERS)) {
      all.add(settings.layer().name());
    }
    return all;
  }
}
