package posada.core.trace.stage;

import java.util.HashSet;
import java.util.Set;
import java.util.stream.IntStream;
import posada.core.motion.Deformation;
import posada.core.motion.Pose;
import posada.core.scene.Animation;
import posada.core.scene.Node;
import posada.core.scene.Scene;

/** Finds what never moves, whatever plays. */
final class StandingMeshes {
  private StandingMeshes() {}

  /** Returns the nodes, ascending, whose mesh no other node has and which keep place and shape. */
  static int[] of(Scene scene) {
    int[] used = new int[scene.meshes().size()];
    for (Node n : scene.nodes()) {
      if (n.mesh() >= 0) {
        used[n.mesh()]++;
      }
    }
    Set<Integer> animated = new HashSet<>();
    for (Animation a : scene.animations()) {
      a.channels().forEach(c -> animated.add(c.node()));
    }
    Pose rest = Pose.at(scene, 0, Set.of());
    return IntStream.range(0, used.length == 0 ? 0 : scene.nodes().size())
        .filter(
            i -> {
              Node n = scene.nodes().get(i);
              return n.mesh() >= 0
                  && used[n.mesh()] == 1
                  && scene.meshes().get(n.mesh()).triangles() > 0
                  && n.copies() == null
                  && !Deformation.of(scene, n)
                  && rest.world(i).invertible()
                  && rest.shown(i)
                  && !moves(scene, i, animated);
            })
        .toArray();
  }

  private static boolean moves(Scene scene, int node, Set<Integer> animated) {
    for (int i = node; i >= 0; i = scene.nodes().get(i).parent()) {
      if (animated.contains(i)) {
        return true;
      }
    }
    return false;
  }
}
