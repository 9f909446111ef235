package posada.server.runs;

import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.ArgumentMatchers.isNull;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;

/** What becomes of runs when the server starts again after it has died. */
class RecoverTest {
  @TempDir Path folder;
  private final RunRepository ledger = mock(RunRepository.class);
  private final FrameQueue queue = mock(FrameQueue.class);
  private final RunService runs =
      new RunService(ledger, queue, mock(StrandPlan.class), mock(EventHub.class));

  private Run run(RunState state, List<Bake> bakes) {
    return TestRuns.run(folder, state, "{}", bakes);
  }

  private static Bake light(FrameState state, int attempts) {
    return new Bake(state, attempts, null, null, null);
  }

  /** The ledger holds a run; what is asked for later sees it as it becomes. */
  private void holds(Run before, Run after, LedgerLine... lines) {
    when(ledger.unfinished()).thenReturn(List.of(before));
    when(ledger.find(7)).thenReturn(Optional.of(after));
    when(ledger.ledger(7)).thenReturn(List.of(lines));
  }

  @Test
  void lightInWorkIsBakedAgain() {
    holds(
        run(RunState.RUNNING, List.of(light(FrameState.RENDERING, 1))),
        run(RunState.RUNNING, List.of(light(FrameState.WAITING, 1))),
        new LedgerLine(1, FrameState.WAITING, 0, null, "f", null),
        new LedgerLine(2, FrameState.WAITING, 0, null, "f", null));
    runs.recover();
    verify(ledger).moveBake(7, FrameState.WAITING, null, null, null);
    verify(queue).clear();
    verify(queue).send(7, true, List.of(1, 2));
  }

  @Test
  void lightThatEndedTheServerTooOftenFailsAndTheFramesAreLeftOut() {
    holds(
        run(RunState.RUNNING, List.of(light(FrameState.RENDERING, 3))),
        run(RunState.RUNNING, List.of(light(FrameState.FAILED, 3))));
    runs.recover();
    verify(ledger)
        .moveBake(eq(7L), eq(FrameState.FAILED), isNull(), isNull(), contains("ended 3 times"));
    verify(ledger).moveAll(7, FrameState.WAITING, FrameState.SKIPPED);
    verify(queue).send(7, false, List.of());
  }

  @Test
  void lightThatIsThereIsNotBakedAgain() {
    Run run = run(RunState.RUNNING, List.of(light(FrameState.FRESH, 1)));
    holds(run, run, new LedgerLine(2, FrameState.WAITING, 0, null, "f", null));
    runs.recover();
    verify(ledger, never()).moveBake(anyLong(), any(), any(), any(), any());
    verify(queue).send(7, false, List.of(2));
  }

  @Test
  void framesInWorkWaitAgainOrFailAfterThreeTimes() {
    Run run = run(RunState.RUNNING, List.of());
    holds(
        run,
        run,
        new LedgerLine(1, FrameState.RENDERING, 1, null, "f", null),
        new LedgerLine(2, FrameState.RENDERING, 3, null, "f", null));
    runs.recover();
    verify(ledger).move(7, 1, FrameState.WAITING, null);
    verify(ledger).move(eq(7L), eq(2), eq(FrameState.FAILED), contains("ended 3 times"));
  }

  /** Two of its files would share a name by now: the other runs go on all the same. */
  @Test
  void aRunThatCannotBeReadFailsAndTheOthersGoOn() {
    Run odd =
        TestRuns.run(
            folder,
            RunState.RUNNING,
            "{\"delivery\": {\"formats\": [\"png\", \"png16\"]}}",
            List.of());
    Run sound = run(RunState.RUNNING, List.of());
    when(ledger.unfinished()).thenReturn(List.of(odd, sound));
    when(ledger.find(7)).thenReturn(Optional.of(sound));
    when(ledger.ledger(7))
        .thenReturn(List.of(new LedgerLine(2, FrameState.WAITING, 0, null, "f", null)));
    runs.recover();
    verify(ledger).failAll(eq(7L), contains("cannot be taken up: two files would share the name"));
    verify(queue).send(7, false, List.of(2));
  }

  /** The failing second one cleared what the first had asked for, and the frame went on. */
  @Test
  void aSecondCancelDoesNotTakeBackTheFirst() {
    when(ledger.find(7)).thenReturn(Optional.of(run(RunState.CANCELLED, List.of())));
    when(ledger.move(7, RunState.RUNNING, RunState.CANCELLED)).thenReturn(true, false);
    runs.cancel(7);
    assertThrows(ConflictException.class, () -> runs.cancel(7));
    assertTrue(runs.isCancelled(7));
  }

  /** Nobody would ever stop it: going on with the run would have to wait for ever. */
  @Test
  void whatACancelledRunHadInWorkHasStopped() {
    Run run = run(RunState.CANCELLED, List.of(light(FrameState.RENDERING, 1)));
    holds(run, run);
    runs.recover();
    verify(ledger).moveAll(7, FrameState.RENDERING, FrameState.SKIPPED);
    verify(queue, never()).send(anyLong(), eq(true), any());
    verify(queue, never()).send(anyLong(), eq(false), any());
  }
}
