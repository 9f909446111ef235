package posada.core.trace;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import posada.core.geometry.Affine;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.AlphaMode;
import posada.core.scene.Animation;
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
  public static final int PICTURE_VERSION = 2;

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
    PASSES,
    /** How it is written; whoever writes it adds it. */
    DELIVERY
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

  /**
   * An object or a light of a frame.
   *
   * @param shape what it is but for its place and material: its mesh and what the layer makes of
   *     it, or all that a light is
   * @param place where it is while the shutter is open, and how it bends; null if that is told
   *     apart, see {@link Input}
   * @param material 0 for a light
   * @param glows true if it gives off light
   */
  public record Thing(String name, long shape, Long place, long material, boolean glows) {}

  /**
   * What a frame is made from.
   *
   * @param parts fingerprints of its parts
   * @param things objects and lights in the scene's order, to find out which of them changed
   * @param places of those things that may move, in their order
   * @param nodes numbers of the nodes that the things are, in their order
   */
  public record Input(Map<Part, String> parts, List<Thing> things, long[] places, int[] nodes) {
    /** Returns one fingerprint of it all; names do not count. */
    public String whole() {
      return FrameContent.whole(parts);
    }

    /** Returns which things are among some nodes. */
    public BitSet among(BitSet some) {
      BitSet out = new BitSet();
      for (int i = 0; i < nodes.length; i++) {
        out.set(i, some.get(nodes[i]));
      }
      return out;
    }

    /** Returns all things with their places. */
    public List<Thing> placed() {
      return FrameContent.placed(things, places);
    }
  }

  /** Returns things with the places of those that may move, which are in their order. */
  public static List<Thing> placed(List<Thing> things, long[] places) {
    List<Thing> all = new ArrayList<>();
    int k = 0;
    for (Thing t : things) {
      all.add(t.place != null ? t : new Thing(t.name, t.shape, places[k++], t.material, t.glows));
    }
    return all;
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
  private final BitSet moving;

  /** Any pose, of which those nodes stay that cannot move. */
  private Pose some;

  /** What is the same in all frames, by node. */
  private final Map<Integer, Thing> standing = new HashMap<>();

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
    moving = moving(scene, settings);
  }

  /** The nodes whose place or shape keys may change. */
  private static BitSet moving(Scene scene, RenderSettings settings) {
    BitSet keyed = new BitSet();
    for (Animation a : scene.animations()) {
      if (a.plays(settings.clips())) {
        a.channels().forEach(c -> keyed.set(c.node()));
      }
    }
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      boolean hangs = n.parent() >= 0 && keyed.get(n.parent());
      keyed.set(i, keyed.get(i) || hangs || n.mesh() >= 0 && Deformation.of(scene, n));
    }
    return keyed;
  }

  /**
   * Returns what a frame is made from.
   *
   * @param region that is rendered; null for the whole picture
   */
  public Input at(Moment m, Crop region) {
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
    List<Thing> things = new ArrayList<>();
    List<Long> places = new ArrayList<>();
    List<Integer> nodes = new ArrayList<>();
    Fold objects = new Fold(), materials = new Fold();
    List<Object> lights = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (roles.leftOut(i) || !still.shown(i) || n.mesh() < 0 && n.light() < 0) {
        continue;
      }
      if (n.mesh() >= 0) {
        Thing t = sameLook(scene, n) ? standing(i, poses) : object(scene, i, poses);
        long place = t.place;
        things.add(moving.get(i) ? moved(t, places) : t);
        nodes.add(i);
        objects.add(t.shape);
        objects.add(place);
        materials.add(t.material);
      }
      if (n.light() >= 0) {
        Thing t = light(scene, i, still);
        lights.add(List.of(t.shape, t.place));
        nodes.add(i);
        things.add(moving.get(i) ? moved(t, places) : t);
      }
    }
    Map<Part, String> parts = new EnumMap<>(Part.class);
    parts.put(Part.CAMERA, camera(poses, seconds));
    parts.put(Part.OBJECTS, objects.text());
    parts.put(Part.MATERIALS, materials.text());
    parts.put(Part.LIGHTS, Digest.of(lights, groups.environmentLight()));
    parts.put(Part.ENVIRONMENT, environment(scene.environment(), m.seconds()));
    parts.put(Part.BAKED_LIGHT, bakedLight);
    parts.put(Part.SIZE, Digest.of(width, height, region));
    parts.put(Part.RECIPE, Digest.of(settings.recipe(), PICTURE_VERSION));
    parts.put(Part.PASSES, Digest.of(passes, settings.background(), names(passes, scene)));
    return new Input(
        parts,
        things,
        places.stream().mapToLong(l -> l).toArray(),
        nodes.stream().mapToInt(n -> n).toArray());
  }

  /** Very many fingerprints as one: two sums in which the order counts. */
  private static final class Fold {
    private long a, b;

    void add(long bits) {
      a = Long.rotateLeft((a ^ bits) * 0x9e3779b97f4a7c15L, 29);
      b = (b + bits) * 0xd6e8feb86659fd93L + (bits >>> 32);
    }

    String text() {
      return Digest.of(a, b);
    }
  }

  private static Thing moved(Thing t, List<Long> places) {
    places.add(t.place);
    return new Thing(t.name, t.shape, null, t.material, t.glows);
  }

  /** Returns true if frames of equal content have noise of their own. */
  public boolean ownNoise() {
    return settings.sampling().seedPerFrame();
  }

  /** Returns one fingerprint of all parts. */
  public static String whole(Map<Part, String> parts) {
    return Digest.of(new EnumMap<>(parts));
  }

  private Pose pose(double seconds) {
    Pose p =
        some == null
            ? Pose.at(rest, seconds, settings.clips())
            : Pose.at(rest, seconds, settings.clips(), some, moving);
    some = p;
    return p;
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

  /** Returns true if no key changes what a node's mesh is made of. */
  private boolean sameLook(Scene scene, Node n) {
    if (scene == rest) {
      return true;
    }
    for (Primitive p : scene.meshes().get(n.mesh()).primitives()) {
      if (scene.materials().get(p.material()) != rest.materials().get(p.material())) {
        return false;
      }
    }
    return true;
  }

  /** An object while no key changes what it is like; where it is is found anew if that may. */
  private Thing standing(int node, List<Pose> poses) {
    Thing known = standing.get(node);
    if (known == null) {
      known = object(rest, node, poses);
      standing.put(node, known);
    } else if (moving.get(node)) {
      long place = place(rest, node, poses);
      return new Thing(known.name, known.shape, place, known.material, known.glows);
    }
    return known;
  }

  private Thing object(Scene scene, int i, List<Pose> poses) {
    Node n = scene.nodes().get(i);
    Mesh mesh = scene.meshes().get(n.mesh());
    String shape = known.of(mesh, FrameContent::mesh);
    List<Object> materials = new ArrayList<>();
    boolean glows = false;
    for (Primitive p : mesh.primitives()) {
      Material m = scene.materials().get(p.material());
      // What keys change is another one in each frame, and not worth keeping.
      boolean same = m == rest.materials().get(p.material());
      materials.add(
          roles.plain(i)
              ? plainly(scene, m)
              : same ? known.of(m, o -> material(scene, m)) : material(scene, m));
      // Window panes are looked for like lights.
      glows |= m.emits() || m.transmits() && !m.encloses();
    }
    Layer l = settings.layer();
    Layer.Plain plain = l.material();
    return new Thing(
        n.name(),
        Digest.number(shape, roles.content(i), n.cameraSees(), n.copies(), groups.of(i)),
        place(scene, i, poses),
        Digest.number(
            roles.plain(i),
            materials,
            l.textures(),
            l.under(),
            plain == null ? null : List.of(plain.kind(), plain.grey())),
        glows);
  }

  private long place(Scene scene, int i, List<Pose> poses) {
    boolean bends = Deformation.of(scene, scene.nodes().get(i));
    List<Object> all = new ArrayList<>();
    for (Pose p : poses) {
      Affine[] joints = bends ? Deformation.joints(rest, i, p) : null;
      all.add(joints == null ? p.world(i) : joints);
      all.add(bends ? p.weights(i) : null);
    }
    return Digest.number(all);
  }

  private Thing light(Scene scene, int i, Pose still) {
    Node n = scene.nodes().get(i);
    long shape = Digest.number(scene.lights().get(n.light()), roles.content(i), groups.of(i));
    return new Thing(n.name(), shape, Digest.number(still.world(i)), 0, true);
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

  private String material(Scene scene, Material m) {
    return withTextures(scene, m);
  }

  /** What is left of a material under a plain one: its cut-outs and its glow. */
  private String plainly(Scene scene, Material m) {
    boolean cut = m.alphaMode() != AlphaMode.OPAQUE;
    boolean glows = !m.unlit() && m.emits();
    return withTextures(
        scene,
        m.alphaMode(),
        m.doubleSided(),
        cut ? m.alphaCutoff() : 0,
        cut ? m.baseColor()[3] : 1,
        cut ? m.baseTexture() : null,
        glows ? m.emission() : null,
        glows ? m.emissionTexture() : null);
  }

  private String withTextures(Scene scene, Object... parts) {
    return Digest.with(
        o ->
            o instanceof TextureUse t
                ? java.util.Arrays.asList(
                    known.of(scene.textures().get(t.texture()), Digest::of),
                    t.uvSet(),
                    t.placement())
                : o,
        parts);
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
