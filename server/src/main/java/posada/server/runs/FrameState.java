package posada.server.runs;

import java.util.EnumSet;
import java.util.Map;
import java.util.Set;

/** How a frame of a run stands, or the baking of its light. */
public enum FrameState {
  WAITING('W'),
  RENDERING('R'),
  FRESH('F'),
  FAILED('X'),
  SKIPPED('-');

  private final char letter;

  FrameState(char letter) {
    this.letter = letter;
  }

  /** Returns the letter that stands for it where there are many. */
  char letter() {
    return letter;
  }

  /** The one table of what may follow what. */
  private static final Map<FrameState, Set<FrameState>> NEXT =
      Map.of(
          WAITING, EnumSet.of(RENDERING, SKIPPED, FRESH, FAILED),
          RENDERING, EnumSet.of(FRESH, FAILED, WAITING, SKIPPED),
          FRESH, EnumSet.noneOf(FrameState.class),
          FAILED, EnumSet.of(WAITING),
          SKIPPED, EnumSet.of(WAITING));

  /** Returns true if nothing more becomes of it by itself. */
  boolean ended() {
    return this == FRESH || this == FAILED || this == SKIPPED;
  }

  /** Returns true if the other state may follow this one. */
  public boolean mayBecome(FrameState next) {
    return NEXT.get(this).contains(next);
  }

  /** Returns the states that the given one may follow. */
  static Set<FrameState> before(FrameState next) {
    Set<FrameState> from = EnumSet.noneOf(FrameState.class);
    for (FrameState s : values()) {
      if (s.mayBecome(next)) {
        from.add(s);
      }
    }
    return from;
  }
}
