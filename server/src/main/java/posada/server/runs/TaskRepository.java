package posada.server.runs;

import static org.jooq.impl.DSL.coalesce;
import static org.jooq.impl.DSL.exists;
import static org.jooq.impl.DSL.greatest;
import static org.jooq.impl.DSL.inline;
import static org.jooq.impl.DSL.noCondition;
import static org.jooq.impl.DSL.notExists;
import static org.jooq.impl.DSL.selectOne;
import static org.jooq.impl.DSL.sum;
import static posada.server.storage.generated.Tables.RUN;
import static posada.server.storage.generated.Tables.RUN_STRAND;
import static posada.server.storage.generated.Tables.TASK;

import java.time.Clock;
import java.time.LocalDateTime;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.UUID;
import java.util.function.Consumer;
import java.util.stream.Stream;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.TableField;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.FrameRange;
import posada.formats.files.Extra;
import posada.formats.ledger.FramePlan;
import posada.server.storage.generated.tables.records.RunStrandRecord;
import posada.server.storage.generated.tables.records.TaskRecord;

/**
 * Keeps tasks. Their states change here only, each change checked against its table and counted at
 * the strand in the same transaction. Whoever takes a task has a lease on it, and only who has the
 * lease may say what became of it.
 */
@Repository
class TaskRepository {
  /** Seconds that a lease lasts, unless it is prolonged. */
  static final int LEASE_SECONDS = 120;

  /** What failed comes again behind everything else of its strand. */
  private static final int BEHIND_ALL = 1 << 24;

  private static final List<String> NOT_WAITING =
      Stream.of(FrameState.values()).filter(s -> s != FrameState.WAITING).map(Enum::name).toList();

  /** Failures and new frames that are told of a strand. */
  private static final int MOST_FAILURES = 100, NEWEST = 60;

  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();
  private final String owner = UUID.randomUUID().toString();

  TaskRepository(DSLContext db) {
    this.db = db;
  }

  /** Adds the light of a strand, waiting, if it has none. */
  @Transactional
  void addBake(long strand) {
    if (!db.fetchExists(TASK, TASK.STRAND_ID.eq(strand), TASK.KIND.eq(Task.Kind.BAKE.name()))) {
      db.insertInto(TASK)
          .set(TASK.STRAND_ID, strand)
          .set(TASK.KIND, Task.Kind.BAKE.name())
          .set(TASK.RANK, -1)
          .set(TASK.STATE, FrameState.WAITING.name())
          .set(TASK.ATTEMPTS, 0)
          .execute();
    }
  }

  /** Adds what is made of the frames of a strand, waiting, if that is not there. */
  @Transactional
  void addExtras(long strand, Collection<Extra> extras) {
    Condition there = TASK.STRAND_ID.eq(strand).and(TASK.KIND.eq(Task.Kind.FINISH.name()));
    if (extras.isEmpty() || db.fetchExists(TASK, there)) {
      return;
    }
    for (Extra e : extras) {
      db.insertInto(TASK)
          .set(TASK.STRAND_ID, strand)
          .set(TASK.KIND, Task.Kind.FINISH.name())
          .set(TASK.EXTRA, e.name())
          .set(TASK.RANK, Integer.MAX_VALUE / 2 + e.ordinal())
          .set(TASK.STATE, FrameState.WAITING.name())
          .set(TASK.ATTEMPTS, 0)
          .execute();
    }
    db.update(RUN_STRAND)
        .set(RUN_STRAND.TO_FINISH, extras.size())
        .where(RUN_STRAND.ID.eq(strand))
        .execute();
  }

  /** Adds frames of a strand, waiting or fresh. */
  @Transactional
  void add(long strand, List<FramePlan.Frame> frames) {
    var insert =
        db.insertInto(
            TASK,
            TASK.STRAND_ID,
            TASK.KIND,
            TASK.FRAME,
            TASK.SOURCE,
            TASK.RANK,
            TASK.STATE,
            TASK.ATTEMPTS,
            TASK.SECONDS,
            TASK.FINGERPRINT);
    int saved = 0;
    for (FramePlan.Frame f : frames) {
      saved += f.saved() ? 1 : 0;
      insert =
          insert.values(
              strand,
              Task.Kind.FRAME.name(),
              f.frame(),
              f.source(),
              f.rank(),
              (f.saved() ? FrameState.FRESH : FrameState.WAITING).name(),
              0,
              f.seconds(),
              f.fingerprint());
    }
    insert.execute();
    db.update(RUN_STRAND)
        .set(RUN_STRAND.PLANNED, RUN_STRAND.PLANNED.plus(frames.size()))
        .set(RUN_STRAND.FRESH, RUN_STRAND.FRESH.plus(saved))
        .set(RUN_STRAND.SAVED, RUN_STRAND.SAVED.plus(saved))
        .where(RUN_STRAND.ID.eq(strand))
        .execute();
  }

  /**
   * Returns how the frames of a strand stand.
   *
   * @param frames that are planned, in order
   */
  StrandFrames frames(long strand, List<Integer> frames) {
    Condition these = TASK.STRAND_ID.eq(strand).and(TASK.KIND.eq(Task.Kind.FRAME.name()));
    char[] states = new char[frames.size()];
    Arrays.fill(states, FrameState.WAITING.letter());
    double[] seconds = new double[frames.size()];
    // Most of very many wait; they need not be fetched.
    db.select(TASK.FRAME, TASK.STATE, TASK.SECONDS)
        .from(TASK)
        .where(these, TASK.STATE.in(NOT_WAITING))
        .fetch()
        .forEach(
            r -> {
              int i = Collections.binarySearch(frames, r.value1());
              if (i >= 0) {
                states[i] = FrameState.valueOf(r.value2()).letter();
                seconds[i] = r.value3() == null ? 0 : Math.round(r.value3() * 1e3) / 1e3;
              }
            });
    return new StrandFrames(
        frames.isEmpty() ? "" : new FrameRange(frames).toString(),
        new String(states),
        seconds,
        db.selectFrom(TASK)
            .where(these, TASK.FAILURE.isNotNull())
            .orderBy(TASK.FRAME)
            .limit(MOST_FAILURES)
            .fetch(
                r ->
                    new StrandFrames.Failure(
                        r.getFrame(),
                        r.getAttempts(),
                        r.getState().equals(FrameState.FAILED.name()),
                        r.getFailure())),
        db.select(TASK.FRAME)
            .from(TASK)
            .where(these, TASK.STATE.eq(FrameState.FRESH.name()))
            .orderBy(TASK.ENDED_AT.desc().nullsLast(), TASK.FRAME.desc())
            .limit(NEWEST)
            .fetch(TASK.FRAME));
  }

  /** Returns how often tasks of a run were taken beyond the first time. */
  int retries(long run) {
    return db.select(coalesce(sum(TASK.ATTEMPTS.minus(1)), inline(java.math.BigDecimal.ZERO)))
        .from(TASK)
        .join(RUN_STRAND)
        .on(RUN_STRAND.ID.eq(TASK.STRAND_ID))
        .where(RUN_STRAND.RUN_ID.eq(run), TASK.ATTEMPTS.gt(1))
        .fetchSingle()
        .value1()
        .intValue();
  }

  /** Returns the frames of a run that took longest here, the longest first. */
  List<RunReport.Slow> slowest(long run, int most) {
    return db.select(RUN_STRAND.SHOT, RUN_STRAND.LAYER, TASK.FRAME, TASK.SECONDS)
        .from(TASK)
        .join(RUN_STRAND)
        .on(RUN_STRAND.ID.eq(TASK.STRAND_ID))
        .where(
            RUN_STRAND.RUN_ID.eq(run),
            TASK.KIND.eq(Task.Kind.FRAME.name()),
            TASK.ENDED_AT.isNotNull(),
            TASK.SECONDS.isNotNull())
        .orderBy(TASK.SECONDS.desc())
        .limit(most)
        .fetch(r -> new RunReport.Slow(r.value1(), r.value2(), r.value3(), r.value4()));
  }

  /** Hears of each frame of a strand, in order. */
  void each(long strand, Consumer<FrameLine> heard) {
    db.selectFrom(TASK)
        .where(TASK.STRAND_ID.eq(strand), TASK.KIND.eq(Task.Kind.FRAME.name()))
        .orderBy(TASK.FRAME)
        .fetch(TaskRepository::line)
        .forEach(heard);
  }

  private static FrameLine line(TaskRecord r) {
    return new FrameLine(
        r.getFrame(),
        r.getSource(),
        FrameState.valueOf(r.getState()),
        r.getAttempts(),
        r.getSeconds(),
        r.getFingerprint(),
        r.getFailure());
  }

  /** Returns a frame's line, or nothing if the strand has no such frame. */
  Optional<FrameLine> line(long strand, int frame) {
    return db.selectFrom(TASK).where(ofFrame(strand, frame)).fetchOptional(TaskRepository::line);
  }

  private static Condition ofFrame(long strand, int frame) {
    return TASK.STRAND_ID
        .eq(strand)
        .and(TASK.KIND.eq(Task.Kind.FRAME.name()))
        .and(TASK.FRAME.eq(frame));
  }

  Optional<Task> find(long id) {
    return db.selectFrom(TASK).where(TASK.ID.eq(id)).fetchOptional(TaskRepository::task);
  }

  private static Task task(TaskRecord r) {
    return new Task(
        r.getId(),
        r.getStrandId(),
        Task.Kind.valueOf(r.getKind()),
        r.getExtra() == null ? null : Extra.valueOf(r.getExtra()),
        r.getFrame(),
        r.getSource(),
        r.getAttempts());
  }

  /** Returns what a strand has in work. */
  List<Task> inWork(long strand) {
    return db.selectFrom(TASK)
        .where(TASK.STRAND_ID.eq(strand), TASK.STATE.eq(FrameState.RENDERING.name()))
        .fetch(TaskRepository::task);
  }

  /** Returns the waiting frames of a strand that get another frame's picture. */
  List<Task> copies(long strand, int source) {
    return db.selectFrom(TASK)
        .where(
            TASK.STRAND_ID.eq(strand),
            TASK.STATE.eq(FrameState.WAITING.name()),
            TASK.SOURCE.eq(source),
            TASK.FRAME.ne(source))
        .orderBy(TASK.FRAME)
        .fetch(TaskRepository::task);
  }

  /** A run with something that can be done now. */
  record OpenRun(long id, int priority, boolean comb) {}

  private static final Condition RUNNING = RUN_STRAND.STATE.eq(RunState.RUNNING.name());

  private static final Condition WITH_WORK =
      RUNNING.and(
          RUN_STRAND
              .FRESH
              .plus(RUN_STRAND.FAILED)
              .plus(RUN_STRAND.SKIPPED)
              .lt(RUN_STRAND.PLANNED)
              .or(RUN_STRAND.TO_FINISH.gt(0)));

  List<OpenRun> openRuns() {
    return db.select(RUN.ID, RUN.PRIORITY, RUN.COMB)
        .from(RUN)
        .where(
            exists(selectOne().from(RUN_STRAND).where(RUN_STRAND.RUN_ID.eq(RUN.ID)).and(WITH_WORK)))
        .fetch(r -> new OpenRun(r.value1(), r.value2(), r.value3()));
  }

  private static final Condition BAKE = TASK.KIND.eq(Task.Kind.BAKE.name());

  /** The task is light, or there is none that it waits for. */
  private static Condition lit() {
    var bake = TASK.as("bake");
    return BAKE.or(
        notExists(
            selectOne()
                .from(bake)
                .where(
                    bake.STRAND_ID.eq(TASK.STRAND_ID),
                    bake.KIND.eq(Task.Kind.BAKE.name()),
                    bake.STATE.ne(FrameState.FRESH.name()))));
  }

  /** The task waits, and nothing that it waits for is still to be done. */
  private static Condition ready() {
    var first = TASK.as("first");
    Condition copied =
        notExists(
            selectOne()
                .from(first)
                .where(
                    first.STRAND_ID.eq(TASK.STRAND_ID),
                    first.KIND.eq(Task.Kind.FRAME.name()),
                    first.FRAME.eq(TASK.SOURCE),
                    first.STATE.in(FrameState.WAITING.name(), FrameState.RENDERING.name())));
    var frame = TASK.as("frame");
    Condition last =
        TASK.KIND
            .eq(Task.Kind.FINISH.name())
            .and(
                notExists(
                    selectOne()
                        .from(frame)
                        .where(
                            frame.STRAND_ID.eq(TASK.STRAND_ID),
                            frame.KIND.eq(Task.Kind.FRAME.name()),
                            frame.STATE.in(
                                FrameState.WAITING.name(), FrameState.RENDERING.name()))));
    Condition rendered = TASK.KIND.eq(Task.Kind.FRAME.name());
    return TASK.STATE
        .eq(FrameState.WAITING.name())
        .and(lit())
        .and(BAKE.or(rendered.and(TASK.SOURCE.eq(TASK.FRAME).or(copied))).or(last));
  }

  /**
   * Returns the tasks of a run that are to be done next, in order.
   *
   * @param most that are wanted
   * @param but tasks that are not wanted
   */
  List<Long> next(OpenRun run, int most, Collection<Long> but) {
    var strands =
        db.select(RUN_STRAND.ID, RUN_STRAND.PRIORITY)
            .from(RUN_STRAND)
            .where(RUN_STRAND.RUN_ID.eq(run.id), WITH_WORK)
            .orderBy(RUN_STRAND.PRIORITY.desc(), RUN_STRAND.ID)
            .fetch();
    List<Ranked> found = new ArrayList<>();
    Integer priority = null;
    for (var s : strands) {
      boolean enough = run.comb ? !s.value2().equals(priority) : true;
      if (!found.isEmpty() && enough) {
        break;
      }
      priority = s.value2();
      found.addAll(next(s.value1(), most, but));
    }
    // Of equal ranks those of earlier strands come first.
    found.sort(Comparator.comparingInt(Ranked::rank));
    return found.stream().limit(most).map(Ranked::id).toList();
  }

  private record Ranked(long id, int rank) {}

  /** The order begins as the index does, so that no more tasks are looked at than are wanted. */
  private List<Ranked> next(long strand, int most, Collection<Long> but) {
    return db.select(TASK.ID, TASK.RANK)
        .from(TASK)
        .where(TASK.STRAND_ID.eq(strand), TASK.ID.notIn(but), ready())
        .orderBy(TASK.STRAND_ID, TASK.STATE, TASK.RANK)
        .limit(most)
        .fetch(r -> new Ranked(r.value1(), r.value2()));
  }

  /**
   * Takes a waiting task.
   *
   * @param again true to take one that is in work, too: its worker could not say what became of it
   * @return false if it is not waiting, its strand is not running or its light is not baked: the
   *     message is late
   */
  boolean take(long id, boolean again) {
    List<String> states =
        again
            ? List.of(FrameState.WAITING.name(), FrameState.RENDERING.name())
            : List.of(FrameState.WAITING.name());
    return db.update(TASK)
            .set(TASK.STATE, FrameState.RENDERING.name())
            .set(TASK.ATTEMPTS, TASK.ATTEMPTS.plus(1))
            .set(TASK.LEASE, owner)
            .set(TASK.LEASE_UNTIL, until())
            .where(
                TASK.ID.eq(id),
                TASK.STATE.in(states),
                exists(
                    selectOne().from(RUN_STRAND).where(RUN_STRAND.ID.eq(TASK.STRAND_ID), RUNNING)),
                lit())
            .execute()
        == 1;
  }

  private LocalDateTime until() {
    return LocalDateTime.now(clock).plusSeconds(LEASE_SECONDS);
  }

  /** Prolongs the lease on a task in work. */
  void prolong(long id) {
    db.update(TASK)
        .set(TASK.LEASE_UNTIL, until())
        .where(TASK.ID.eq(id), TASK.LEASE.eq(owner))
        .execute();
  }

  /** Lets tasks wait again whose worker has not been heard of; returns how many. */
  int takeBackFromLost() {
    return db.update(TASK)
        .set(TASK.STATE, FrameState.WAITING.name())
        .where(
            TASK.STATE.eq(FrameState.RENDERING.name()),
            TASK.LEASE.ne(owner),
            TASK.LEASE_UNTIL.lt(LocalDateTime.now(clock)))
        .execute();
  }

  /** Lets a task in work wait again as if it had not been taken. */
  void giveBack(long id) {
    db.update(TASK)
        .set(TASK.STATE, FrameState.WAITING.name())
        .set(TASK.ATTEMPTS, TASK.ATTEMPTS.minus(1))
        .where(TASK.ID.eq(id), TASK.STATE.eq(FrameState.RENDERING.name()))
        .execute();
  }

  /** Lets a task that failed wait again, behind the others of its strand. */
  void again(long id, String failure) {
    db.update(TASK)
        .set(TASK.STATE, FrameState.WAITING.name())
        .set(TASK.FAILURE, failure)
        .set(TASK.RANK, TASK.RANK.plus(BEHIND_ALL))
        .where(TASK.ID.eq(id), TASK.STATE.eq(FrameState.RENDERING.name()))
        .execute();
  }

  /**
   * Moves a task on.
   *
   * @param failure reason, or null
   * @return false if its state does not allow it
   */
  @Transactional
  boolean move(Task t, FrameState to, String failure) {
    return move(t, to, Map.of(), failure);
  }

  /**
   * Moves a frame on that was rendered here.
   *
   * @param seconds it took
   * @param shareCut what the limit on bright indirect light has taken of its light, 0 .. 1
   * @return false if its state does not allow it
   */
  @Transactional
  boolean finish(Task t, double seconds, double shareCut) {
    Map<Field<?>, Object> result = Map.of(TASK.SECONDS, seconds, TASK.SHARE_CUT, shareCut);
    if (!move(t, FrameState.FRESH, result, null)) {
      return false;
    }
    db.update(RUN_STRAND)
        .set(RUN_STRAND.SECONDS, RUN_STRAND.SECONDS.plus(seconds))
        .set(RUN_STRAND.TIMED, RUN_STRAND.TIMED.plus(1))
        .set(RUN_STRAND.SHARE_CUT, greatest(coalesce(RUN_STRAND.SHARE_CUT, 0.0), inline(shareCut)))
        .where(RUN_STRAND.ID.eq(t.strandId()))
        .execute();
    return true;
  }

  /** Moves a frame on that got the picture of another. */
  @Transactional
  boolean copied(Task t) {
    if (!move(t, FrameState.FRESH, Map.of(), null)) {
      return false;
    }
    db.update(RUN_STRAND)
        .set(RUN_STRAND.COPIED, RUN_STRAND.COPIED.plus(1))
        .where(RUN_STRAND.ID.eq(t.strandId()))
        .execute();
    return true;
  }

  /**
   * Moves a strand's light on that was baked.
   *
   * @param seconds it took; null if it was there
   */
  @Transactional
  boolean baked(Task t, Double seconds, int points) {
    Map<Field<?>, Object> result = new java.util.HashMap<>();
    result.put(TASK.SECONDS, seconds);
    result.put(TASK.POINTS, points);
    return move(t, FrameState.FRESH, result, null);
  }

  /** Moves on what was made of the frames of a strand. */
  @Transactional
  boolean made(Task t, double seconds) {
    return move(t, FrameState.FRESH, Map.of(TASK.SECONDS, seconds), null);
  }

  private boolean move(Task t, FrameState to, Map<Field<?>, Object> result, String failure) {
    boolean moved =
        db.update(TASK)
                .set(TASK.STATE, to.name())
                .set(TASK.FAILURE, failure)
                .set(result)
                .set(TASK.ENDED_AT, to == FrameState.FRESH ? LocalDateTime.now(clock) : null)
                .where(
                    TASK.ID.eq(t.id()),
                    TASK.STATE.in(FrameState.before(to).stream().map(Enum::name).toList()))
                .execute()
            == 1;
    if (moved && t.kind() == Task.Kind.FRAME) {
      count(t.strandId(), to, 1);
    }
    if (moved && t.kind() == Task.Kind.FINISH && to.ended()) {
      countFinish(t.strandId(), -1);
    }
    return moved;
  }

  private void count(long strand, FrameState state, int frames) {
    TableField<RunStrandRecord, Integer> counter =
        switch (state) {
          case FRESH -> RUN_STRAND.FRESH;
          case FAILED -> RUN_STRAND.FAILED;
          case SKIPPED -> RUN_STRAND.SKIPPED;
          case WAITING, RENDERING -> null;
        };
    if (counter != null && frames != 0) {
      db.update(RUN_STRAND)
          .set(counter, counter.plus(frames))
          .where(RUN_STRAND.ID.eq(strand))
          .execute();
    }
  }

  private void countFinish(long strand, int more) {
    if (more != 0) {
      db.update(RUN_STRAND)
          .set(RUN_STRAND.TO_FINISH, RUN_STRAND.TO_FINISH.plus(more))
          .where(RUN_STRAND.ID.eq(strand))
          .execute();
    }
  }

  /** Leaves out what is made of the frames of a strand, since some are not there. */
  @Transactional
  void skipFinishing(long strand) {
    Condition finish = TASK.KIND.eq(Task.Kind.FINISH.name());
    moveAll(strand, FrameState.WAITING, FrameState.SKIPPED, "Some frames are not there.", finish);
  }

  /** Moves all tasks of a strand that stand in one state to another. */
  @Transactional
  void moveAll(long strand, FrameState from, FrameState to, String failure) {
    moveAll(strand, from, to, failure, noCondition());
  }

  /** Sets aside the waiting frames that were to get the picture of one that failed. */
  @Transactional
  void failCopies(Task t, String failure) {
    Condition copies = TASK.SOURCE.eq(t.frame()).and(TASK.FRAME.ne(t.frame()));
    moveAll(t.strandId(), FrameState.WAITING, FrameState.FAILED, failure, copies);
  }

  private void moveAll(
      long strand, FrameState from, FrameState to, String failure, Condition which) {
    if (!from.mayBecome(to)) {
      throw new IllegalStateException("a frame cannot go from " + from + " to " + to);
    }
    Map<Field<?>, Object> anew = to == FrameState.WAITING ? Map.of(TASK.ATTEMPTS, 0) : Map.of();
    Condition these = TASK.STRAND_ID.eq(strand).and(TASK.STATE.eq(from.name())).and(which);
    int frames = db.fetchCount(TASK, these.and(TASK.KIND.eq(Task.Kind.FRAME.name())));
    int finish = db.fetchCount(TASK, these.and(TASK.KIND.eq(Task.Kind.FINISH.name())));
    db.update(TASK)
        .set(TASK.STATE, to.name())
        .set(TASK.FAILURE, failure)
        .set(anew)
        .where(these)
        .execute();
    count(strand, from, -frames);
    count(strand, to, frames);
    countFinish(strand, (from.ended() ? finish : 0) - (to.ended() ? finish : 0));
  }
}
