package posada.server.runs;

import java.util.EnumSet;
import java.util.Map;
import java.util.Set;

/** How a strand of a run stands. */
public enum RunState {
  RUNNING,
  PAUSED,
  DONE,
  FAILED,
  CANCELLED;

  private static final Map<RunState, Set<RunState>> NEXT =
      Map.of(
          RUNNING, EnumSet.of(PAUSED, DONE, FAILED, CANCELLED),
          PAUSED, EnumSet.of(RUNNING, DONE, FAILED, CANCELLED),
          DONE, EnumSet.noneOf(RunState.class),
          FAILED, EnumSet.of(RUNNING),
          CANCELLED, EnumSet.of(RUNNING));

  /** Returns true if the other state may follow this one. */
  public boolean mayBecome(RunState next) {
    return NEXT.get(this).contains(next);
  }

  /** Returns true if there may be something to do. */
  public boolean open() {
    return this == RUNNING || this == PAUSED;
  }
}
