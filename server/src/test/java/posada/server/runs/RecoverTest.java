package posada.server.runs;

import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.ArgumentMatchers.contains;
import static org.mockito.ArgumentMatchers.eq;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.context.ApplicationEventPublisher;
import posada.server.app.ConflictException;
import posada.server.app.EventHub;
import posada.server.board.BatchChecks;
import posada.server.board.StrandPlan;
import posada.server.ledger.LedgerService;

/** What becomes of runs when the server starts again after it has died. */
class RecoverTest {
  @TempDir Path folder;
  private final RunRepository strands = mock(RunRepository.class);
  private final TaskRepository tasks = mock(TaskRepository.class);
  private final Dispatcher dispatcher = mock(Dispatcher.class);
  private final RunPlanner planner = mock(RunPlanner.class);
  private final RunService runs =
      new RunService(
          strands,
          tasks,
          dispatcher,
          planner,
          mock(StrandPlan.class),
          mock(BatchChecks.class),
          mock(LedgerService.class),
          mock(EventHub.class),
          mock(ApplicationEventPublisher.class));

  @BeforeEach
  void planned() {
    when(strands.isPlanned(7)).thenReturn(true);
  }

  private RunStrand run(RunState state, Bake... bakes) {
    return TestRuns.run(folder, state, "{}", List.of(bakes));
  }

  /** There is a strand of a run with something in work; later it is seen as it becomes. */
  private void holds(RunStrand before, RunStrand after, Task... inWork) {
    when(strands.unfinished()).thenReturn(List.of(before));
    when(strands.find(7)).thenReturn(Optional.of(after));
    when(tasks.inWork(7)).thenReturn(List.of(inWork));
    for (Task t : inWork) {
      when(tasks.line(7, t.frame() == null ? 0 : t.frame()))
          .thenReturn(
              Optional.of(
                  new FrameLine(1, 1, FrameState.RENDERING, t.attempts(), null, "f", null)));
    }
  }

  private static Task light(int attempts) {
    return new Task(100, 7, Task.Kind.BAKE, null, null, null, attempts);
  }

  private static Task frame(int frame, int attempts) {
    return new Task(100 + frame, 7, Task.Kind.FRAME, null, frame, frame, attempts);
  }

  @Test
  void lightInWorkIsBakedAgain() {
    RunStrand run = run(RunState.RUNNING);
    holds(run, run, light(1));
    runs.recover();
    verify(dispatcher).clear();
    verify(tasks).again(eq(light(1).id()), contains("server ended"));
    verify(dispatcher).changed();
  }

  @Test
  void lightThatEndedTheServerTooOftenFailsAndTheFramesAreLeftOut() {
    Bake failed = new Bake(FrameState.FAILED, 3, null, null, null);
    holds(run(RunState.RUNNING), run(RunState.RUNNING, failed), light(3));
    runs.recover();
    verify(tasks).move(eq(light(3)), eq(FrameState.FAILED), contains("ended 3 times"));
    verify(tasks).moveAll(7, FrameState.WAITING, FrameState.SKIPPED, null);
  }

  @Test
  void framesInWorkWaitAgainOrFailAfterThreeTimes() {
    RunStrand run = run(RunState.RUNNING);
    holds(run, run, frame(1, 1), frame(2, 3));
    runs.recover();
    verify(tasks).again(eq(frame(1, 1).id()), contains("server ended"));
    verify(tasks).move(eq(frame(2, 3)), eq(FrameState.FAILED), contains("ended 3 times"));
  }

  @Test
  void whatWasNotPlannedIsPlanned() {
    RunStrand run = run(RunState.PAUSED);
    holds(run, run);
    when(strands.isPlanned(7)).thenReturn(false);
    runs.recover();
    verify(planner).plan(eq(7L), any(), any());
  }

  /** Two of its files would share a name by now: the other runs go on all the same. */
  @Test
  void aRunThatCannotBeReadFailsAndTheOthersGoOn() {
    RunStrand odd =
        TestRuns.run(
            folder,
            RunState.RUNNING,
            "{\"delivery\": {\"formats\": [\"png\", \"png16\"]}}",
            List.of());
    RunStrand sound = run(RunState.RUNNING);
    holds(sound, sound, frame(1, 1));
    when(strands.unfinished()).thenReturn(List.of(odd, sound));
    runs.recover();
    verify(tasks)
        .moveAll(
            eq(7L),
            eq(FrameState.WAITING),
            eq(FrameState.FAILED),
            contains("cannot be taken up: two files would share the name"));
    verify(tasks).again(eq(frame(1, 1).id()), contains("server ended"));
  }

  /** The failing second one cleared what the first had asked for, and the frame went on. */
  @Test
  void aSecondCancelDoesNotTakeBackTheFirst() {
    when(strands.find(7)).thenReturn(Optional.of(run(RunState.RUNNING)));
    when(strands.move(7, RunState.RUNNING, RunState.CANCELLED)).thenReturn(true, false);
    runs.cancel(7);
    assertThrows(ConflictException.class, () -> runs.cancel(7));
    assertTrue(runs.isCancelled(7));
  }

  /** Nobody would ever stop it: going on with the run would have to wait for ever. */
  @Test
  void whatACancelledRunHadInWorkHasStopped() {
    RunStrand run = run(RunState.CANCELLED);
    holds(run, run, light(1));
    runs.recover();
    verify(tasks).moveAll(7, FrameState.RENDERING, FrameState.SKIPPED, null);
    verify(planner, never()).plan(anyLong(), any(), any());
  }
}
