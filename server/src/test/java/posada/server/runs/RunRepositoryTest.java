package posada.server.runs;

import static org.junit.jupiter.api.Assertions.assertEquals;
import static org.junit.jupiter.api.Assertions.assertFalse;
import static org.junit.jupiter.api.Assertions.assertNull;
import static org.junit.jupiter.api.Assertions.assertThrows;
import static org.junit.jupiter.api.Assertions.assertTrue;

import java.nio.file.Path;
import java.util.List;
import org.flywaydb.core.Flyway;
import org.h2.jdbcx.JdbcConnectionPool;
import org.jooq.SQLDialect;
import org.jooq.exception.IntegrityConstraintViolationException;
import org.jooq.impl.DSL;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;

/** The ledger in a database in memory: what is in work, and which moves it lets through. */
class RunRepositoryTest {
  private final JdbcConnectionPool pool = JdbcConnectionPool.create("jdbc:h2:mem:ledger", "sa", "");
  private static final String BAKED = "{\"recipe\": {\"irradiance\": {\"use\": true}}}";
  private final RunRepository ledger = new RunRepository(DSL.using(pool, SQLDialect.H2));

  @BeforeEach
  void tables() {
    Flyway.configure().dataSource(pool).load().migrate();
    // Runs stand alone here, without a scene and a shot.
    DSL.using(pool, SQLDialect.H2).execute("set referential_integrity false");
    // A query that takes a second connection while it holds the first fails.
    pool.setMaxConnections(1);
    pool.setLoginTimeout(1);
  }

  @AfterEach
  void close() {
    pool.dispose();
  }

  /** Adds a run of frames 1 and 2, each in a production of its own. */
  private long add(int production, String settings) {
    Run r = TestRuns.run(Path.of("f"), RunState.RUNNING, settings, List.of());
    return ledger.add(production, 1, 1, r.settings(), "f/" + production, "f" + production);
  }

  private long add(int production) {
    return add(production, "{}");
  }

  private List<Long> unfinished() {
    return ledger.unfinished().stream().map(Run::id).toList();
  }

  @Test
  void unfinishedRunsComeOldestFirstWithWhatCancelledOnesHaveInWork() {
    long done = add(1), stopping = add(2), stopped = add(3), last = add(4);
    for (int f : List.of(1, 2)) {
      assertTrue(ledger.take(done, f, false));
      assertTrue(ledger.finish(done, f, 1.0, 0));
    }
    assertTrue(ledger.move(done, RunState.RUNNING, RunState.DONE));
    assertTrue(ledger.take(stopping, 2, false));
    assertTrue(ledger.move(stopping, RunState.RUNNING, RunState.CANCELLED));
    assertTrue(ledger.move(stopped, RunState.RUNNING, RunState.CANCELLED));
    assertEquals(List.of(stopping, last), unfinished());
    assertTrue(ledger.move(stopping, 2, FrameState.SKIPPED, null));
    assertEquals(List.of(last), unfinished());
  }

  @Test
  void lightInWorkOfACancelledRunIsUnfinished() {
    long run = add(1, BAKED);
    assertTrue(ledger.takeBake(run, false));
    assertFalse(ledger.takeBake(run, false));
    assertTrue(ledger.move(run, RunState.RUNNING, RunState.CANCELLED));
    assertEquals(List.of(run), unfinished());
    ledger.moveAll(run, FrameState.RENDERING, FrameState.SKIPPED);
    assertEquals(List.of(), unfinished());
    assertEquals(FrameState.SKIPPED, ledger.find(run).orElseThrow().bakes().get(0).state());
  }

  /** Messages of a first attempt may still be queued when a run goes on: its light comes first. */
  @Test
  void framesAreNotTakenBeforeTheirLightIsBaked() {
    long run = add(1, BAKED);
    long other = add(2);
    assertFalse(ledger.take(run, 1, false));
    assertTrue(ledger.takeBake(run, false));
    assertFalse(ledger.take(run, 1, false));
    assertTrue(ledger.moveBake(run, FrameState.FAILED, null, null, "the sail moves"));
    assertFalse(ledger.take(run, 1, false));
    ledger.moveAll(run, FrameState.FAILED, FrameState.WAITING);
    assertFalse(ledger.take(run, 1, false));
    assertTrue(ledger.take(other, 1, false));
    assertTrue(ledger.takeBake(run, false));
    assertTrue(ledger.moveBake(run, FrameState.FRESH, 2.0, 300, null));
    assertTrue(ledger.take(run, 1, false));
    assertEquals(0, ledger.line(run, 2).orElseThrow().attempts());
  }

  @Test
  void runsAreListedTheNewestFirstEachWithItsOwnFrames() {
    long first = add(1), second = add(2, BAKED);
    DSL.using(pool, SQLDialect.H2).execute("update run set production_id = 1, shot = id");
    assertTrue(ledger.take(first, 2, false));
    assertTrue(ledger.finish(first, 2, 3.0, 0));
    List<Run> all = ledger.all(1);
    assertEquals(List.of(), ledger.all(2));
    assertEquals(List.of(second, first), all.stream().map(Run::id).toList());
    assertEquals(List.of(1, 0), all.stream().map(r -> r.bakes().size()).toList());
    assertEquals(List.of(0, 1), all.stream().map(Run::fresh).toList());
    assertEquals(3.0, all.get(1).secondsPerFrame());
    assertNull(all.get(0).secondsPerFrame());
    assertEquals(all.get(1), ledger.find(first).orElseThrow());
  }

  /** Its worker could not say what became of it, since the database was down. */
  @Test
  void aFrameWhoseMessageIsGivenAgainIsTakenThoughItIsInWork() {
    long run = add(1);
    assertTrue(ledger.take(run, 1, false));
    assertFalse(ledger.take(run, 1, false));
    assertTrue(ledger.take(run, 1, true));
    assertEquals(2, ledger.line(run, 1).orElseThrow().attempts());
    assertTrue(ledger.finish(run, 1, 1.0, 0));
    assertFalse(ledger.take(run, 1, true));
  }

  @Test
  void whatIsGivenBackCountsAsNotTaken() {
    long run = add(1, BAKED);
    assertTrue(ledger.takeBake(run, false));
    ledger.giveBackBake(run);
    Bake light = ledger.find(run).orElseThrow().bakes().get(0);
    assertEquals(new Bake(FrameState.WAITING, 0, null, null, null), light);
    assertTrue(ledger.takeBake(run, false));
    assertTrue(ledger.moveBake(run, FrameState.FRESH, 1.0, 3, null));
    assertTrue(ledger.take(run, 1, false));
    ledger.giveBack(run, 1);
    ledger.giveBack(run, 2);
    assertEquals(0, ledger.line(run, 1).orElseThrow().attempts());
    assertEquals(FrameState.WAITING, ledger.line(run, 2).orElseThrow().state());
    assertEquals(0, ledger.line(run, 2).orElseThrow().attempts());
  }

  @Test
  void strandsThatShareAFolderShareTheirNumbers() {
    add(1);
    assertEquals(2, ledger.nextNumber("f1"));
    assertEquals(1, ledger.nextNumber("f9"));
    assertThrows(IntegrityConstraintViolationException.class, () -> add(1));
  }

  @Test
  void lateMessagesChangeNothing() {
    long run = add(1);
    assertTrue(ledger.take(run, 1, false));
    assertFalse(ledger.take(run, 1, false));
    assertNull(ledger.find(run).orElseThrow().shareCut());
    assertTrue(ledger.finish(run, 1, 2.5, 0.04));
    assertTrue(ledger.take(run, 2, false));
    assertTrue(ledger.finish(run, 2, 3.5, 0.01));
    assertEquals(0.04, ledger.find(run).orElseThrow().shareCut(), "of the frame that lost most");
    assertFalse(ledger.move(run, 1, FrameState.FAILED, "too late"));
    LedgerLine line = ledger.line(run, 1).orElseThrow();
    assertEquals(FrameState.FRESH, line.state());
    assertEquals(2.5, line.seconds());
    assertEquals(1, line.attempts());
    assertTrue(ledger.move(run, RunState.RUNNING, RunState.CANCELLED));
    assertFalse(ledger.take(run, 2, false));
    assertFalse(ledger.move(run, RunState.RUNNING, RunState.DONE));
    assertFalse(ledger.line(run, 3).isPresent());
    assertThrows(
        IllegalStateException.class,
        () -> ledger.moveAll(run, FrameState.FRESH, FrameState.WAITING));
  }
}
