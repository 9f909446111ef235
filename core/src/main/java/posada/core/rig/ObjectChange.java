package posada.core.rig;

import java.util.List;

/**
 * When an object is there.
 *
 * @param object its name; what hangs on it comes and goes with it
 * @param shown from when on it is there or not, in order of time
 * @param on false to leave the object as the file has it
 */
public record ObjectChange(String object, List<Shown> shown, boolean on) {
  /** Whether it is there from a time on, seconds. */
  public record Shown(double time, boolean there) {
    public Shown {
      Bounded.within("key time", time, 0, RigKey.LATEST, "s");
    }
  }

  public ObjectChange {
    if (shown == null || shown.isEmpty()) {
      throw new IllegalArgumentException("object \"" + object + "\" needs a key of visibility");
    }
    for (int i = 1; i < shown.size(); i++) {
      if (!(shown.get(i).time() > shown.get(i - 1).time())) {
        throw new IllegalArgumentException(
            "keys of visibility of \"" + object + "\" must be in order, one at a time");
      }
    }
    shown = List.copyOf(shown);
  }
}
