package posada.server.runs;

import static org.junit.jupiter.api.Assertions.assertEquals;

import org.junit.jupiter.api.Test;

/** The whole grid of from and to. */
class StatesTest {
  @Test
  void framesMoveOnlyAsTheTableSays() {
    // Columns in the order waiting, rendering, fresh, failed, skipped.
    String[] grid = {".++++", "+.+++", ".....", "+....", "+...."};
    for (FrameState from : FrameState.values()) {
      for (FrameState to : FrameState.values()) {
        boolean allowed = grid[from.ordinal()].charAt(to.ordinal()) == '+';
        assertEquals(allowed, from.mayBecome(to), from + " to " + to);
        assertEquals(allowed, FrameState.before(to).contains(from), from + " before " + to);
      }
    }
  }

  @Test
  void runsMoveOnlyAsTheTableSays() {
    // Columns in the order running, paused, done, failed, cancelled.
    String[] grid = {".++++", "+.+++", ".....", "+....", "+...."};
    for (RunState from : RunState.values()) {
      for (RunState to : RunState.values()) {
        assertEquals(
            grid[from.ordinal()].charAt(to.ordinal()) == '+', from.mayBecome(to), from + " " + to);
      }
    }
  }
}
