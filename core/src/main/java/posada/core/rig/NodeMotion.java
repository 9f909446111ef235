package posada.core.rig;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import posada.core.geometry.Affine;
import posada.core.geometry.Bounds;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.motion.Keys;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Trs;

/** Where one node of a scene is over time; only it and what it hangs on are looked at. */
final class NodeMotion {
  /** A node on the way from the root, and what moves it. */
  private record Step(Node node, List<Channel> channels) {}

  private final List<Step> way = new ArrayList<>();
  private final Vec3 middle;

  /**
   * @param node its number; below 0 for the world itself
   * @param clips names of the animations that play; null for all
   */
  NodeMotion(Scene scene, int node, Set<String> clips) {
    for (int i = node; i >= 0; i = scene.nodes().get(i).parent()) {
      List<Channel> own = new ArrayList<>();
      for (Animation a : scene.animations()) {
        if (a.plays(clips)) {
          int me = i;
          a.channels().stream().filter(c -> c.node() == me && c.path().places()).forEach(own::add);
        }
      }
      way.add(0, new Step(scene.nodes().get(i), own));
    }
    Bounds b = new Bounds();
    int mesh = node < 0 ? -1 : scene.nodes().get(node).mesh();
    if (mesh >= 0) {
      b = scene.meshes().get(mesh).bounds();
    }
    middle = b.empty() ? Vec3.ZERO : b.centre();
  }

  Affine world(double t) {
    Affine w = Affine.IDENTITY;
    for (Step s : way) {
      w = w.times(local(s, t));
    }
    return w;
  }

  /** Returns where the middle of its mesh is, or else where it is itself. */
  Vec3 middle(double t) {
    return world(t).point(middle);
  }

  private static Affine local(Step s, double t) {
    if (s.channels.isEmpty()) {
      return s.node.local();
    }
    Trs at = s.node.trs() == null ? Trs.IDENTITY : s.node.trs();
    for (Channel c : s.channels) {
      double[] v = Keys.at(c, t);
      at =
          switch (c.path()) {
            case TRANSLATION -> new Trs(new Vec3(v[0], v[1], v[2]), at.rotation(), at.scale());
            case ROTATION ->
                new Trs(at.translation(), new Quat(v[0], v[1], v[2], v[3]), at.scale());
            default -> new Trs(at.translation(), at.rotation(), new Vec3(v[0], v[1], v[2]));
          };
    }
    return at.toAffine();
  }

  /** Returns the first and the last time at which anything of it is keyed; null if nothing is. */
  double[] keyed() {
    double first = Double.POSITIVE_INFINITY;
    double last = Double.NEGATIVE_INFINITY;
    for (Step s : way) {
      for (Channel c : s.channels) {
        float[] times = c.curve().times();
        first = Math.min(first, times[0]);
        last = Math.max(last, times[times.length - 1]);
      }
    }
    return first > last ? null : new double[] {first, last};
  }
}
