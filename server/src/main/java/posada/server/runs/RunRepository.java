package posada.server.runs;

import static java.util.stream.Collectors.groupingBy;
import static java.util.stream.Collectors.mapping;
import static java.util.stream.Collectors.toList;
import static org.jooq.impl.DSL.count;
import static org.jooq.impl.DSL.max;
import static org.jooq.impl.DSL.sum;
import static posada.server.storage.generated.Tables.BAKE;
import static posada.server.storage.generated.Tables.FRAME;
import static posada.server.storage.generated.Tables.RUN;

import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collections;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.Record;
import org.jooq.Select;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.formats.job.FrameJob;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;
import posada.server.storage.generated.tables.records.BakeRecord;
import posada.server.storage.generated.tables.records.RunRecord;

/** Keeps runs and their ledger; states change here only, each change checked against its table. */
@Repository
class RunRepository {
  private static final Logger LOG = LoggerFactory.getLogger(RunRepository.class);
  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();

  RunRepository(DSLContext db) {
    this.db = db;
  }

  /**
   * Returns the number that the next version of a strand's files gets.
   *
   * @param key the folder of all versions, as {@link NamePattern#folded} makes it: strands that
   *     share it share their numbers, so that neither writes over the other's files
   */
  int nextNumber(String key) {
    Integer last =
        db.select(max(RUN.NUMBER)).from(RUN).where(RUN.FOLDER_KEY.eq(key)).fetchSingle().value1();
    return last == null ? 1 : last + 1;
  }

  /** Returns the number that the next batch of a production gets. */
  int nextBatch(long productionId) {
    Integer last =
        db.select(max(RUN.BATCH))
            .from(RUN)
            .where(RUN.PRODUCTION_ID.eq(productionId))
            .fetchSingle()
            .value1();
    return last == null ? 1 : last + 1;
  }

  /**
   * Adds a running run with its light, if it bakes any, and all its frames waiting.
   *
   * @param key of the folder in which the versions lie, see {@link #nextNumber}
   * @throws org.springframework.dao.DuplicateKeyException if another run took the number
   */
  @Transactional
  long add(long productionId, int batch, long shotId, StrandDocument s, String folder, String key) {
    long id =
        db.insertInto(RUN)
            .set(RUN.PRODUCTION_ID, productionId)
            .set(RUN.BATCH, batch)
            .set(RUN.SHOT_ID, shotId)
            .set(RUN.SHOT, s.shot())
            .set(RUN.LAYER, s.settings().layer().name())
            .set(RUN.NUMBER, s.version())
            .set(RUN.STATE, RunState.RUNNING.name())
            .set(RUN.SETTINGS, Documents.write(s))
            .set(RUN.FOLDER, folder)
            .set(RUN.FOLDER_KEY, key)
            .set(RUN.STARTED_AT, LocalDateTime.now(clock))
            .returningResult(RUN.ID)
            .fetchSingle()
            .value1();
    var insert =
        db.insertInto(
            FRAME, FRAME.RUN_ID, FRAME.FRAME_, FRAME.STATE, FRAME.ATTEMPTS, FRAME.FINGERPRINT);
    for (int f : FrameRange.parse(s.frames()).frames()) {
      insert = insert.values(id, f, FrameState.WAITING.name(), 0, "");
    }
    insert.execute();
    if (FrameJob.bakes(s)) {
      db.insertInto(BAKE)
          .set(BAKE.RUN_ID, id)
          .set(BAKE.STATE, FrameState.WAITING.name())
          .set(BAKE.ATTEMPTS, 0)
          .execute();
    }
    return id;
  }

  Optional<Run> find(long id) {
    return runs(RUN.ID.eq(id)).stream().findFirst();
  }

  /** Returns a production's runs, the newest first. */
  List<Run> all(long production) {
    List<Run> all = runs(RUN.PRODUCTION_ID.eq(production));
    Collections.reverse(all);
    return all;
  }

  /** Returns the runs that are running or have something in work, the oldest first. */
  List<Run> unfinished() {
    String inWork = FrameState.RENDERING.name();
    return runs(
        RUN.STATE
            .eq(RunState.RUNNING.name())
            .or(RUN.ID.in(db.select(FRAME.RUN_ID).from(FRAME).where(FRAME.STATE.eq(inWork))))
            .or(RUN.ID.in(db.select(BAKE.RUN_ID).from(BAKE).where(BAKE.STATE.eq(inWork)))));
  }

  List<LedgerLine> ledger(long runId) {
    return db.selectFrom(FRAME)
        .where(FRAME.RUN_ID.eq(runId))
        .orderBy(FRAME.FRAME_)
        .fetch(RunRepository::line);
  }

  private static LedgerLine line(Record r) {
    return new LedgerLine(
        r.get(FRAME.FRAME_),
        FrameState.valueOf(r.get(FRAME.STATE)),
        r.get(FRAME.ATTEMPTS),
        r.get(FRAME.SECONDS),
        r.get(FRAME.FINGERPRINT),
        r.get(FRAME.FAILURE));
  }

  /** Returns the frame's line, or nothing if the run has no such frame. */
  Optional<LedgerLine> line(long runId, int frame) {
    return db.selectFrom(FRAME)
        .where(FRAME.RUN_ID.eq(runId), FRAME.FRAME_.eq(frame))
        .fetchOptional(RunRepository::line);
  }

  /**
   * Takes a waiting frame for rendering.
   *
   * @param again true to take one that is in work, too: its worker could not say what became of it
   * @return false if it is not waiting, or the run is not running or its light is not baked: the
   *     message is late, and if the frame is still to be done there is another behind the light's
   */
  boolean take(long runId, int frame, boolean again) {
    return db.update(FRAME)
            .set(FRAME.STATE, FrameState.RENDERING.name())
            .set(FRAME.ATTEMPTS, FRAME.ATTEMPTS.plus(1))
            .where(FRAME.RUN_ID.eq(runId), FRAME.FRAME_.eq(frame), FRAME.STATE.in(takeable(again)))
            .andExists(running(runId))
            .andNotExists(
                db.selectOne()
                    .from(BAKE)
                    .where(BAKE.RUN_ID.eq(runId), BAKE.STATE.ne(FrameState.FRESH.name())))
            .execute()
        == 1;
  }

  private static List<String> takeable(boolean again) {
    return again
        ? List.of(FrameState.WAITING.name(), FrameState.RENDERING.name())
        : List.of(FrameState.WAITING.name());
  }

  private Select<?> running(long runId) {
    return db.selectOne().from(RUN).where(RUN.ID.eq(runId), RUN.STATE.eq(RunState.RUNNING.name()));
  }

  /**
   * Takes a run's waiting light for baking.
   *
   * @param again as for frames
   * @return false if it is not waiting or the run is not running: the message is late
   */
  boolean takeBake(long runId, boolean again) {
    return db.update(BAKE)
            .set(BAKE.STATE, FrameState.RENDERING.name())
            .set(BAKE.ATTEMPTS, BAKE.ATTEMPTS.plus(1))
            .where(BAKE.RUN_ID.eq(runId), BAKE.STATE.in(takeable(again)))
            .andExists(running(runId))
            .execute()
        == 1;
  }

  /** Keeps what a frame in work is made from. */
  void begun(long runId, int frame, String fingerprint) {
    db.update(FRAME)
        .set(FRAME.FINGERPRINT, fingerprint)
        .where(FRAME.RUN_ID.eq(runId), FRAME.FRAME_.eq(frame))
        .execute();
  }

  /** Lets a frame in work wait again as if it had not been taken. */
  void giveBack(long runId, int frame) {
    db.update(FRAME)
        .set(FRAME.STATE, FrameState.WAITING.name())
        .set(FRAME.ATTEMPTS, FRAME.ATTEMPTS.minus(1))
        .where(
            FRAME.RUN_ID.eq(runId),
            FRAME.FRAME_.eq(frame),
            FRAME.STATE.eq(FrameState.RENDERING.name()))
        .execute();
  }

  /** Lets light in work wait again as if it had not been taken. */
  void giveBackBake(long runId) {
    db.update(BAKE)
        .set(BAKE.STATE, FrameState.WAITING.name())
        .set(BAKE.ATTEMPTS, BAKE.ATTEMPTS.minus(1))
        .where(BAKE.RUN_ID.eq(runId), BAKE.STATE.eq(FrameState.RENDERING.name()))
        .execute();
  }

  /**
   * Moves the baking of a run's light on, if it has any.
   *
   * @param seconds it took, or null
   * @param points in it, or null
   * @param failure reason, or null
   * @return false if its state does not allow it
   */
  boolean moveBake(long runId, FrameState to, Double seconds, Integer points, String failure) {
    return db.update(BAKE)
            .set(BAKE.STATE, to.name())
            .set(BAKE.SECONDS, seconds)
            .set(BAKE.POINTS, points)
            .set(BAKE.FAILURE, failure)
            .where(
                BAKE.RUN_ID.eq(runId),
                BAKE.STATE.in(FrameState.before(to).stream().map(Enum::name).toList()))
            .execute()
        == 1;
  }

  /**
   * Moves a frame on.
   *
   * @param failure reason, or null
   * @return false if its state does not allow it
   */
  boolean move(long runId, int frame, FrameState to, String failure) {
    return move(runId, frame, to, Map.of(), failure);
  }

  /**
   * Moves a frame on that was rendered here.
   *
   * @param seconds it took
   * @param shareCut what the limit on bright indirect light has taken of its light, 0 .. 1
   * @return false if its state does not allow it
   */
  boolean finish(long runId, int frame, double seconds, double shareCut) {
    Map<Field<?>, Object> result = Map.of(FRAME.SECONDS, seconds, FRAME.SHARE_CUT, shareCut);
    return move(runId, frame, FrameState.FRESH, result, null);
  }

  private boolean move(
      long runId, int frame, FrameState to, Map<Field<?>, Object> result, String failure) {
    return db.update(FRAME)
            .set(FRAME.STATE, to.name())
            .set(FRAME.FAILURE, failure)
            .set(result)
            .where(
                FRAME.RUN_ID.eq(runId),
                FRAME.FRAME_.eq(frame),
                FRAME.STATE.in(FrameState.before(to).stream().map(Enum::name).toList()))
            .execute()
        == 1;
  }

  /** Fails all frames of a run that have not come to an end. */
  void failAll(long runId, String failure) {
    db.update(FRAME)
        .set(FRAME.STATE, FrameState.FAILED.name())
        .set(FRAME.FAILURE, failure)
        .where(
            FRAME.RUN_ID.eq(runId),
            FRAME.STATE.in(FrameState.WAITING.name(), FrameState.RENDERING.name()))
        .execute();
  }

  /** Moves all frames of a run, and its light, that stand in one state to another. */
  void moveAll(long runId, FrameState from, FrameState to) {
    if (!from.mayBecome(to)) {
      throw new IllegalStateException("a frame cannot go from " + from + " to " + to);
    }
    db.update(FRAME)
        .set(FRAME.STATE, to.name())
        .setNull(FRAME.FAILURE)
        .where(FRAME.RUN_ID.eq(runId), FRAME.STATE.eq(from.name()))
        .execute();
    db.update(BAKE)
        .set(BAKE.STATE, to.name())
        .setNull(BAKE.FAILURE)
        .where(BAKE.RUN_ID.eq(runId), BAKE.STATE.eq(from.name()))
        .execute();
  }

  /** Moves a run on; returns false if its state does not allow it. */
  boolean move(long runId, RunState from, RunState to) {
    if (!from.mayBecome(to)) {
      throw new IllegalStateException("a run cannot go from " + from + " to " + to);
    }
    return db.update(RUN)
            .set(RUN.STATE, to.name())
            .set(RUN.ENDED_AT, to == RunState.RUNNING ? null : LocalDateTime.now(clock))
            .where(RUN.ID.eq(runId), RUN.STATE.eq(from.name()))
            .execute()
        == 1;
  }

  /** What the frames of one run come to. */
  private static final class Tally {
    private final Map<FrameState, Integer> counts = new EnumMap<>(FrameState.class);
    private double seconds;
    private int timed;
    private Double shareCut;

    private void add(
        FrameState state, int frames, Double secondsOfAll, int timedOfAll, Double cut) {
      counts.merge(state, frames, Integer::sum);
      seconds += secondsOfAll == null ? 0 : secondsOfAll;
      timed += timedOfAll;
      if (cut != null && (shareCut == null || cut > shareCut)) {
        shareCut = cut;
      }
    }

    private int of(FrameState state) {
      return counts.getOrDefault(state, 0);
    }

    private int all() {
      return counts.values().stream().mapToInt(i -> i).sum();
    }
  }

  /**
   * Returns runs, the oldest first. Each query is read to its end before the next begins, so that
   * none holds a connection while another waits for one.
   */
  private List<Run> runs(Condition which) {
    List<RunRecord> rows = db.selectFrom(RUN).where(which).orderBy(RUN.ID).fetch();
    Condition ofThese = FRAME.RUN_ID.in(db.select(RUN.ID).from(RUN).where(which));
    Map<Long, Tally> tallies = new HashMap<>();
    db.select(
            FRAME.RUN_ID,
            FRAME.STATE,
            count(),
            sum(FRAME.SECONDS),
            count(FRAME.SECONDS),
            max(FRAME.SHARE_CUT))
        .from(FRAME)
        .where(ofThese)
        .groupBy(FRAME.RUN_ID, FRAME.STATE)
        .fetch()
        .forEach(
            r ->
                tallies
                    .computeIfAbsent(r.value1(), id -> new Tally())
                    .add(
                        FrameState.valueOf(r.value2()),
                        r.value3(),
                        r.value4() == null ? null : r.value4().doubleValue(),
                        r.value5(),
                        r.value6()));
    Map<Long, List<Bake>> bakes =
        db
            .selectFrom(BAKE)
            .where(BAKE.RUN_ID.in(db.select(RUN.ID).from(RUN).where(which)))
            .fetch()
            .stream()
            .collect(groupingBy(BakeRecord::getRunId, mapping(RunRepository::bake, toList())));
    List<Run> runs = new ArrayList<>();
    for (RunRecord r : rows) {
      StrandDocument s;
      try {
        s = Documents.read(r.getSettings(), StrandDocument.class);
      } catch (IllegalArgumentException e) {
        // One that cannot be read must not keep the others from being shown.
        LOG.error(
            "run {} v{} is left out: its settings say {}",
            r.getShot(),
            r.getNumber(),
            e.getMessage());
        continue;
      }
      runs.add(
          run(
              r,
              s,
              tallies.getOrDefault(r.getId(), new Tally()),
              bakes.getOrDefault(r.getId(), List.of())));
    }
    return runs;
  }

  private static Run run(RunRecord r, StrandDocument s, Tally frames, List<Bake> bakes) {
    return new Run(
        r.getId(),
        r.getProductionId(),
        r.getBatch(),
        r.getShotId(),
        r.getShot(),
        r.getLayer(),
        r.getNumber(),
        RunState.valueOf(r.getState()),
        s,
        r.getFolder(),
        r.getStartedAt().toInstant(ZoneOffset.UTC),
        r.getEndedAt() == null ? null : r.getEndedAt().toInstant(ZoneOffset.UTC),
        frames.all(),
        frames.of(FrameState.FRESH),
        frames.of(FrameState.FAILED),
        frames.of(FrameState.SKIPPED),
        frames.timed == 0 ? null : Double.valueOf(frames.seconds / frames.timed),
        frames.shareCut,
        bakes);
  }

  private static Bake bake(BakeRecord r) {
    return new Bake(
        FrameState.valueOf(r.getState()),
        r.getAttempts(),
        r.getSeconds(),
        r.getPoints(),
        r.getFailure());
  }
}
