package posada.core.space;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import java.util.Set;
import posada.core.geometry.Affine;
import posada.core.geometry.Vec3;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;

/** Meshes that joints and morph targets bend, frame by frame, as plain shapes. */
public final class Bent {
  /**
   * One bent mesh in one place.
   *
   * @param node number of its node
   * @param copy where it is from its node
   * @param shape at rest
   */
  public record Part(int node, Affine copy, Shape shape, int[] to) {}

  /**
   * Parts over frames, one behind the other in each frame.
   *
   * @param positions x, y, z in the world for each vertex of each frame, metres
   * @param normals x, y, z for each vertex of each frame, -127 .. 127 for -1 .. 1
   * @param there 1 where a part is shown, for each part of each frame
   */
  public record Frames(float[] positions, byte[] normals, byte[] there) {}

  private final Scene scene;
  private final List<Part> parts = new ArrayList<>();
  private final int vertices;

  /**
   * @param most triangles of all parts together; larger ones are simplified to about so many
   */
  public Bent(Scene scene, int most) {
    this.scene = scene;
    long all = 0;
    for (Node n : scene.nodes()) {
      all += bends(n) ? (long) copies(n).size() * mesh(n).triangles() : 0;
    }
    double share = Math.min(1, most / (double) Math.max(1, all));
    float[][] colors = all == 0 ? null : Shapes.colors(scene);
    int sum = 0;
    for (int i = 0; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (!bends(n)) {
        continue;
      }
      Shapes.Fewer f =
          Shapes.fewer(Shapes.shape(mesh(n), colors), (int) Math.ceil(share * mesh(n).triangles()));
      for (Affine copy : copies(n)) {
        parts.add(new Part(i, copy, f.shape(), f.to()));
        sum += f.shape().vertices();
      }
    }
    vertices = sum;
  }

  private boolean bends(Node n) {
    return Deformation.of(scene, n);
  }

  private Mesh mesh(Node n) {
    return scene.meshes().get(n.mesh());
  }

  private static List<Affine> copies(Node n) {
    return n.copies() == null ? List.of(Affine.IDENTITY) : n.copies();
  }

  public List<Part> parts() {
    return List.copyOf(parts);
  }

  /** Returns the vertices of all parts together. */
  public int vertices() {
    return vertices;
  }

  /**
   * Returns the parts as they are at some times.
   *
   * @param seconds of each frame
   * @param clips names of the animations that play; null for all
   */
  public Frames frames(double[] seconds, Set<String> clips) {
    float[] positions = new float[3 * vertices * seconds.length];
    byte[] normals = new byte[positions.length];
    byte[] there = new byte[parts.size() * seconds.length];
    BitSet moving = Placing.moving(scene);
    Pose rest = Pose.at(scene, 0, Set.of());
    int at = 0;
    for (int f = 0; f < seconds.length; f++) {
      Pose pose = Pose.at(scene, seconds[f], clips, rest, moving);
      for (int k = 0; k < parts.size(); k++) {
        Part part = parts.get(k);
        there[f * parts.size() + k] = (byte) (pose.shown(part.node()) ? 1 : 0);
        int n = 3 * part.shape().vertices();
        put(part, pose, positions, normals, at, n);
        at += n;
      }
    }
    return new Frames(positions, normals, there);
  }

  private void put(Part part, Pose pose, float[] positions, byte[] normals, int at, int n) {
    float[] x = new float[3 * part.to().length];
    float[] y = new float[x.length];
    Node node = scene.nodes().get(part.node());
    Affine[] joints = Deformation.joints(scene, part.node(), pose);
    // Joints place vertices in the world, whatever the node does.
    Affine place = joints == null ? pose.world(part.node()).times(part.copy()) : part.copy();
    // A node scaled to nothing has no normals.
    double[] turn = place.invertible() ? place.inverse().m() : new double[12];
    int v = 0;
    for (Primitive p : mesh(node).primitives()) {
      Primitive b = Deformation.bent(p, pose.weights(part.node()), joints);
      float[] normal = b.normals() == null ? Shapes.smooth(b) : b.normals();
      for (int i = 0; i < b.vertices(); i++, v += 3) {
        Vec3 to = place.point(at(b.positions(), i));
        set(x, v, to);
        set(y, v, turned(turn, at(normal, i)));
      }
    }
    float[] mean = new float[n];
    Shapes.mean(x, part.to(), mean);
    System.arraycopy(mean, 0, positions, at, n);
    Shapes.mean(y, part.to(), mean);
    System.arraycopy(Shapes.bytes(mean), 0, normals, at, n);
  }

  /** Returns a normal times the inverse's transpose. */
  private static Vec3 turned(double[] inverse, Vec3 n) {
    return new Vec3(
            inverse[0] * n.x() + inverse[4] * n.y() + inverse[8] * n.z(),
            inverse[1] * n.x() + inverse[5] * n.y() + inverse[9] * n.z(),
            inverse[2] * n.x() + inverse[6] * n.y() + inverse[10] * n.z())
        .normalized();
  }

  private static Vec3 at(float[] a, int i) {
    return new Vec3(a[3 * i], a[3 * i + 1], a[3 * i + 2]);
  }

  private static void set(float[] a, int at, Vec3 v) {
    a[at] = (float) v.x();
    a[at + 1] = (float) v.y();
    a[at + 2] = (float) v.z();
  }
}
