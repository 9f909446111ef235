package posada.core.trace.preview;

import java.util.BitSet;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Predicate;
import posada.core.motion.Deformation;
import posada.core.scene.AlphaMode;
import posada.core.scene.Animation;
import posada.core.scene.Material;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.settings.Preview;

/** Tells which nodes of a scene are of which kinds. */
final class PreviewKinds {
  private final Scene scene;
  private final BitSet moved = new BitSet();
  private final int[] uses;

  /**
   * @param clips names of the animations that play; null for all
   */
  PreviewKinds(Scene scene, Set<String> clips) {
    this.scene = scene;
    List<Node> nodes = scene.nodes();
    Set<Integer> animated = new HashSet<>();
    for (Animation a : scene.animations()) {
      if (a.plays(clips)) {
        a.channels().stream().filter(c -> c.path().places()).forEach(c -> animated.add(c.node()));
      }
    }
    uses = new int[scene.meshes().size()];
    for (int i = 0; i < nodes.size(); i++) {
      if (nodes.get(i).mesh() >= 0) {
        uses[nodes.get(i).mesh()]++;
      }
      for (int up = i; up >= 0; up = nodes.get(up).parent()) {
        if (animated.contains(up)) {
          moved.set(i);
        }
      }
    }
  }

  /** Returns the nodes that are of one of some kinds. */
  BitSet of(Set<Preview.Kind> kinds) {
    BitSet out = new BitSet();
    for (int i = 0; i < scene.nodes().size(); i++) {
      int node = i;
      if (scene.nodes().get(i).mesh() >= 0) {
        out.set(i, kinds.stream().anyMatch(k -> is(node, k)));
      }
    }
    return out;
  }

  private boolean is(int i, Preview.Kind kind) {
    Node n = scene.nodes().get(i);
    boolean bends = Deformation.of(scene, n);
    return switch (kind) {
      case STANDING -> !moved.get(i) && !bends;
      case MOVING -> moved.get(i) && !bends;
      case BENDING -> bends;
      case COPIES -> n.copies() != null || uses[n.mesh()] > 1;
      case GLASS -> all(n, m -> m.transmission().factor() > 0);
      case GLOWING -> !all(n, m -> !m.emits());
      case CUT_OUT -> all(n, m -> m.alphaMode() == AlphaMode.MASK);
    };
  }

  private boolean all(Node n, Predicate<Material> test) {
    return scene.meshes().get(n.mesh()).primitives().stream()
        .allMatch(p -> test.test(scene.materials().get(p.material())));
  }
}
