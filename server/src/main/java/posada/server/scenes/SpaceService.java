package posada.server.scenes;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.IntStream;
import org.springframework.stereotype.Service;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.Vec3;
import posada.core.plan.FrameRate;
import posada.core.plan.ObjectDetails;
import posada.core.rig.PathSpeed;
import posada.core.scene.Camera;
import posada.core.scene.Digest;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.space.Bent;
import posada.core.space.Placing;
import posada.core.space.Shape;
import posada.core.space.Shapes;
import posada.formats.gltf.ImportException;
import posada.formats.gltf.RigFile;
import posada.formats.settings.Documents;
import posada.formats.settings.RigDocument;
import posada.formats.space.Blocks;
import posada.server.app.NotFoundException;

/** What the view of a scene is made of. */
@Service
class SpaceService {
  /** Triangles that a browser shows at most, at rest and while the view moves. */
  private static final long MOST = 1_500_000, MOST_MOVING = 30_000;

  /** With fewer triangles than this a box tells more than a shape. */
  private static final int FEWEST = 24;

  /** Triangles of a box. */
  private static final int BOX = 12;

  /** Triangles at most of all that is bent. */
  private static final int MOST_BENT = 20_000;

  /** Bytes of places that are sent at once. */
  private static final long POSES = 48 << 20;

  /** Bytes of a bent vertex at a frame, and of all that are sent at once. */
  private static final int VERTEX = 15, BENT = 24 << 20;

  private final SceneService scenes;

  SpaceService(SceneService scenes) {
    this.scenes = scenes;
  }

  /** How much of the meshes is shown. */
  enum Detail {
    FULL,
    MOVING
  }

  private record SpaceCamera(String name, int node, int parent, boolean perspective, boolean rig) {}

  private record SpaceLight(String name, int node, int parent, String kind, boolean rig) {}

  /**
   * How meshes are drawn.
   *
   * @param most triangles of each mesh
   * @param less true if any has fewer than it has
   * @param boxes true if some are only boxes
   */
  private record Drawn(int[] most, boolean less, boolean boxes) {}

  /** Shares the triangles out: each mesh gets as many for all its places together. */
  private static Drawn drawn(Scene s, Placing.Instances all, Detail d) {
    long limit = d == Detail.FULL ? MOST : MOST_MOVING;
    int[] times = new int[s.meshes().size()];
    for (int m : all.mesh()) {
      times[m]++;
    }
    int[] most = new int[times.length];
    for (long each = limit; ; each = each * 3 / 4) {
      long sum = 0;
      for (int m = 0; m < most.length; m++) {
        int own = s.meshes().get(m).triangles();
        most[m] = (int) Math.min(own, each / Math.max(1, times[m]));
        sum += (long) times[m] * Math.min(own, Math.max(most[m], BOX));
      }
      if (sum <= limit || each < BOX) {
        break;
      }
    }
    boolean less = false;
    boolean boxes = false;
    for (int m = 0; m < most.length; m++) {
      int own = s.meshes().get(m).triangles();
      less |= times[m] > 0 && most[m] < own;
      boxes |= times[m] > 0 && most[m] < Math.min(own, FEWEST);
    }
    return new Drawn(most, less, boxes);
  }

  /** Returns what tells the shapes of a revision from others. */
  String shapesTag(Revision r) {
    RigDocument rig = scenes.rig(r);
    return rig == null
        ? r.sha256()
        : Digest.of(r.sha256(), Documents.write(rig.lights()), Documents.write(rig.materials()));
  }

  /** Returns what is placed where, and what is posed. */
  byte[] space(long id) throws ImportException {
    Revision r = scenes.revision(id);
    Scene s = scenes.rigged(r).scene();
    int own = scenes.file(r).scene().nodes().size();
    Placing placing = new Placing(s);
    Placing.Instances all = placing.instances();
    List<SpaceCamera> cameras = new ArrayList<>();
    List<SpaceLight> lights = new ArrayList<>();
    Bounds bounds = new Bounds();
    for (int i = 0; i < s.nodes().size(); i++) {
      Node n = s.nodes().get(i);
      if (n.camera() >= 0) {
        Camera c = s.cameras().get(n.camera());
        cameras.add(new SpaceCamera(c.name(), i, n.parent(), c.perspective(), i >= own));
      }
      if (n.light() >= 0) {
        String kind = s.lights().get(n.light()).kind().name();
        lights.add(new SpaceLight(n.name(), i, n.parent(), kind, i >= own));
      }
    }
    bounds(s, placing, all, bounds, r);
    Drawn full = drawn(s, all, Detail.FULL);
    long triangles = 0;
    for (int m : all.mesh()) {
      triangles += s.meshes().get(m).triangles();
    }
    Bent bent = new Bent(s, MOST_BENT);
    boolean fewer = false;
    for (Bent.Part p : bent.parts()) {
      int whole = s.meshes().get(s.nodes().get(p.node()).mesh()).triangles();
      triangles += whole;
      fewer |= p.shape().triangles() < whole;
    }
    Bent.Frames now = bent.frames(seconds(r, r.first(), 1), null);
    bounds.addAll(now.positions());
    List<String> unfit = new ArrayList<>();
    RigDocument rig = scenes.rig(r);
    if (rig != null) {
      scenes.fit(r).forEach(u -> unfit.add(u.why()));
    }
    return new Blocks()
        .say("shapes", shapesTag(r))
        .say("triangles", triangles)
        .say("shown", full.boxes ? "boxes" : full.less || fewer ? "simplified" : "whole")
        .say("low", bounds.empty() ? List.of(-1, -1, -1) : numbers(bounds.min()))
        .say("high", bounds.empty() ? List.of(1, 1, 1) : numbers(bounds.max()))
        .say("cameras", cameras)
        .say("lights", lights)
        .say("unfit", unfit)
        .say("bent", bent.vertices())
        .put("node", all.node())
        .put("mesh", all.mesh())
        .put("place", all.place())
        .put("posed", placing.posed())
        .bytes();
  }

  private static List<Double> numbers(Vec3 v) {
    return List.of(v.x(), v.y(), v.z());
  }

  /** Grows bounds by all that is placed at the first frame. */
  private void bounds(Scene s, Placing placing, Placing.Instances all, Bounds bounds, Revision r) {
    double rate = scenes.productionOf(r).frameRate();
    Placing.Poses poses =
        placing.poses(new double[] {new FrameRate(rate).moment(r.first()).seconds()}, null);
    Map<Integer, Integer> at = new HashMap<>();
    int[] posed = placing.posed();
    for (int k = 0; k < posed.length; k++) {
      at.put(posed[k], k);
    }
    Bounds[] own = new Bounds[s.meshes().size()];
    for (int i = 0; i < all.node().length; i++) {
      int m = all.mesh()[i];
      own[m] = own[m] == null ? s.meshes().get(m).bounds() : own[m];
      Affine place = affine(all.place(), i);
      Integer k = at.get(all.node()[i]);
      bounds.add(own[m], k == null ? place : affine(poses.place(), k).times(place));
    }
  }

  private static Affine affine(float[] all, int i) {
    double[] m = new double[Placing.NUMBERS];
    for (int k = 0; k < m.length; k++) {
      m[k] = all[Placing.NUMBERS * i + k];
    }
    return new Affine(m);
  }

  /** Returns the shapes of a revision's meshes. */
  byte[] shapes(long id, Detail detail) throws ImportException {
    Scene s = scenes.rigged(scenes.revision(id)).scene();
    Drawn d = drawn(s, new Placing(s).instances(), detail);
    List<Shape> shapes = Shapes.of(s, d.most, FEWEST);
    Shape all = Shape.joined(shapes);
    return new Blocks()
        .put("sizes", sizes(shapes))
        .put("positions", all.positions())
        .put("normals", all.normals())
        .put("colors", all.colors())
        .put("indices", all.indices())
        .bytes();
  }

  private static int[] sizes(List<Shape> shapes) {
    return shapes.stream()
        .flatMapToInt(x -> IntStream.of(x.vertices(), x.indices().length))
        .toArray();
  }

  /**
   * Returns where posed nodes are.
   *
   * @param first frame
   * @param count frames wanted; fewer come if they are many
   */
  byte[] poses(long id, int first, int count) throws ImportException {
    Revision r = scenes.revision(id);
    Scene s = scenes.rigged(r).scene();
    Placing placing = new Placing(s);
    int posed = placing.posed().length;
    long each = 4L * Placing.NUMBERS * Math.max(1, posed);
    int n = (int) Math.max(1, Math.min(Math.min(count, 5000), POSES / each));
    Placing.Poses p = placing.poses(seconds(r, first, n), null);
    return new Blocks()
        .say("first", first)
        .say("count", n)
        .put("place", p.place())
        .put("there", p.shown())
        .put("view", p.view())
        .bytes();
  }

  /**
   * Returns what is bent, as it is at frames.
   *
   * @param first frame
   * @param count frames wanted; fewer come if they are many
   */
  byte[] bent(long id, int first, int count) throws ImportException {
    Revision r = scenes.revision(id);
    Bent bent = new Bent(scenes.rigged(r).scene(), MOST_BENT);
    int fit = BENT / (VERTEX * Math.max(1, bent.vertices()));
    int n = Math.max(1, Math.min(Math.min(count, 5000), fit));
    Bent.Frames frames = bent.frames(seconds(r, first, n), null);
    List<Bent.Part> parts = bent.parts();
    List<Shape> shapes = parts.stream().map(Bent.Part::shape).toList();
    Shape rest = Shape.joined(shapes);
    return new Blocks()
        .say("first", first)
        .say("count", n)
        .put("node", parts.stream().mapToInt(Bent.Part::node).toArray())
        .put("sizes", sizes(shapes))
        .put("colors", rest.colors())
        .put("indices", rest.indices())
        .put("positions", frames.positions())
        .put("normals", frames.normals())
        .put("there", frames.there())
        .bytes();
  }

  private double[] seconds(Revision r, int first, int count) {
    FrameRate rate = new FrameRate(scenes.productionOf(r).frameRate());
    double[] t = new double[count];
    for (int i = 0; i < count; i++) {
      t[i] = rate.moment(first + i).seconds();
    }
    return t;
  }

  /** Returns what the rig of a revision's scene adds, as a GLB file. */
  byte[] rigFile(long id) throws ImportException {
    Revision r = scenes.revision(id);
    RigDocument rig = scenes.rig(r);
    int own = scenes.file(r).scene().nodes().size();
    return RigFile.write(scenes.rigged(r).scene(), own, rig == null ? null : rig.sky());
  }

  /** Returns an object as it is at a frame. */
  ObjectDetails object(long id, String name, int frame) throws ImportException {
    Revision r = scenes.revision(id);
    Scene s = scenes.rigged(r).scene();
    int node = s.node(name);
    if (node < 0) {
      throw new NotFoundException("There is no object \"" + name + "\" in " + r.scene() + ".");
    }
    return ObjectDetails.of(s, node, seconds(r, frame, 1)[0], null);
  }

  /** Returns how fast a camera is from frame to frame. */
  PathSpeed.CameraSpeed speed(long id, String camera, int first, int last) throws ImportException {
    Revision r = scenes.revision(id);
    Scene s = scenes.rigged(r).scene();
    int node = s.cameraNode(camera);
    if (node < 0) {
      throw new NotFoundException("There is no camera \"" + camera + "\" any more.");
    }
    if (last < first || last - first > 20_000) {
      throw new IllegalArgumentException(
          "frames must be 1 .. 20000 in a row (got " + first + " .. " + last + ")");
    }
    Placing placing = new Placing(s);
    int[] posed = placing.posed();
    int at = Arrays.binarySearch(posed, node);
    int n = last - first + 1;
    Placing.Poses p = placing.poses(seconds(r, first, n), null);
    List<Affine> world = new ArrayList<>();
    for (int f = 0; f < n; f++) {
      world.add(affine(p.place(), f * posed.length + at));
    }
    return PathSpeed.of(world, scenes.productionOf(r).frameRate());
  }
}
