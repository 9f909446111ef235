package posada.server.changes;

import static org.jooq.impl.DSL.max;
import static org.jooq.impl.DSL.min;
import static posada.server.storage.generated.Tables.CHANGE;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.server.storage.generated.tables.records.ChangeRecord;

/** Keeps the log of changes. */
@Repository
class ChangeRepository {
  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();

  ChangeRepository(DSLContext db) {
    this.db = db;
  }

  private static Condition of(long production, String window) {
    return CHANGE.PRODUCTION_ID.eq(production).and(CHANGE.CHANGED_IN.eq(window));
  }

  /** Adds a change; returns its number. */
  long add(
      long production,
      Long step,
      String window,
      String kind,
      long entity,
      String before,
      String after,
      String sentence) {
    ChangeRecord r = db.newRecord(CHANGE);
    r.setStep(step == null ? 0 : step);
    r.setProductionId(production);
    r.setChangedIn(window);
    r.setChangedAt(LocalDateTime.now(clock));
    r.setKind(kind);
    r.setEntityId(entity);
    r.setStateBefore(before);
    r.setStateAfter(after);
    r.setSentence(sentence);
    r.store();
    if (step == null) {
      r.setStep(r.getId());
      r.store();
    }
    return r.getStep();
  }

  /** Forgets what a window has undone: it has gone another way since. */
  void forgetUndone(long production, String window) {
    db.deleteFrom(CHANGE).where(of(production, window), CHANGE.UNDONE.isTrue()).execute();
  }

  /** Returns the changes of the step that undo would take back, the newest first. */
  List<Change> lastDone(long production, String window) {
    var step =
        db.select(max(CHANGE.STEP))
            .from(CHANGE)
            .where(of(production, window), CHANGE.UNDONE.isFalse());
    return db.selectFrom(CHANGE)
        .where(CHANGE.STEP.eq(step))
        .orderBy(CHANGE.ID.desc())
        .fetch()
        .map(ChangeRepository::change);
  }

  /** Returns the changes of the step that redo would do again, the oldest first. */
  List<Change> firstUndone(long production, String window) {
    var step =
        db.select(min(CHANGE.STEP))
            .from(CHANGE)
            .where(of(production, window), CHANGE.UNDONE.isTrue());
    return db.selectFrom(CHANGE)
        .where(CHANGE.STEP.eq(step))
        .orderBy(CHANGE.ID)
        .fetch()
        .map(ChangeRepository::change);
  }

  void mark(long step, boolean undone) {
    db.update(CHANGE).set(CHANGE.UNDONE, undone).where(CHANGE.STEP.eq(step)).execute();
  }

  /** Forgets a step that others have overtaken. */
  void forget(long step) {
    db.deleteFrom(CHANGE).where(CHANGE.STEP.eq(step)).execute();
  }

  /** Forgets changes from before a moment. */
  void forgetBefore(Instant moment) {
    db.deleteFrom(CHANGE)
        .where(CHANGE.CHANGED_AT.lt(LocalDateTime.ofInstant(moment, ZoneOffset.UTC)))
        .execute();
  }

  /** Returns the newest change of a thing by another window. */
  Optional<Change> newestElsewhere(String kind, long entity, String window) {
    return db.selectFrom(CHANGE)
        .where(CHANGE.KIND.eq(kind), CHANGE.ENTITY_ID.eq(entity), CHANGE.CHANGED_IN.ne(window))
        .orderBy(CHANGE.ID.desc())
        .limit(1)
        .fetchOptional()
        .map(ChangeRepository::change);
  }

  private static Change change(ChangeRecord r) {
    return new Change(
        r.getId(),
        r.getStep(),
        r.getChangedIn(),
        r.getChangedAt().toInstant(ZoneOffset.UTC),
        r.getKind(),
        r.getEntityId(),
        r.getStateBefore(),
        r.getStateAfter(),
        r.getSentence());
  }
}
