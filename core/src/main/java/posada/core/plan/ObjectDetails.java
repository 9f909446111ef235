package posada.core.plan;

import java.util.ArrayList;
import java.util.Arrays;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.TreeSet;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.Vec3;
import posada.core.motion.Pose;
import posada.core.scene.Material;
import posada.core.scene.Mesh;
import posada.core.scene.Node;
import posada.core.scene.Primitive;
import posada.core.scene.Scene;
import posada.core.scene.TextureSlot;
import posada.core.scene.TextureUse;

/**
 * One object of a scene, with what hangs on it.
 *
 * @param triangles of all that hangs on it, every copy counted
 * @param materials names
 * @param textures names
 * @param size width, height and depth in the world, metres; zero without a shape
 * @param middle of that, or else where it is: x, y, z, metres
 * @param world twelve numbers of its place, three rows of four
 * @param firstKey seconds of the first key that moves it; null if it is static
 * @param lastKey likewise of the last
 */
public record ObjectDetails(
    String name,
    long triangles,
    List<String> materials,
    List<String> textures,
    List<Double> size,
    List<Double> middle,
    List<Double> world,
    Double firstKey,
    Double lastKey) {

  /**
   * Returns an object as it is at a time.
   *
   * @param clips names of the animations that play; null for all
   */
  public static ObjectDetails of(Scene scene, int node, double seconds, Set<String> clips) {
    Pose pose = Pose.at(scene, seconds, clips);
    Set<Integer> below = new TreeSet<>(Set.of(node));
    Bounds box = new Bounds();
    long triangles = 0;
    Set<String> materials = new LinkedHashSet<>();
    Set<String> textures = new LinkedHashSet<>();
    for (int i = node; i < scene.nodes().size(); i++) {
      Node n = scene.nodes().get(i);
      if (i != node && !below.contains(n.parent())) {
        continue;
      }
      below.add(i);
      if (n.mesh() < 0) {
        continue;
      }
      Mesh mesh = scene.meshes().get(n.mesh());
      List<Affine> copies = n.copies() == null ? List.of(Affine.IDENTITY) : n.copies();
      triangles += (long) mesh.triangles() * copies.size();
      Bounds own = mesh.bounds();
      for (Affine c : copies) {
        box.add(own, pose.world(i).times(c));
      }
      for (Primitive p : mesh.primitives()) {
        Material m = scene.materials().get(p.material());
        materials.add(m.name());
        for (TextureSlot s : TextureSlot.values()) {
          TextureUse t = s.of(m);
          if (t != null) {
            textures.add(scene.textures().get(t.texture()).name());
          }
        }
      }
    }
    Affine world = pose.world(node);
    Vec3 size = box.empty() ? Vec3.ZERO : box.max().minus(box.min());
    Vec3 middle = box.empty() ? world.translation() : box.centre();
    double[] keyed = keyed(scene, node, clips);
    return new ObjectDetails(
        scene.nodes().get(node).name(),
        triangles,
        new ArrayList<>(materials),
        new ArrayList<>(textures),
        numbers(size),
        numbers(middle),
        Arrays.stream(world.m()).boxed().toList(),
        keyed == null ? null : Double.valueOf(keyed[0]),
        keyed == null ? null : Double.valueOf(keyed[1]));
  }

  private static List<Double> numbers(Vec3 v) {
    return List.of(v.x(), v.y(), v.z());
  }

  /** Returns the first and the last key of an object and of what it hangs on. */
  private static double[] keyed(Scene scene, int node, Set<String> clips) {
    Set<Integer> above = new TreeSet<>();
    for (int i = node; i >= 0; i = scene.nodes().get(i).parent()) {
      above.add(i);
    }
    List<float[]> times =
        scene.animations().stream()
            .filter(a -> a.plays(clips))
            .flatMap(a -> a.channels().stream())
            .filter(c -> above.contains(c.node()))
            .map(c -> c.curve().times())
            .toList();
    return times.isEmpty()
        ? null
        : new double[] {
          times.stream().mapToDouble(t -> t[0]).min().orElseThrow(),
          times.stream().mapToDouble(t -> t[t.length - 1]).max().orElseThrow()
        };
  }
}
