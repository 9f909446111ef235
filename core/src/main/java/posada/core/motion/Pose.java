package posada.core.motion;

import java.util.BitSet;
import java.util.List;
import java.util.Set;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Animation;
import posada.core.scene.Animation.Channel;
import posada.core.scene.Animation.Path;
import posada.core.scene.Node;
import posada.core.scene.Scene;
import posada.core.scene.Trs;

/** Where every node of a scene is at one time, whether it shows, and how its mesh is blended. */
public final class Pose {
  private final Affine[] world;
  private final float[][] weights;
  private final boolean[] shown;

  private Pose(Affine[] world, float[][] weights, boolean[] shown) {
    this.world = world;
    this.weights = weights;
    this.shown = shown;
  }

  /** Evaluates all animations together; see {@link #at(Scene, double, Set)}. */
  public static Pose at(Scene scene, double seconds) {
    return at(scene, seconds, null);
  }

  /**
   * Evaluates animations together; where two move the same thing the later one wins.
   *
   * @param seconds time from the start of the animations; held before the first and after the last
   *     key
   * @param clips names of the animations that play; null for all
   */
  public static Pose at(Scene scene, double seconds, Set<String> clips) {
    BitSet all = new BitSet();
    all.set(0, scene.nodes().size());
    return at(scene, seconds, clips, null, all);
  }

  /**
   * Evaluates animations as above where only some nodes can move.
   *
   * @param other a pose of the same scene and clips at any time; null if all may move
   * @param moving nodes that are moved, and all that hang on them
   */
  public static Pose at(Scene scene, double seconds, Set<String> clips, Pose other, BitSet moving) {
    List<Node> nodes = scene.nodes();
    Trs[] local = new Trs[nodes.size()];
    float[][] weights = other == null ? new float[nodes.size()][] : other.weights.clone();
    boolean[] shown = other == null ? new boolean[nodes.size()] : other.shown.clone();
    Affine[] world = other == null ? new Affine[nodes.size()] : other.world.clone();
    for (int i = moving.nextSetBit(0); i >= 0; i = moving.nextSetBit(i + 1)) {
      shown[i] = nodes.get(i).shown();
      weights[i] = null;
    }
    for (Animation a : scene.animations()) {
      if (!a.plays(clips)) {
        continue;
      }
      for (Channel c : a.channels()) {
        double[] v = Keys.at(c, seconds);
        if (c.path() == Path.WEIGHTS) {
          weights[c.node()] = Values.floats(v);
          continue;
        }
        if (c.path() == Path.SHOWN) {
          shown[c.node()] = v[0] > 0;
          continue;
        }
        Trs base = local[c.node()];
        if (base == null) {
          Trs rest = nodes.get(c.node()).trs();
          base = rest == null ? Trs.IDENTITY : rest;
        }
        local[c.node()] = with(base, c, v);
      }
    }
    for (int i = moving.nextSetBit(0); i >= 0; i = moving.nextSetBit(i + 1)) {
      Node n = nodes.get(i);
      Affine own = local[i] == null ? n.local() : local[i].toAffine();
      world[i] = n.parent() < 0 ? own : world[n.parent()].times(own);
      shown[i] &= n.parent() < 0 || shown[n.parent()];
      if (weights[i] == null && n.mesh() >= 0) {
        weights[i] = n.weights() != null ? n.weights() : scene.meshes().get(n.mesh()).weights();
      }
    }
    return new Pose(world, weights, shown);
  }

  private static Trs with(Trs t, Channel c, double[] v) {
    return switch (c.path()) {
      case TRANSLATION -> new Trs(new Vec3(v[0], v[1], v[2]), t.rotation(), t.scale());
      case ROTATION -> new Trs(t.translation(), new Quat(v[0], v[1], v[2], v[3]), t.scale());
      case SCALE -> new Trs(t.translation(), t.rotation(), new Vec3(v[0], v[1], v[2]));
      case SHOWN, WEIGHTS -> throw new IllegalArgumentException(c.path() + " places nothing");
    };
  }

  /** Returns the node's transform to world space. */
  public Affine world(int node) {
    return world[node];
  }

  /** Returns true if the node is there at all: neither it nor what it hangs on is left out. */
  public boolean shown(int node) {
    return shown[node];
  }

  /** Returns the weights of the morph targets of the node's mesh; fewer than targets means 0. */
  public float[] weights(int node) {
    return weights[node];
  }
}
