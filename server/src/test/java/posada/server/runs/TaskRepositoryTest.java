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
import org.jooq.DSLContext;
import org.jooq.SQLDialect;
import org.jooq.impl.DSL;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import posada.formats.ledger.FramePlan;
import posada.server.runs.TaskRepository.OpenRun;

/** Runs and tasks in a database in memory: what comes next, and which moves are let through. */
class TaskRepositoryTest {
  private final JdbcConnectionPool pool = JdbcConnectionPool.create("jdbc:h2:mem:tasks", "sa", "");
  private final DSLContext db = DSL.using(pool, SQLDialect.H2);
  private final RunRepository runs = new RunRepository(db);
  private final TaskRepository tasks = new TaskRepository(db);

  @BeforeEach
  void tables() {
    Flyway.configure().dataSource(pool).load().migrate();
    // Runs stand alone here, without a scene and a shot.
    db.execute("set referential_integrity false");
    // A query that takes a second connection while it holds the first fails.
    pool.setMaxConnections(1);
    pool.setLoginTimeout(1);
  }

  @AfterEach
  void close() {
    pool.dispose();
  }

  private static FramePlan.Frame frame(int frame, int source, int rank) {
    return new FramePlan.Frame(frame, source, false, null, "f" + frame, rank);
  }

  /** Adds a strand of frames 1 to 3 to a run. */
  private long add(Run run, boolean baked) {
    RunStrand s = TestRuns.run(Path.of("f"), RunState.RUNNING, "{}", List.of());
    long id = runs.add(run, 1, 2, s.settings(), "f", "f", null, null);
    if (baked) {
      tasks.addBake(id);
    }
    tasks.add(id, List.of(frame(1, 1, 0), frame(2, 2, 4), frame(3, 3, 2)));
    runs.planned(id, null);
    return id;
  }

  private long add() {
    return add(runs.add(1, Run.Kind.BATCH, false, List.of()), false);
  }

  private Task task(long strand, int frame) {
    long id =
        db.fetchSingle("select id from task where strand_id = ? and frame = ?", strand, frame)
            .get(0, Long.class);
    return tasks.find(id).orElseThrow();
  }

  private Task bake(long strand) {
    long id =
        db.fetchSingle("select id from task where strand_id = ? and kind = 'BAKE'", strand)
            .get(0, Long.class);
    return tasks.find(id).orElseThrow();
  }

  private boolean take(Task t) {
    return tasks.take(t.id(), false);
  }

  private List<Integer> next(Run run) {
    OpenRun open = new OpenRun(run.id(), 0, run.comb());
    return tasks.next(open, 10, List.of()).stream()
        .map(id -> tasks.find(id).orElseThrow().frame())
        .toList();
  }

  private RunStrand strand(long id) {
    return runs.find(id).orElseThrow();
  }

  @Test
  void framesComeInTheOrderOfTheirStrandsOrFromAllOfThemAtOnce() {
    Run inOrder = runs.add(1, Run.Kind.BATCH, false, List.of()),
        comb = runs.add(1, Run.Kind.BATCH, true, List.of());
    long first = add(inOrder, false), second = add(inOrder, false);
    add(comb, false);
    long other = add(comb, false);
    assertEquals(List.of(1, 3, 2), next(inOrder));
    assertTrue(runs.move(first, RunState.RUNNING, RunState.PAUSED));
    assertEquals(
        task(second, 1).id(), tasks.next(new OpenRun(inOrder.id(), 0, false), 1, List.of()).get(0));
    assertEquals(List.of(1, 1, 3, 3, 2, 2), next(comb));
    runs.first(other);
    assertEquals(List.of(1, 3, 2), next(comb), "those that go first, until they are done");
  }

  /** Messages of a first attempt may still be queued when a run goes on: its light comes first. */
  @Test
  void framesAreNotTakenBeforeTheirLightIsBaked() {
    Run run = runs.add(1, Run.Kind.BATCH, false, List.of());
    long id = add(run, true);
    Task light = bake(id), one = task(id, 1);
    assertEquals(List.of(light.id()), tasks.next(new OpenRun(run.id(), 0, false), 9, List.of()));
    assertFalse(take(one));
    assertTrue(take(light));
    assertFalse(take(one));
    assertTrue(tasks.move(light, FrameState.FAILED, "the sail moves"));
    assertFalse(take(one));
    tasks.moveAll(id, FrameState.FAILED, FrameState.WAITING, null);
    assertTrue(take(light));
    assertTrue(tasks.baked(light, 2.0, 300));
    assertTrue(take(one));
    assertEquals(new Bake(FrameState.FRESH, 1, 2.0, 300, null), strand(id).bakes().get(0));
    assertEquals(0, strand(id).fresh(), "light is no frame");
  }

  @Test
  void copiesWaitForTheirPicture() {
    Run run = runs.add(1, Run.Kind.BATCH, false, List.of());
    RunStrand s = TestRuns.run(Path.of("f"), RunState.RUNNING, "{}", List.of());
    long id = runs.add(run, 1, 2, s.settings(), "f", "f", null, null);
    tasks.add(id, List.of(frame(1, 1, 0), frame(2, 1, 1), frame(3, 1, 2)));
    assertEquals(List.of(1), next(run));
    assertTrue(take(task(id, 1)));
    assertEquals(List.of(), next(run));
    assertEquals(List.of(2, 3), tasks.copies(id, 1).stream().map(Task::frame).toList());
    assertTrue(tasks.copied(task(id, 2)));
    assertTrue(tasks.finish(task(id, 1), 2, 0));
    // The server ended before the third was written: its picture is rendered again.
    assertEquals(List.of(3), next(run));
    assertEquals(2, strand(id).fresh());
    assertEquals(1, strand(id).copied());
  }

  @Test
  void whatFailedComesAgainBehindTheOthers() {
    Run run = runs.add(1, Run.Kind.BATCH, false, List.of());
    long id = add(run, false);
    Task one = task(id, 1);
    assertTrue(take(one));
    tasks.again(one.id(), "no room");
    assertEquals(List.of(3, 2, 1), next(run));
    FrameLine line = tasks.line(id, 1).orElseThrow();
    assertEquals("no room", line.failure());
    assertEquals(1, line.attempts());
    assertTrue(take(one));
    assertTrue(tasks.move(one, FrameState.FAILED, "no room"));
    assertEquals(1, strand(id).failed());
    tasks.moveAll(id, FrameState.FAILED, FrameState.WAITING, null);
    assertEquals(0, strand(id).failed());
    assertEquals(0, tasks.line(id, 1).orElseThrow().attempts(), "it has three more");
  }

  @Test
  void copiesOfWhatFailedFailWithIt() {
    Run run = runs.add(1, Run.Kind.BATCH, false, List.of());
    RunStrand s = TestRuns.run(Path.of("f"), RunState.RUNNING, "{}", List.of());
    long id = runs.add(run, 1, 2, s.settings(), "f", "f", null, null);
    tasks.add(id, List.of(frame(1, 1, 0), frame(2, 1, 1)));
    assertTrue(take(task(id, 1)));
    assertTrue(tasks.move(task(id, 1), FrameState.FAILED, "no room"));
    tasks.failCopies(task(id, 1), "frame 1 failed");
    assertEquals(2, strand(id).failed());
    assertEquals("frame 1 failed", tasks.line(id, 2).orElseThrow().failure());
  }

  /** Its worker could not say what became of it, since the database was down. */
  @Test
  void aFrameWhoseMessageIsGivenAgainIsTakenThoughItIsInWork() {
    long id = add();
    Task one = task(id, 1);
    assertTrue(take(one));
    assertFalse(take(one));
    assertTrue(tasks.take(one.id(), true));
    assertEquals(2, tasks.line(id, 1).orElseThrow().attempts());
    assertTrue(tasks.finish(one, 1.0, 0));
    assertFalse(tasks.take(one.id(), true));
  }

  @Test
  void whatIsGivenBackCountsAsNotTaken() {
    long id = add();
    assertTrue(take(task(id, 1)));
    tasks.giveBack(task(id, 1).id());
    tasks.giveBack(task(id, 2).id());
    assertEquals(0, tasks.line(id, 1).orElseThrow().attempts());
    assertEquals(FrameState.WAITING, tasks.line(id, 2).orElseThrow().state());
    assertEquals(0, tasks.line(id, 2).orElseThrow().attempts());
  }

  @Test
  void whoIsNotHeardOfLosesItsTask() {
    TaskRepository other = new TaskRepository(db);
    long id = add();
    assertTrue(other.take(task(id, 1).id(), false));
    assertTrue(take(task(id, 2)));
    assertEquals(0, tasks.takeBackFromLost(), "both have been heard of");
    db.execute(
        "update task set lease_until = dateadd(second, -1, localtimestamp - interval '1' day)");
    assertEquals(1, tasks.takeBackFromLost());
    assertEquals(FrameState.WAITING, tasks.line(id, 1).orElseThrow().state());
    assertEquals(FrameState.RENDERING, tasks.line(id, 2).orElseThrow().state());
  }

  @Test
  void lateMessagesChangeNothing() {
    long id = add();
    Task one = task(id, 1), two = task(id, 2);
    assertTrue(take(one));
    assertNull(strand(id).shareCut());
    assertTrue(tasks.finish(one, 2.5, 0.04));
    assertTrue(take(two));
    assertTrue(tasks.finish(two, 3.5, 0.01));
    assertEquals(0.04, strand(id).shareCut(), "of the frame that lost most");
    assertEquals(3.0, strand(id).secondsPerFrame());
    assertFalse(tasks.move(one, FrameState.FAILED, "too late"));
    assertEquals(2, strand(id).fresh());
    assertEquals(0, strand(id).failed());
    assertTrue(runs.move(id, RunState.RUNNING, RunState.CANCELLED));
    assertFalse(take(task(id, 3)));
    assertFalse(runs.move(id, RunState.RUNNING, RunState.DONE));
    assertThrows(
        IllegalStateException.class,
        () -> tasks.moveAll(id, FrameState.FRESH, FrameState.WAITING, null));
  }

  @Test
  void unfinishedRunsComeOldestFirstWithWhatCancelledOnesHaveInWork() {
    long stopping = add(), stopped = add(), last = add();
    assertTrue(take(task(stopping, 2)));
    assertTrue(runs.move(stopping, RunState.RUNNING, RunState.CANCELLED));
    assertTrue(runs.move(stopped, RunState.RUNNING, RunState.CANCELLED));
    assertEquals(List.of(stopping, last), runs.unfinished().stream().map(RunStrand::id).toList());
    assertTrue(tasks.move(task(stopping, 2), FrameState.SKIPPED, null));
    assertEquals(List.of(last), runs.unfinished().stream().map(RunStrand::id).toList());
  }

  @Test
  void runsAreNumberedByTheirProduction() {
    assertEquals(1, runs.add(1, Run.Kind.BATCH, false, List.of()).number());
    assertEquals(2, runs.add(1, Run.Kind.BATCH, false, List.of()).number());
    assertEquals(1, runs.add(2, Run.Kind.BATCH, false, List.of()).number());
    long first = add(), second = add();
    assertEquals(List.of(second, first), runs.all(1).stream().map(RunStrand::id).toList());
    assertEquals(List.of(), runs.all(2));
    assertEquals(2, runs.nextVersion("f"));
    assertEquals(1, runs.nextVersion("f9"));
  }
}
