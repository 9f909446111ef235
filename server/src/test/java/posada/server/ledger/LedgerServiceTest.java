package posada.server.ledger;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.mockito.Answers;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;
import posada.core.trace.FrameContent;
import posada.formats.job.StrandDocument;
import posada.formats.ledger.LedgerRow;
import posada.formats.ledger.LedgerRows;
import posada.formats.ledger.Standing;
import posada.server.app.EventHub;
import posada.server.app.RenderThreads;
import posada.server.board.StrandPlan;
import posada.server.board.StrandPlan.Ready;
import posada.server.scenes.SceneLibrary;

class LedgerServiceTest {
  private static final long SHOT = 3, LAYER = 5;

  private final LedgerRepository repository = mock(LedgerRepository.class);
  private final LedgerRows rows = mock(LedgerRows.class);
  private final StrandPlan plan = mock(StrandPlan.class);
  private final LedgerService ledger =
      new LedgerService(
          repository,
          plan,
          mock(SceneLibrary.class),
          mock(RenderThreads.class),
          mock(EventHub.class));

  @AfterEach
  void close() {
    TransactionSynchronizationManager.clear();
    ledger.close();
  }

  private final Ready strand = mock(Ready.class, Answers.RETURNS_DEEP_STUBS);

  @BeforeEach
  void open() {
    when(strand.shot().id()).thenReturn(SHOT);
    when(strand.layerId()).thenReturn(LAYER);
    StrandDocument d = mock(StrandDocument.class);
    when(d.basis()).thenReturn("basis");
    when(d.frames()).thenReturn("1");
    when(plan.document(any(), anyInt())).thenReturn(d);
    when(repository.of(SHOT, LAYER)).thenReturn(rows);
    when(repository.keep(any())).thenReturn("key");
  }

  private void record() {
    TransactionSynchronizationManager.initSynchronization();
    ledger.record(
        SHOT,
        LAYER,
        new FrameContent.Input(Map.of(), List.of(), new long[0], new int[0]),
        LedgerRow.written(1, 7, 1, "print", "basis", null, false, 100));
  }

  private static void complete() {
    TransactionSynchronizationManager.getSynchronizations()
        .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
    TransactionSynchronizationManager.clear();
  }

  /** Who sees that a frame is committed is not told what was known before. */
  @Test
  void whatWasKnownIsNotToldWhileAFrameIsWritten() {
    ledger.standings(strand);
    ledger.standings(strand);
    verify(rows, times(1)).slim();
    record();
    ledger.standings(strand);
    verify(rows, times(2)).slim();
    complete();
    ledger.standings(strand);
    verify(rows, times(2)).slim();
  }

  /** Who reads while a frame is being committed does not see it, and must not keep that. */
  @Test
  void whatIsReadBeforeACommitIsNotKept() {
    record();
    assertEquals(Standing.MISSING, ledger.standings(strand).of()[0]);
    complete();
    assertEquals(Standing.FRESH, ledger.standings(strand).of()[0]);
  }
}
