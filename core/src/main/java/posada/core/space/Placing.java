package posada.core.space;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import posada.core.geometry.Affine;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.motion.Values;
import posada.core.scene.Animation;
import posada.core.scene.Camera;
import posada.core.scene.Node;
import posada.core.scene.Scene;

/** Where the meshes, cameras and lights of a scene are, frame by frame. */
public final class Placing {
  /** Numbers of a placement: three rows of four. */
  public static final int NUMBERS = 12;

  /**
   * Meshes that are placed.
   *
   * @param node of each
   * @param mesh of each
   * @param place of each, {@link #NUMBERS} numbers: in the world for what stands; for what is posed
   *     in its node's space
   */
  public record Instances(int[] node, int[] mesh, float[] place) {}

  /**
   * Nodes over frames.
   *
   * @param place {@link #NUMBERS} numbers for each node of each frame, in the world
   * @param shown 1 where a node is there
   * @param view for each node with a camera, in their order, of each frame: radians, or half the
   *     height in metres
   */
  public record Poses(float[] place, byte[] shown, float[] view) {}

  private final Scene scene;
  private final BitSet moving;
  private final int[] posed;

  /** Numbers of the cameras in the order of their nodes. */
  private final int[] cameras;

  public Placing(Scene scene) {
    this.scene = scene;
    moving = moving(scene);
    BitSet own = (BitSet) moving.clone();
    BitSet wanted = new BitSet();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      boolean helper = n.camera() >= 0 || n.light() >= 0;
      if (helper || n.mesh() >= 0 && own.get(i)) {
        wanted.set(i);
      }
      // What a camera or a light hangs on says in which space its keys are.
      if (helper && n.parent() >= 0) {
        wanted.set(n.parent());
      }
    }
    posed = wanted.stream().toArray();
    cameras = scene.nodes().stream().mapToInt(Node::camera).filter(c -> c >= 0).toArray();
  }

  /** Returns the nodes that animations move, and all that hang on them. */
  static BitSet moving(Scene scene) {
    BitSet moves = new BitSet();
    for (Animation a : scene.animations()) {
      a.channels().forEach(c -> moves.set(c.node()));
    }
    for (int i = 0; i < scene.nodes().size(); i++) {
      int parent = scene.nodes().get(i).parent();
      if (parent >= 0 && moves.get(parent)) {
        moves.set(i);
      }
    }
    return moves;
  }

  /** Returns the numbers of the nodes whose places are told for each frame. */
  public int[] posed() {
    return posed.clone();
  }

  /** Returns all meshes that are placed and keep their shape, but those of what is never there. */
  public Instances instances() {
    Pose rest = Pose.at(scene, 0, Set.of());
    List<int[]> who = new ArrayList<>();
    List<float[]> where = new ArrayList<>();
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (n.mesh() < 0 || Deformation.of(scene, n) || !moving.get(i) && !rest.shown(i)) {
        continue;
      }
      Affine base = moving.get(i) ? Affine.IDENTITY : rest.world(i);
      for (Affine copy : n.copies() == null ? List.of(Affine.IDENTITY) : n.copies()) {
        who.add(new int[] {i, n.mesh()});
        where.add(base.times(copy).toFloats());
      }
    }
    float[] place = new float[NUMBERS * who.size()];
    for (int k = 0; k < where.size(); k++) {
      System.arraycopy(where.get(k), 0, place, NUMBERS * k, NUMBERS);
    }
    return new Instances(
        who.stream().mapToInt(w -> w[0]).toArray(),
        who.stream().mapToInt(w -> w[1]).toArray(),
        place);
  }

  /**
   * Returns where posed nodes are.
   *
   * @param seconds of each frame
   * @param clips names of the animations that play; null for all
   */
  public Poses poses(double[] seconds, Set<String> clips) {
    int n = posed.length;
    float[] place = new float[NUMBERS * n * seconds.length];
    byte[] shown = new byte[n * seconds.length];
    float[] view = new float[cameras.length * seconds.length];
    Pose rest = Pose.at(scene, 0, Set.of());
    for (int f = 0; f < seconds.length; f++) {
      Pose pose = Pose.at(scene, seconds[f], clips, rest, moving);
      for (int k = 0; k < n; k++) {
        float[] m = pose.world(posed[k]).toFloats();
        System.arraycopy(m, 0, place, NUMBERS * (f * n + k), NUMBERS);
        shown[f * n + k] = (byte) (pose.shown(posed[k]) ? 1 : 0);
      }
      List<Camera> now = Values.at(scene, seconds[f], clips).cameras();
      for (int c = 0; c < cameras.length; c++) {
        Camera camera = now.get(cameras[c]);
        view[f * cameras.length + c] =
            (float) (camera.perspective() ? camera.verticalAngle() : camera.halfHeight());
      }
    }
    return new Poses(place, shown, view);
  }
}
