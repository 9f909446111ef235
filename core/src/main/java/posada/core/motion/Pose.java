package posada.core.motion;

import java.util.List;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Trs;

/** The placement of every node of a scene at one time. */
public final class Pose {
  private final Affine[] world;

  private Pose(Affine[] world) {
    this.world = world;
  }

  /**
   * Evaluates all animations together.
   *
   * @param seconds time from the start of the animations; held before the first and after the last
   *     key
   */
  public static Pose at(Scene scene, double seconds) {
    List<Node> nodes = scene.nodes();
    Trs[] local = new Trs[nodes.size()];
    for (Animation a : scene.animations()) {
      for (Channel c : a.channels()) {
        Trs base = local[c.node()];
        if (base == null) {
          Trs rest = nodes.get(c.node()).trs();
          base = rest == null ? Trs.IDENTITY : rest;
        }
        local[c.node()] = with(base, c, Keys.at(c, seconds));
      }
    }
    Affine[] world = new Affine[nodes.size()];
    for (int i = 0; i < world.length; i++) {
      Node n = nodes.get(i);
      Affine own = local[i] == null ? n.local() : local[i].toAffine();
      world[i] = n.parent() < 0 ? own : world[n.parent()].times(own);
    }
    return new Pose(world);
  }

  private static Trs with(Trs t, Channel c, double[] v) {
    return switch (c.path()) {
      case TRANSLATION -> new Trs(new Vec3(v[0], v[1], v[2]), t.rotation(), t.scale());
      case ROTATION -> new Trs(t.translation(), new Quat(v[0], v[1], v[2], v[3]), t.scale());
      case SCALE -> new Trs(t.translation(), t.rotation(), new Vec3(v[0], v[1], v[2]));
    };
  }

  /** Returns the node's transform to world space. */
  public Affine world(int node) {
    return world[node];
  }
}
