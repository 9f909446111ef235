package posada.server.runs;

import static java.util.stream.Collectors.groupingBy;
import static org.jooq.impl.DSL.coalesce;
import static org.jooq.impl.DSL.inline;
import static org.jooq.impl.DSL.max;
import static org.jooq.impl.DSL.select;
import static posada.server.storage.generated.Tables.RUN;
import static posada.server.storage.generated.Tables.RUN_STRAND;
import static posada.server.storage.generated.Tables.TASK;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.nio.file.Path;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Record;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Repository;
import posada.core.plan.Finding;
import posada.core.plan.FrameRange;
import posada.core.plan.NamePattern;
import posada.formats.files.Extra;
import posada.formats.job.Again;
import posada.formats.job.Finishing;
import posada.formats.job.StrandDocument;
import posada.formats.settings.Documents;
import posada.server.storage.generated.tables.records.RunRecord;
import posada.server.storage.generated.tables.records.RunStrandRecord;
import posada.server.storage.generated.tables.records.TaskRecord;
import tools.jackson.databind.json.JsonMapper;

/** Keeps runs and their strands; states change here only, each change checked against its table. */
@Repository
class RunRepository {
  private static final Logger LOG = LoggerFactory.getLogger(RunRepository.class);
  private static final JsonMapper JSON = new JsonMapper();
  private static final int MOST_DOCUMENTS = 5000;

  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();

  /** Documents by their text: a strand is asked for at every step of every frame. */
  private final Cache<String, StrandDocument> documents =
      Caffeine.newBuilder().maximumSize(MOST_DOCUMENTS).build();

  RunRepository(DSLContext db) {
    this.db = db;
  }

  /**
   * Returns the number that the next version of a strand's files gets.
   *
   * @param key the folder of all versions, as {@link NamePattern#folded} makes it: strands that
   *     share it share their numbers, so that neither writes over the other's files
   */
  int nextVersion(String key) {
    return db.select(coalesce(max(RUN_STRAND.VERSION), inline(0)))
            .from(RUN_STRAND)
            .where(RUN_STRAND.FOLDER_KEY.eq(key))
            .fetchSingle()
            .value1()
        + 1;
  }

  /** Returns those of some keys of folders of which there is a version. */
  Set<String> keys(Set<String> some) {
    return db.selectDistinct(RUN_STRAND.FOLDER_KEY)
        .from(RUN_STRAND)
        .where(RUN_STRAND.FOLDER_KEY.in(some))
        .fetchSet(RUN_STRAND.FOLDER_KEY);
  }

  /** Adds a run with the next number of its production. */
  Run add(long productionId, Run.Kind kind, boolean comb, List<Finding> warnings) {
    int number =
        db.select(coalesce(max(RUN.NUMBER), inline(0)))
                .from(RUN)
                .where(RUN.PRODUCTION_ID.eq(productionId))
                .fetchSingle()
                .value1()
            + 1;
    return run(
        db.insertInto(RUN)
            .set(RUN.PRODUCTION_ID, productionId)
            .set(RUN.NUMBER, number)
            .set(RUN.KIND, kind.name())
            .set(RUN.COMB, comb)
            .set(RUN.WARNINGS, JSON.writeValueAsString(warnings))
            .set(RUN.STARTED_AT, LocalDateTime.now(clock))
            .returning()
            .fetchSingle());
  }

  private static Run run(RunRecord r) {
    return new Run(
        r.getId(),
        r.getProductionId(),
        r.getNumber(),
        Run.Kind.valueOf(r.getKind()),
        r.getComb(),
        r.getPriority(),
        r.getWarnings() == null
            ? List.of()
            : List.of(JSON.readValue(r.getWarnings(), Finding[].class)),
        r.getStartedAt().toInstant(ZoneOffset.UTC));
  }

  Optional<Run> run(long id) {
    return db.selectFrom(RUN).where(RUN.ID.eq(id)).fetchOptional(RunRepository::run);
  }

  /**
   * Adds a running strand, whose frames are still to be looked at, to a run.
   *
   * @param key of the folder in which the versions lie, see {@link #nextVersion}
   * @param chosen frames of the strand; null for all
   * @param again how they are rendered if they were sent back; else null
   */
  long add(
      Run run,
      long shotId,
      long layerId,
      StrandDocument s,
      String folder,
      String key,
      FrameRange chosen,
      Again again) {
    return db.insertInto(RUN_STRAND)
        .set(RUN_STRAND.RUN_ID, run.id())
        .set(RUN_STRAND.PRODUCTION_ID, run.productionId())
        .set(RUN_STRAND.SHOT_ID, shotId)
        .set(RUN_STRAND.LAYER_ID, layerId)
        .set(RUN_STRAND.SHOT, s.shot())
        .set(RUN_STRAND.LAYER, s.settings().layer().name())
        .set(RUN_STRAND.VERSION, s.version())
        .set(RUN_STRAND.STATE, RunState.RUNNING.name())
        .set(RUN_STRAND.SETTINGS, Documents.write(s))
        .set(RUN_STRAND.AGAIN, again == null ? null : Documents.write(again))
        .set(RUN_STRAND.FOLDER, folder)
        .set(RUN_STRAND.FOLDER_KEY, key)
        .set(RUN_STRAND.STARTED_AT, LocalDateTime.now(clock))
        .set(RUN_STRAND.IS_PLANNED, false)
        .set(RUN_STRAND.CHOSEN, chosen == null ? null : chosen.toString())
        .set(RUN_STRAND.TOTAL, (chosen == null ? FrameRange.parse(s.frames()) : chosen).size())
        .returningResult(RUN_STRAND.ID)
        .fetchSingle()
        .value1();
  }

  /** Says where a strand's files go after all. */
  void place(long id, StrandDocument s, String folder) {
    db.update(RUN_STRAND)
        .set(RUN_STRAND.VERSION, s.version())
        .set(RUN_STRAND.SETTINGS, Documents.write(s))
        .set(RUN_STRAND.FOLDER, folder)
        .where(RUN_STRAND.ID.eq(id))
        .execute();
  }

  /**
   * Says that all frames of a strand were looked at.
   *
   * @param failure why they could not be; null if they were
   */
  void planned(long id, String failure) {
    db.update(RUN_STRAND)
        .set(RUN_STRAND.IS_PLANNED, true)
        .set(RUN_STRAND.FAILURE, failure)
        .where(RUN_STRAND.ID.eq(id))
        .execute();
  }

  /** Has the frames of a strand that could not be looked at looked at again. */
  void unplan(long id) {
    db.update(RUN_STRAND)
        .set(RUN_STRAND.IS_PLANNED, false)
        .setNull(RUN_STRAND.FAILURE)
        .where(RUN_STRAND.ID.eq(id))
        .execute();
  }

  /** Returns true if all frames of a strand were looked at. */
  boolean isPlanned(long id) {
    return db.fetchExists(RUN_STRAND, RUN_STRAND.ID.eq(id).and(RUN_STRAND.IS_PLANNED));
  }

  Optional<RunStrand> find(long id) {
    return strands(RUN_STRAND.ID.eq(id)).stream().findFirst();
  }

  /** Returns the strands of a run, in order. */
  List<RunStrand> of(long run) {
    return strands(RUN_STRAND.RUN_ID.eq(run));
  }

  /** Returns the strands of a production's runs, the newest first. */
  List<RunStrand> all(long production) {
    List<RunStrand> all = strands(RUN_STRAND.PRODUCTION_ID.eq(production));
    java.util.Collections.reverse(all);
    return all;
  }

  private static final Condition OPEN =
      RUN_STRAND.STATE.in(RunState.RUNNING.name(), RunState.PAUSED.name());

  /** Returns the strands that are open or have something in work, the oldest first. */
  List<RunStrand> unfinished() {
    return strands(
        OPEN.or(
            RUN_STRAND.ID.in(
                select(TASK.STRAND_ID)
                    .from(TASK)
                    .where(TASK.STATE.eq(FrameState.RENDERING.name())))));
  }

  /** Returns the open strand of a run for a layer of a shot, if there is one. */
  Optional<RunStrand> open(long shot, long layer) {
    return strands(OPEN.and(of(shot, layer))).stream().findFirst();
  }

  private static Condition of(long shot, long layer) {
    return RUN_STRAND.SHOT_ID.eq(shot).and(RUN_STRAND.LAYER_ID.eq(layer));
  }

  /** Returns the newest of the strands of runs for a layer of a shot. */
  Optional<Long> newest(long shot, long layer) {
    return db.select(max(RUN_STRAND.ID))
        .from(RUN_STRAND)
        .where(of(shot, layer))
        .fetchOptional()
        .map(r -> r.value1());
  }

  /** Returns the newest strand of a batch for a layer of a shot that has pictures. */
  Optional<RunStrand> newestWritten(long shot, long layer) {
    Condition batch =
        RUN_STRAND.RUN_ID.in(select(RUN.ID).from(RUN).where(RUN.KIND.ne(Run.Kind.PROOF.name())));
    return db.select(max(RUN_STRAND.ID))
        .from(RUN_STRAND)
        .where(of(shot, layer), RUN_STRAND.FRESH.gt(0), batch)
        .fetchOptional(r -> r.value1())
        .flatMap(this::find);
  }

  /** Moves a strand on; returns false if its state does not allow it. */
  boolean move(long id, RunState from, RunState to) {
    if (!from.mayBecome(to)) {
      throw new IllegalStateException("a run cannot go from " + from + " to " + to);
    }
    return db.update(RUN_STRAND)
            .set(RUN_STRAND.STATE, to.name())
            .set(RUN_STRAND.ENDED_AT, to.open() ? null : LocalDateTime.now(clock))
            .where(RUN_STRAND.ID.eq(id), RUN_STRAND.STATE.eq(from.name()))
            .execute()
        == 1;
  }

  /** Lets a strand go before the others of its run. */
  void first(long id) {
    var other = RUN_STRAND.as("other");
    int most =
        db.select(coalesce(max(other.PRIORITY), inline(0)))
            .from(other)
            .where(
                other.RUN_ID.eq(
                    select(RUN_STRAND.RUN_ID).from(RUN_STRAND).where(RUN_STRAND.ID.eq(id))))
            .fetchSingle()
            .value1();
    db.update(RUN_STRAND).set(RUN_STRAND.PRIORITY, most + 1).where(RUN_STRAND.ID.eq(id)).execute();
  }

  /** Lets a run go before all others. */
  void firstRun(long id) {
    int most = db.select(coalesce(max(RUN.PRIORITY), inline(0))).from(RUN).fetchSingle().value1();
    db.update(RUN).set(RUN.PRIORITY, most + 1).where(RUN.ID.eq(id)).execute();
  }

  /**
   * Returns strands, the oldest first. Each query is read to its end before the next begins, so
   * that none holds a connection while another waits for one.
   */
  private List<RunStrand> strands(Condition which) {
    var rows =
        db.select(RUN_STRAND.asterisk(), RUN.NUMBER, RUN.KIND)
            .from(RUN_STRAND)
            .join(RUN)
            .on(RUN.ID.eq(RUN_STRAND.RUN_ID))
            .where(which)
            .orderBy(RUN_STRAND.ID)
            .fetch();
    Map<Long, List<TaskRecord>> once =
        db
            .selectFrom(TASK)
            .where(
                TASK.KIND.in(Task.Kind.BAKE.name(), Task.Kind.FINISH.name()),
                TASK.STRAND_ID.in(rows.map(r -> r.get(RUN_STRAND.ID))))
            .orderBy(TASK.RANK)
            .fetch()
            .stream()
            .collect(groupingBy(TaskRecord::getStrandId));
    List<RunStrand> all = new ArrayList<>();
    for (Record row : rows) {
      RunStrandRecord r = row.into(RUN_STRAND);
      StrandDocument s;
      try {
        s = documents.get(r.getSettings(), RunRepository::document);
      } catch (IllegalArgumentException e) {
        // One that cannot be read must not keep the others from being shown.
        LOG.error(
            "run {} v{} is left out: its settings say {}",
            r.getShot(),
            r.getVersion(),
            e.getMessage());
        continue;
      }
      all.add(strand(r, row, s, once.getOrDefault(r.getId(), List.of())));
    }
    return all;
  }

  private static StrandDocument document(String text) {
    return Documents.read(text, StrandDocument.class);
  }

  private static RunStrand strand(
      RunStrandRecord r, Record of, StrandDocument s, List<TaskRecord> once) {
    return new RunStrand(
        r.getId(),
        r.getRunId(),
        of.get(RUN.NUMBER),
        Run.Kind.valueOf(of.get(RUN.KIND)),
        r.getProductionId(),
        r.getShotId(),
        r.getLayerId(),
        r.getShot(),
        r.getLayer(),
        r.getVersion(),
        r.getChosen() == null ? s.frames() : r.getChosen(),
        RunState.valueOf(r.getState()),
        r.getPriority(),
        s,
        r.getAgain() == null ? null : Documents.read(r.getAgain(), Again.class),
        r.getFolder(),
        r.getStartedAt().toInstant(ZoneOffset.UTC),
        r.getEndedAt() == null ? null : r.getEndedAt().toInstant(ZoneOffset.UTC),
        r.getTotal(),
        r.getPlanned(),
        r.getFresh(),
        r.getSaved(),
        r.getCopied(),
        r.getFailed(),
        r.getSkipped(),
        r.getTimed() == 0 ? null : Double.valueOf(r.getSeconds() / r.getTimed()),
        r.getShareCut(),
        r.getFailure(),
        r.getToFinish(),
        once.stream()
            .filter(t -> t.getKind().equals(Task.Kind.FINISH.name()))
            .map(t -> finish(t, s, Path.of(r.getFolder())))
            .toList(),
        once.stream()
            .filter(t -> t.getKind().equals(Task.Kind.BAKE.name()))
            .map(RunRepository::bake)
            .toList());
  }

  private static Finish finish(TaskRecord r, StrandDocument s, Path folder) {
    Extra extra = Extra.valueOf(r.getExtra());
    return new Finish(
        extra,
        FrameState.valueOf(r.getState()),
        r.getAttempts(),
        r.getSeconds(),
        Finishing.file(s, folder, extra).toString(),
        r.getFailure());
  }

  private static Bake bake(TaskRecord r) {
    return new Bake(
        FrameState.valueOf(r.getState()),
        r.getAttempts(),
        r.getSeconds(),
        r.getPoints(),
        r.getFailure());
  }
}
