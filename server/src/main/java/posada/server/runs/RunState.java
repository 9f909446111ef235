package posada.server.runs;

import java.util.EnumSet;
import java.util.Map;
import java.util.Set;

/** How a run stands. */
public enum RunState {
  RUNNING,
  DONE,
  FAILED,
  CANCELLED;

  private static final Map<RunState, Set<RunState>> NEXT =
      Map.of(
          RUNNING, EnumSet.of(DONE, FAILED, CANCELLED),
          DONE, EnumSet.noneOf(RunState.class),
          FAILED, EnumSet.of(RUNNING),
          CANCELLED, EnumSet.of(RUNNING));

  /** Returns true if the other state may follow this one. */
  public boolean mayBecome(RunState next) {
    return NEXT.get(this).contains(next);
  }
}
