package posada.core.rig;

import java.util.List;
import java.util.Map;
import posada.core.geometry.Vec3;

/**
 * A camera of the rig.
 *
 * @param name that shots call it by
 * @param orthographic false for a perspective one
 * @param view full vertical angle in degrees, or height of an orthographic view in metres
 * @param fixedTo name of the object it hangs on, and in whose space its keys are; empty for none
 * @param keys where it is, in order of time, at least one
 * @param lookAt name of the object it is turned to; empty for none
 * @param height metres above 0 at which it is held; null for where the keys have it
 * @param pivot what it turns about between keys, in its own axes (-Z ahead, +Y up), metres
 * @param orbit a way around; null for none
 * @param sway null for none
 */
public record RigCamera(
    String name,
    boolean orthographic,
    double view,
    String fixedTo,
    List<RigKey> keys,
    String lookAt,
    Double height,
    List<Double> pivot,
    Orbit orbit,
    Sway sway) {
  public RigCamera {
    Bounded.name("a camera", name);
    String me = "camera \"" + name + "\"";
    if (orthographic) {
      Bounded.within("height of view of " + me, view, 1e-4, 1e6, "m");
    } else {
      Bounded.within("vertical field of view of " + me, view, 0.1, 175, "degrees");
    }
    keys = Bounded.keys(me, keys, 1);
    for (RigKey k : keys) {
      if (k.value() != null) {
        Bounded.within(
            "view at " + Bounded.plain(k.time()) + " s of " + me,
            k.value(),
            orthographic ? 1e-4 : 0.1,
            orthographic ? 1e6 : 175,
            orthographic ? "m" : "degrees");
      }
    }
    if (height != null) {
      Bounded.within("height of " + me, height, -RigKey.FARTHEST, RigKey.FARTHEST, "m");
    }
    pivot = Bounded.numbers("pivot", pivot, 3, RigKey.FARTHEST, "m");
    if (!fixedTo.isEmpty() && fixedTo.equals(lookAt)) {
      throw new IllegalArgumentException(
          me + " hangs on \"" + fixedTo + "\" and cannot be turned to it; choose another object");
    }
  }

  /** A camera that stands or moves by its keys alone. */
  public RigCamera(String name, boolean orthographic, double view, List<RigKey> keys) {
    this(name, orthographic, view, "", keys, "", null, List.of(0.0, 0.0, 0.0), null, null);
  }

  /** Returns true if anything of it changes where it is or where it looks. */
  public boolean moves() {
    return keys.size() > 1
        || orbit != null
        || sway != null
        || !lookAt.isEmpty()
        || !fixedTo.isEmpty();
  }

  Vec3 pivotPoint() {
    return new Vec3(pivot.get(0), pivot.get(1), pivot.get(2));
  }

  KeyPath path() {
    return new KeyPath(keys, pivotPoint());
  }

  /** Returns the same with other keys. */
  public RigCamera with(List<RigKey> other) {
    return new RigCamera(
        name, orthographic, view, fixedTo, other, lookAt, height, pivot, orbit, sway);
  }

  /** Returns the same where objects are called otherwise. */
  RigCamera renamed(Map<String, String> names) {
    return new RigCamera(
        name,
        orthographic,
        view,
        names.getOrDefault(fixedTo, fixedTo),
        keys,
        names.getOrDefault(lookAt, lookAt),
        height,
        pivot,
        orbit,
        sway);
  }
}
