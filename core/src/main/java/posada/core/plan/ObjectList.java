package posada.core.plan;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.BitSet;
import java.util.Deque;
import java.util.List;
import posada.core.scene.Animation;
import posada.core.scene.Node;
import posada.core.scene.Scene;

/** The objects of a scene as a lead sees them, in the order of its tree. */
public final class ObjectList {
  /** What an object is. */
  public enum Kind {
    /** It only holds others. */
    GROUP,
    MESH,
    /** One mesh in many places. */
    COPIES,
    LIGHT,
    CAMERA
  }

  /**
   * An object.
   *
   * @param parent number of the one above it in this list; -1 at the top
   * @param triangles of its mesh, once
   * @param copies places of its mesh; 1 if it is there once, 0 without a mesh
   * @param moves true if it, or one above it, moves, bends or comes and goes
   */
  public record SceneObject(
      int node, String name, int parent, Kind kind, long triangles, int copies, boolean moves) {}

  private ObjectList() {}

  /** Returns the objects, each behind the one above it and before those beside that. */
  public static List<SceneObject> of(Scene scene) {
    int n = scene.nodes().size();
    List<List<Integer>> below = new ArrayList<>();
    List<Integer> tops = new ArrayList<>();
    for (int i = 0; i < n; i++) {
      below.add(new ArrayList<>());
      int parent = scene.nodes().get(i).parent();
      (parent < 0 ? tops : below.get(parent)).add(i);
    }
    BitSet moving = moving(scene);
    List<SceneObject> lines = new ArrayList<>();
    // Trees may be as deep as a chain of thousands.
    Deque<Step> open = new ArrayDeque<>();
    pushAll(tops, -1, open);
    while (!open.isEmpty()) {
      Step s = open.pop();
      pushAll(below.get(s.node), lines.size(), open);
      lines.add(line(scene, s, moving.get(s.node)));
    }
    return lines;
  }

  private record Step(int node, int parent) {}

  private static void pushAll(List<Integer> nodes, int parent, Deque<Step> open) {
    for (int k = nodes.size() - 1; k >= 0; k--) {
      open.push(new Step(nodes.get(k), parent));
    }
  }

  private static SceneObject line(Scene scene, Step s, boolean moves) {
    Node o = scene.nodes().get(s.node);
    int copies = o.mesh() < 0 ? 0 : o.copies() == null ? 1 : o.copies().size();
    long triangles = o.mesh() < 0 ? 0 : scene.meshes().get(o.mesh()).triangles();
    return new SceneObject(s.node, o.name(), s.parent, kind(o, copies), triangles, copies, moves);
  }

  private static Kind kind(Node o, int copies) {
    if (o.mesh() >= 0) {
      return copies > 1 ? Kind.COPIES : Kind.MESH;
    }
    return o.light() >= 0 ? Kind.LIGHT : o.camera() >= 0 ? Kind.CAMERA : Kind.GROUP;
  }

  /** Returns the nodes that move, or hang on what moves. */
  static BitSet moving(Scene scene) {
    BitSet moves = new BitSet();
    for (Animation a : scene.animations()) {
      a.channels().forEach(c -> moves.set(c.node()));
    }
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node o = scene.nodes().get(i);
      if (o.skin() >= 0 || o.parent() >= 0 && moves.get(o.parent())) {
        moves.set(i);
      }
    }
    return moves;
  }
}
