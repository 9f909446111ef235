package posada.core.rig;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;

/** A move from stop to stop, with seconds for each transition, in whole frames. */
public final class Stops {
  /**
   * A place where a camera stops.
   *
   * @param pose its time does not matter
   * @param hold seconds that it stays
   * @param transition seconds to the next; of the last stop it does not matter
   */
  public record CameraStop(RigKey pose, double hold, double transition) {
    public CameraStop {
      Bounded.within("time at a stop", hold, 0, RigKey.LATEST, "s");
      Bounded.within("time of a transition", transition, 0.04, RigKey.LATEST, "s");
    }
  }

  /**
   * A move in frames.
   *
   * @param keys in order of time
   * @param first frame
   * @param last frame
   * @param sentence the move in words
   */
  public record StopsMove(List<RigKey> keys, int first, int last, String sentence) {}

  private Stops() {}

  /**
   * Turns stops into keys on whole frames.
   *
   * @param stops at least two
   * @param first frame of the move
   * @param rate frames a second
   * @param ease of each transition
   */
  public static StopsMove keys(List<CameraStop> stops, int first, double rate, Ease ease) {
    if (stops.size() < 2) {
      throw new IllegalArgumentException(
          "a move needs two stops or more (got " + stops.size() + "); add the present view as one");
    }
    List<RigKey> keys = new ArrayList<>();
    int frame = first;
    List<String> takes = new ArrayList<>();
    double held = 0;
    for (int i = 0; i < stops.size(); i++) {
      CameraStop s = stops.get(i);
      int hold = (int) Math.round(s.hold * rate);
      keys.add(key(s.pose, frame / rate, hold > 0 ? Ease.STEP : ease));
      if (hold > 0) {
        frame += hold;
        held += s.hold;
        keys.add(key(s.pose, frame / rate, ease));
      }
      if (i + 1 < stops.size()) {
        frame += Math.max(1, (int) Math.round(s.transition * rate));
        takes.add(number(s.transition));
      }
    }
    int transitions = takes.size();
    boolean same = takes.stream().distinct().count() == 1;
    String sentence =
        stops.size()
            + " stops, "
            + transitions
            + (transitions == 1 ? " transition of " : " transitions of ")
            + (same ? takes.get(0) : String.join(", ", takes))
            + " s"
            + (held > 0 ? ", " + number(held) + " s at stops" : "")
            + " at "
            + number(rate)
            + " fps: frames "
            + first
            + "–"
            + frame;
    return new StopsMove(List.copyOf(keys), first, frame, sentence);
  }

  private static RigKey key(RigKey pose, double time, Ease ease) {
    return new RigKey(time, pose.position(), pose.rotation(), pose.value(), ease);
  }

  private static String number(double v) {
    return v == Math.rint(v)
        ? Long.toString((long) v)
        : String.format(Locale.ROOT, "%.3f", v).replaceAll("0+$", "");
  }
}
