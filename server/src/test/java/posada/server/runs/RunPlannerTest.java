package posada.server.runs;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertNotNull;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.doCallRealMethod;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.never;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.sql.SQLException;
import java.util.Optional;
import java.util.concurrent.BlockingQueue;
import java.util.concurrent.LinkedBlockingQueue;
import java.util.concurrent.TimeUnit;
import org.junit.jupiter.api.Test;
import org.springframework.dao.DataAccessResourceFailureException;
import posada.core.parallel.Stop;
import posada.server.ledger.LedgerService;
import posada.server.storage.StorageHealth;

class RunPlannerTest {
  /** A run would never have gone on: a full disk is no fault of its frames. */
  @Test
  void aDatabaseThatFailsIsWaitedFor() throws Exception {
    RunRepository runs = mock(RunRepository.class);
    StorageHealth storage = mock(StorageHealth.class);
    when(storage.await(anyLong(), any())).thenReturn(true);
    doCallRealMethod().when(storage).keep(any(), any());
    doCallRealMethod().when(storage).kept(any(), any());
    when(runs.find(7))
        .thenThrow(
            new DataAccessResourceFailureException(
                "closed", new SQLException("the database has been closed", "90098", 90098)))
        .thenReturn(Optional.empty());
    RunPlanner planner =
        new RunPlanner(runs, mock(TaskRepository.class), mock(LedgerService.class), storage);
    BlockingQueue<Long> planned = new LinkedBlockingQueue<>();
    planner.plan(7, Stop.NEVER, planned::add);
    Long told = planned.poll(30, TimeUnit.SECONDS);
    assertNotNull(told);
    assertEquals(7, told);
    verify(storage).failed(any());
    verify(runs, never()).planned(anyLong(), any());
    planner.close();
  }
}
