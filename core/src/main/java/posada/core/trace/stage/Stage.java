package posada.core.trace.stage;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.InstanceBvh;
import posada.core.geometry.Ray;
import posada.core.geometry.Vec3;
import posada.core.irradiance.BakedLight;
import posada.core.light.EnvironmentLight;
import posada.core.light.LightSet;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.parallel.Workers;
import posada.core.scene.Camera;
import posada.core.scene.Mesh;
import posada.core.scene.NameMask;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.settings.Layer;
import posada.core.settings.Lens;
import posada.core.settings.Moment;
import posada.core.settings.Pass;
import posada.core.settings.PassSettings;
import posada.core.settings.RenderSettings;
import posada.core.settings.Shutter;

/** A scene while one frame is exposed, ready to be traced: meshes placed and bent, lights. */
public final class Stage {
  private final Scene scene;
  private final Geometry geometry;
  private final Layer layer;
  private final ObjectRoles cast;

  /** How materials look, their own and in place of them the layer's plain one. */
  private final Look[] own, plain;

  private final Moment moment;
  private final Set<String> clips;

  /** The middle of the exposure, seconds. */
  private final double middle;

  /** Poses at even times from the shutter's opening to its closing; one if nothing blurs. */
  private final List<Pose> poses = new ArrayList<>();

  /** What does not blur shows: the middle of the exposure, or the frame itself. */
  private final Pose still;

  private final boolean deformationBlur;
  private final boolean transformBlur;
  private final boolean cameraBlur;
  private final InstanceBvh top;
  private final LightSet lights;

  /** Surfaces that the camera looks through before it is as if there was nothing. */
  private static final int MOST_UNSEEN = 64;

  /** How far beyond one of them a ray goes on, as part of its way. */
  private static final float BEYOND = 1e-5f;

  private final LightGroups groups;

  /** For each pass of the user's own the number of each node. */
  private final float[][] constants;

  private final boolean seeThrough;
  private long bentBytes;
  public final Instance[] instances;

  /** By the number of each instance whether any ray met it. */
  public final boolean[] met;

  /** Light that was baked; null for none. */
  private BakedLight baked;

  private int bakedBounce;

  /** Where everything is in the next frame and in the one before; null if nobody asks. */
  private Motion next, previous;

  /**
   * @param scene as it is at the moment
   * @param hit true if rays are to meet it
   * @param around null if no light is to be followed
   */
  public Stage(
      Scene scene,
      Geometry geometry,
      Looks looks,
      LightGroups groups,
      ObjectRoles cast,
      Moment moment,
      RenderSettings settings,
      boolean hit,
      EnvironmentLight around,
      Workers workers) {
    this.scene = scene;
    this.geometry = geometry;
    layer = settings.layer();
    this.cast = cast;
    own = looks.own(layer, scene.materials(), workers);
    plain = looks.plain(layer, scene.materials());
    this.moment = moment;
    this.groups = groups;
    clips = settings.clips();
    Shutter shutter = settings.shutter();
    int steps = shutter.open() ? shutter.steps() : 0;
    double opening = moment.opening(shutter);
    double exposure = moment.exposure(shutter);
    middle = opening + exposure / 2;
    for (int k = 0; k <= steps; k++) {
      poses.add(Pose.at(scene, opening + (steps == 0 ? 0 : exposure * k / steps), clips));
    }
    still = steps == 0 ? poses.get(0) : Pose.at(scene, middle, clips);
    transformBlur = steps > 0 && shutter.transforms();
    deformationBlur = steps > 0 && shutter.deformations();
    cameraBlur = steps > 0 && shutter.camera();
    List<Instance> list = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      workers.check().run();
      place(i, list, workers);
    }
    instances = list.toArray(new Instance[0]);
    met = new boolean[instances.length];
    top = !hit ? null : geometry.top(instances, workers);
    seeThrough =
        Arrays.stream(instances)
            .anyMatch(
                in ->
                    !in.castsShadows || Arrays.stream(in.looks).anyMatch(l -> !l.opaque || l.pane));
    constants =
        settings.passes().own().values().stream()
            .map(o -> numbers(o.constants()))
            .toArray(float[][]::new);
    workers.check().run();
    lights =
        around == null ? null : new StageLights(scene, cast, still, instances).of(around, workers);
  }

  private void place(int i, List<Instance> list, Workers workers) {
    Node n = scene.nodes().get(i);
    if (n.mesh() < 0 || geometry.mesh(n.mesh()) == null || cast.leftOut(i) || !still.shown(i)) {
      return;
    }
    boolean bends = Deformation.of(scene, n);
    boolean skinned = bends && n.skin() >= 0;
    List<Affine> worlds = skinned ? List.of(Affine.IDENTITY) : worlds(i);
    // A node scaled to nothing is a common way to hide it.
    if (!worlds.stream().allMatch(Affine::invertible)) {
      return;
    }
    Mesh mesh = scene.meshes().get(n.mesh());
    MeshGeometry g = geometry.mesh(n.mesh());
    List<Primitive> opening = mesh.primitives();
    List<Primitive> closing = null;
    if (bends) {
      Pose first = deformationBlur ? poses.get(0) : still;
      opening = bent(mesh, i, first);
      if (deformationBlur && differ(i, first, poses.get(poses.size() - 1))) {
        closing = bent(mesh, i, poses.get(poses.size() - 1));
      }
      g = geometry.bent(n.mesh(), opening, closing, workers);
      bentBytes += g.bvh.bytes() + 2L * opening.stream().mapToLong(Primitive::bytes).sum();
    }
    Look[] looks =
        opening.stream().map(p -> (cast.plain(i) ? plain : own)[p.material()]).toArray(Look[]::new);
    List<Affine> copies = n.copies() == null ? List.of(Affine.IDENTITY) : n.copies();
    for (Affine copy : copies) {
      List<Affine> at = worlds;
      if (copy != Affine.IDENTITY) {
        at = worlds.stream().map(w -> w.times(copy)).toList();
        if (!at.stream().allMatch(Affine::invertible)) {
          continue;
        }
      }
      list.add(
          new Instance(g, opening, closing, g.bounds, at, looks, n.cameraSees(), cast, i, copy));
    }
  }

  private List<Affine> worlds(int node) {
    if (!transformBlur) {
      return List.of(still.world(node));
    }
    List<Affine> all = poses.stream().map(p -> p.world(node)).toList();
    Affine first = all.get(0);
    return all.stream().allMatch(a -> Arrays.equals(a.m(), first.m())) ? List.of(first) : all;
  }

  private List<Primitive> bent(Mesh mesh, int node, Pose pose) {
    Affine[] joints = Deformation.joints(scene, node, pose);
    List<Primitive> out = new ArrayList<>();
    for (Primitive p : mesh.primitives()) {
      out.add(Deformation.bent(p, pose.weights(node), joints));
    }
    return out;
  }

  private boolean differ(int node, Pose a, Pose b) {
    if (!Arrays.equals(a.weights(node), b.weights(node))) {
      return true;
    }
    Affine[] p = Deformation.joints(scene, node, a);
    Affine[] q = Deformation.joints(scene, node, b);
    for (int j = 0; p != null && j < p.length; j++) {
      if (!Arrays.equals(p[j].m(), q[j].m())) {
        return true;
      }
    }
    return false;
  }

  /**
   * Lights surfaces with what was baked.
   *
   * @param bounce how often a path has been scattered evenly before it meets such surfaces: light
   *     that was baked holds all further bounces, so that it would be too much after more
   */
  public void use(BakedLight light, int bounce) {
    baked = light;
    bakedBounce = bounce;
  }

  /**
   * Returns true if a surface takes baked light.
   *
   * @param diffuse how often the path to it was scattered evenly
   */
  public boolean bakedAt(int diffuse) {
    // Bakes go on from surfaces without points to the next that has some. Pictures would show that
    // as a seam, since points stand for what is around them.
    return bakedBounce == 0 ? diffuse == 0 : diffuse >= bakedBounce;
  }

  /**
   * Returns how many surfaces less baked light may have come over than it has.
   *
   * @param diffuse how often the path to it was scattered evenly
   */
  public int shorter(int diffuse) {
    return diffuse - bakedBounce;
  }

  public BakedLight baked() {
    return baked;
  }

  /** Returns how many triangles there are, copies counted. */
  public long triangles() {
    return Arrays.stream(instances)
        .flatMap(in -> in.primitives.stream())
        .mapToLong(Primitive::triangles)
        .sum();
  }

  /** Returns the numbers of the nodes that any ray met so far. */
  public BitSet metNodes() {
    BitSet nodes = new BitSet();
    for (int i = 0; i < met.length; i++) {
      if (met[i]) {
        nodes.set(instances[i].node);
      }
    }
    return nodes;
  }

  public InstanceBvh top() {
    return top;
  }

  public LightSet lights() {
    return lights;
  }

  public LightGroups groups() {
    return groups;
  }

  /** Returns true if shadow rays must look at what they meet. */
  public boolean seeThrough() {
    return seeThrough;
  }

  /** Returns the bytes that are held for this frame alone. */
  public long bytes() {
    return top.bytes() + lights.bytes() + bentBytes + 400L * instances.length;
  }

  /**
   * Returns the view through a camera.
   *
   * @param cameraNode number of a node that holds a camera
   * @throws IllegalArgumentException if the lens is to focus on a node that does not exist
   */
  public View view(int cameraNode, int width, int height, Lens lens) {
    Camera c = scene.cameras().get(scene.nodes().get(cameraNode).camera());
    List<Affine> places =
        cameraBlur
            ? poses.stream().map(p -> p.world(cameraNode)).toList()
            : List.of(still.world(cameraNode));
    Vec3 focus = null;
    if (lens.focusObject() != null) {
      focus = centre(lens.focusObject());
    } else if (lens.focusesOnTheMiddle()) {
      focus = middle(new View(c, places, width, height, lens, null, moment.seconds()));
    }
    return new View(c, places, width, height, lens, focus, moment.seconds());
  }

  /** Finds where everything is one frame later and one earlier, as far as the passes want it. */
  public void findMotion(PassSettings passes, int cameraNode, int width, int height, Lens lens) {
    if (passes.wants(Pass.MOTION_NEXT) || passes.wants(Pass.GUIDES)) {
      next = motion(1, cameraNode, width, height, lens);
    }
    if (passes.wants(Pass.MOTION_PREVIOUS) || passes.wants(Pass.GUIDES)) {
      previous = motion(-1, cameraNode, width, height, lens);
    }
  }

  private Motion motion(int frames, int cameraNode, int width, int height, Lens l) {
    double later = frames / moment.framesPerSecond();
    Pose pose = Pose.at(scene, middle + later, clips);
    Motion.Place[] places = new Motion.Place[instances.length];
    List<Primitive> bent = null;
    for (int i = 0; i < places.length; i++) {
      Instance in = instances[i];
      Node n = scene.nodes().get(in.node);
      List<Primitive> shape = in.primitives;
      Affine world = pose.world(in.node);
      if (Deformation.of(scene, n)) {
        // Copies of a node follow each other and have one shape.
        bent =
            bent != null && instances[i - 1].node == in.node
                ? bent
                : bent(scene.meshes().get(n.mesh()), in.node, pose);
        shape = bent;
        world = n.skin() >= 0 ? Affine.IDENTITY : world;
      } else {
        bent = null;
      }
      places[i] = new Motion.Place(shape, world.times(in.copy));
    }
    double seconds = moment.seconds() + later;
    Camera c =
        Values.at(scene, seconds, clips).cameras().get(scene.nodes().get(cameraNode).camera());
    List<Affine> eye = List.of(pose.world(cameraNode));
    return new Motion(new View(c, eye, width, height, l, null, seconds), places);
  }

  /** Returns where everything is in the next frame; null if that was not looked for. */
  public Motion next() {
    return next;
  }

  /** Likewise in the frame before. */
  public Motion previous() {
    return previous;
  }

  private float[] numbers(Map<String, Double> ofPattern) {
    List<List<String>> patterns = ofPattern.keySet().stream().map(List::of).toList();
    List<Double> values = List.copyOf(ofPattern.values());
    int[] which = NameMask.inherited(scene.nodes(), patterns);
    float[] out = new float[which.length];
    for (int i = 0; i < out.length; i++) {
      out[i] = which[i] < 0 ? 0 : values.get(which[i]).floatValue();
    }
    return out;
  }

  /** Returns the number that a pass of the user's own gives a node. */
  public float constant(int pass, int node) {
    return constants[pass][node];
  }

  /** Returns what the numbers are called that a matte is given. */
  public String[] names(Pass matte) {
    return switch (matte) {
      case MATTE_OBJECTS -> objects();
      case MATTE_MATERIALS -> scene.materials().stream().map(m -> m.name()).toArray(String[]::new);
      default -> new String[] {layer.name()};
    };
  }

  private String[] objects() {
    String[] names = new String[scene.nodes().size()];
    for (Instance in : instances) {
      names[in.node] = scene.nodes().get(in.node).name();
    }
    return names;
  }

  /** What is seen in the middle of the picture; null if that is nothing. */
  private Vec3 middle(View view) {
    Ray ray = new Ray();
    ray.met = met;
    view.aim(view.width / 2f, view.height / 2f, 0, 0, 0.5f, new View.Place(), ray);
    float x = ray.ox, y = ray.oy, z = ray.oz, gone = 0;
    for (int k = 0; k < MOST_UNSEEN; k++) {
      top.intersect(ray);
      if (!ray.hit()) {
        return null;
      }
      gone += ray.tMax;
      Vec3 at = new Vec3(x + gone * ray.dx, y + gone * ray.dy, z + gone * ray.dz);
      if (instances[ray.instance].cameraSees) {
        return at;
      }
      // The camera looks through it.
      gone += gone * BEYOND;
      ray.set(
          x + gone * ray.dx,
          y + gone * ray.dy,
          z + gone * ray.dz,
          ray.dx,
          ray.dy,
          ray.dz,
          Float.POSITIVE_INFINITY);
    }
    return null;
  }

  /** The middle of a node's mesh, or its place if it has none. */
  private Vec3 centre(String name) {
    int n = scene.node(name);
    if (n < 0) {
      throw new IllegalArgumentException(
          "the lens is to focus on \"" + name + "\", which the scene does not have");
    }
    Bounds b = new Bounds();
    for (Instance in : instances) {
      if (in.node == n) {
        b.add(in.mesh.bounds, in.worlds().get(0));
      }
    }
    return b.empty() ? still.world(n).translation() : b.centre();
  }
}
