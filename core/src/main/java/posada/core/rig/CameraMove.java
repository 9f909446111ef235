package posada.core.rig;

import java.util.Set;
import posada.core.geometry.Affine;
import posada.core.geometry.Quat;
import posada.core.geometry.Vec3;
import posada.core.scene.Scene;

/** Where a camera of the rig is over time. */
final class CameraMove {
  private static final Vec3 AHEAD = new Vec3(0, 0, -1), UP = new Vec3(0, 1, 0);

  /** A place and a direction, in the space of what the camera hangs on. */
  record Placed(Vec3 place, Quat turn) {}

  private final RigCamera camera;
  private final KeyPath path;
  private final NodeMotion base;
  private final NodeMotion target;

  /**
   * @param parent number of the node it hangs on; below 0 for none
   * @param lookAt number of the node it is turned to; below 0 for none
   */
  CameraMove(RigCamera camera, Scene scene, int parent, int lookAt, Set<String> clips) {
    this.camera = camera;
    path = camera.path();
    base = new NodeMotion(scene, parent, clips);
    target = lookAt < 0 ? null : new NodeMotion(scene, lookAt, clips);
  }

  /** Returns true if it is not its keys alone that say where it is. */
  boolean worked() {
    return camera.orbit() != null
        || camera.height() != null
        || target != null
        || camera.sway() != null;
  }

  /** Returns the first and the last time of anything that moves it. */
  double[] span() {
    double first = camera.keys().get(0).time();
    double last = camera.keys().get(camera.keys().size() - 1).time();
    double[] s = {first, last};
    if (camera.orbit() != null) {
      wider(s, camera.orbit().from(), camera.orbit().to());
    }
    if (camera.sway() != null) {
      wider(s, camera.sway().from(), camera.sway().to());
    }
    if (target != null || camera.height() != null) {
      for (NodeMotion m : new NodeMotion[] {base, target}) {
        double[] k = m == null ? null : m.keyed();
        if (k != null) {
          wider(s, k[0], k[1]);
        }
      }
    }
    return s;
  }

  private static void wider(double[] s, double first, double last) {
    s[0] = Math.max(0, Math.min(s[0], first));
    s[1] = Math.max(s[1], last);
  }

  double view(double t) {
    return path.value(t, camera.view());
  }

  /** Returns where it is at a time, in the space of what it hangs on. */
  Placed at(double t) {
    Vec3 p = path.place(t);
    Quat q = path.turn(t);
    if (!worked()) {
      return new Placed(p, q);
    }
    Affine around = camera.orbit() == null ? Affine.IDENTITY : camera.orbit().at(t);
    Affine world = base.world(t).times(around);
    Vec3 at = world.point(p);
    Affine own = Affine.of(Vec3.ZERO, q, Vec3.ONE);
    Vec3 ahead = world.vector(own.vector(AHEAD));
    Vec3 up = world.vector(own.vector(UP));
    if (camera.height() != null) {
      at = new Vec3(at.x(), camera.height(), at.z());
    }
    if (target != null) {
      Vec3 there = target.middle(t).minus(at);
      if (there.length() > 1e-9) {
        ahead = there;
        up = UP;
      }
    }
    Quat turn = Quat.looking(ahead, up);
    if (camera.sway() != null) {
      at = at.plus(Affine.of(Vec3.ZERO, turn, Vec3.ONE).vector(camera.sway().moved(t)));
      turn = turn.times(camera.sway().turned(t));
    }
    Affine back = base.world(t);
    if (!back.invertible()) {
      return new Placed(p, q);
    }
    Affine inverse = back.inverse();
    Affine turned = Affine.of(Vec3.ZERO, turn, Vec3.ONE);
    return new Placed(
        inverse.point(at),
        Quat.looking(inverse.vector(turned.vector(AHEAD)), inverse.vector(turned.vector(UP))));
  }
}
