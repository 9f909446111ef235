package posada.server.assembly;

import static org.jooq.impl.DSL.coalesce;
import static org.jooq.impl.DSL.count;
import static org.jooq.impl.DSL.exists;
import static org.jooq.impl.DSL.inline;
import static org.jooq.impl.DSL.max;
import static org.jooq.impl.DSL.notExists;
import static org.jooq.impl.DSL.selectOne;
import static org.jooq.impl.DSL.sum;
import static posada.server.storage.generated.Tables.FILM;
import static posada.server.storage.generated.Tables.FILM_TASK;

import java.math.BigDecimal;
import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.impl.DSL;
import org.springframework.stereotype.Repository;
import org.springframework.transaction.annotation.Transactional;
import posada.formats.assembly.FilmDocument;
import posada.formats.settings.Documents;
import posada.server.storage.generated.tables.records.FilmRecord;

/** Keeps films and their tasks. */
@Repository
class FilmRepository {
  /** The place of what is made of all frames. */
  static final int WHOLE = 1 << 30;

  private static final int LONGEST = 1900, MOST_SAID = 50;

  /** How a task stands. */
  enum TaskState {
    WAITING,
    RENDERING,
    FRESH,
    FAILED
  }

  /** A task: a frame by its place, or the whole. */
  record FilmTask(long id, long film, int place, int attempts) {}

  private final DSLContext db;
  private final Clock clock = Clock.systemUTC();

  FilmRepository(DSLContext db) {
    this.db = db;
  }

  int nextVersion(long production, String name) {
    Integer last =
        db.select(max(FILM.VERSION))
            .from(FILM)
            .where(FILM.PRODUCTION_ID.eq(production), FILM.NAME.eq(name))
            .fetchSingle()
            .value1();
    return last == null ? 1 : last + 1;
  }

  @Transactional
  long add(long production, FilmDocument d, String folder, int frames) {
    FilmRecord r = db.newRecord(FILM);
    r.setProductionId(production);
    r.setName(d.name());
    r.setVersion(d.version());
    r.setState(Film.State.RUNNING.name());
    r.setDocument(Documents.write(d));
    r.setFolder(folder);
    r.setTotal(frames + 1);
    r.setStartedAt(LocalDateTime.now(clock));
    r.store();
    tasks(r.getId(), frames);
    return r.getId();
  }

  private void tasks(long film, int frames) {
    var insert =
        db.insertInto(
            FILM_TASK, FILM_TASK.FILM_ID, FILM_TASK.PLACE, FILM_TASK.STATE, FILM_TASK.ATTEMPTS);
    for (int i = 0; i < frames; i++) {
      insert = insert.values(film, i, TaskState.WAITING.name(), 0);
    }
    insert.values(film, WHOLE, TaskState.WAITING.name(), 0).execute();
  }

  /** Begins a film anew, with another document: its frames are looked at again. */
  @Transactional
  void again(long id, FilmDocument d, int frames) {
    db.deleteFrom(FILM_TASK).where(FILM_TASK.FILM_ID.eq(id)).execute();
    tasks(id, frames);
    db.update(FILM)
        .set(FILM.DOCUMENT, Documents.write(d))
        .set(FILM.STATE, Film.State.RUNNING.name())
        .set(FILM.TOTAL, frames + 1)
        .setNull(FILM.FAILURE)
        .setNull(FILM.ENDED_AT)
        .where(FILM.ID.eq(id))
        .execute();
  }

  List<Film> all(long production) {
    return films(FILM.PRODUCTION_ID.eq(production));
  }

  Optional<Film> find(long id) {
    return films(FILM.ID.eq(id)).stream().findFirst();
  }

  private List<Film> films(Condition which) {
    var fresh = DSL.when(FILM_TASK.STATE.eq(TaskState.FRESH.name()), 1).otherwise(0);
    var failed = DSL.when(FILM_TASK.STATE.eq(TaskState.FAILED.name()), 1).otherwise(0);
    return db
        .select(
            FILM.asterisk(),
            sum(fresh).as("fresh"),
            sum(failed).as("broken"),
            coalesce(sum(FILM_TASK.SECONDS), inline(BigDecimal.ZERO)).as("took"))
        .from(FILM)
        .leftJoin(FILM_TASK)
        .on(FILM_TASK.FILM_ID.eq(FILM.ID))
        .where(which)
        .groupBy(FILM.fields())
        .orderBy(FILM.ID.desc())
        .fetch()
        .stream()
        .map(
            r -> {
              FilmRecord f = r.into(FILM);
              return new Film(
                  f.getId(),
                  f.getProductionId(),
                  f.getName(),
                  f.getVersion(),
                  Film.State.valueOf(f.getState()),
                  Documents.read(f.getDocument(), FilmDocument.class),
                  f.getFolder(),
                  f.getTotal(),
                  number(r.get("fresh", BigDecimal.class)),
                  number(r.get("broken", BigDecimal.class)),
                  f.getFailure() != null ? f.getFailure() : failure(f.getId()),
                  r.get("took", Double.class),
                  said(f.getId()),
                  f.getStartedAt().toInstant(ZoneOffset.UTC));
            })
        .toList();
  }

  private static int number(BigDecimal n) {
    return n == null ? 0 : n.intValue();
  }

  private String failure(long film) {
    return db.select(FILM_TASK.FAILURE)
        .from(FILM_TASK)
        .where(FILM_TASK.FILM_ID.eq(film), FILM_TASK.STATE.eq(TaskState.FAILED.name()))
        .orderBy(FILM_TASK.PLACE)
        .limit(1)
        .fetchOne(FILM_TASK.FAILURE);
  }

  private List<String> said(long film) {
    return db
        .selectDistinct(FILM_TASK.SAID)
        .from(FILM_TASK)
        .where(FILM_TASK.FILM_ID.eq(film), FILM_TASK.SAID.isNotNull())
        .limit(MOST_SAID)
        .fetch(FILM_TASK.SAID)
        .stream()
        .flatMap(s -> Stream.of(s.split("\n")))
        .distinct()
        .limit(MOST_SAID)
        .toList();
  }

  /** Returns the films of which something waits that can be done. */
  List<Long> open() {
    return db.select(FILM.ID)
        .from(FILM)
        .where(
            FILM.STATE.eq(Film.State.RUNNING.name()),
            exists(selectOne().from(FILM_TASK).where(FILM_TASK.FILM_ID.eq(FILM.ID), waits())))
        .orderBy(FILM.ID)
        .fetch(FILM.ID);
  }

  /** Returns the films that are being made, or of which something is in work. */
  List<Long> begun() {
    return db.select(FILM.ID)
        .from(FILM)
        .where(
            FILM.STATE
                .eq(Film.State.RUNNING.name())
                .or(
                    exists(
                        selectOne()
                            .from(FILM_TASK)
                            .where(FILM_TASK.FILM_ID.eq(FILM.ID), inWork()))))
        .fetch(FILM.ID);
  }

  private static Condition waits() {
    return FILM_TASK.STATE.eq(TaskState.WAITING.name());
  }

  /** Returns tasks of a film that can be done: the whole when all frames are there. */
  List<Long> next(long film, int most, Collection<Long> but) {
    var other = FILM_TASK.as("other");
    Condition all =
        notExists(
            selectOne()
                .from(other)
                .where(
                    other.FILM_ID.eq(film),
                    other.PLACE.lt(WHOLE),
                    other.STATE.ne(TaskState.FRESH.name())));
    return db.select(FILM_TASK.ID)
        .from(FILM_TASK)
        .where(
            FILM_TASK.FILM_ID.eq(film),
            waits(),
            FILM_TASK.ID.notIn(but),
            FILM_TASK.PLACE.lt(WHOLE).or(all))
        .orderBy(FILM_TASK.ATTEMPTS, FILM_TASK.PLACE)
        .limit(most)
        .fetch(FILM_TASK.ID);
  }

  /**
   * Takes a task if its film is being made.
   *
   * @param again true to take one that is in work, too
   */
  Optional<FilmTask> take(long id, boolean again) {
    Condition state = again ? waits().or(inWork()) : waits();
    int taken =
        db.update(FILM_TASK)
            .set(FILM_TASK.STATE, TaskState.RENDERING.name())
            .set(FILM_TASK.ATTEMPTS, FILM_TASK.ATTEMPTS.plus(1))
            .where(
                FILM_TASK.ID.eq(id),
                state,
                FILM_TASK.FILM_ID.in(
                    DSL.select(FILM.ID).from(FILM).where(FILM.STATE.eq(Film.State.RUNNING.name()))))
            .execute();
    return taken == 0
        ? Optional.empty()
        : db.selectFrom(FILM_TASK)
            .where(FILM_TASK.ID.eq(id))
            .fetchOptional(
                r -> new FilmTask(r.getId(), r.getFilmId(), r.getPlace(), r.getAttempts()));
  }

  private static Condition inWork() {
    return FILM_TASK.STATE.eq(TaskState.RENDERING.name());
  }

  /** Says what became of a task that is in work. */
  void ended(FilmTask t, TaskState to, Double seconds, String failure, String said) {
    db.update(FILM_TASK)
        .set(FILM_TASK.STATE, to.name())
        .set(FILM_TASK.SECONDS, seconds)
        .set(FILM_TASK.FAILURE, shorter(failure))
        .set(FILM_TASK.SAID, shorter(said))
        .where(FILM_TASK.ID.eq(t.id()), inWork())
        .execute();
  }

  private static String shorter(String s) {
    return s == null || s.length() <= LONGEST ? s : s.substring(0, LONGEST);
  }

  /** Lets everything of a film that failed, or all of all films that was in work, wait again. */
  void waitAgain(Long film) {
    db.update(FILM_TASK)
        .set(FILM_TASK.STATE, TaskState.WAITING.name())
        .set(FILM_TASK.ATTEMPTS, film == null ? FILM_TASK.ATTEMPTS : inline(0))
        .where(
            film == null
                ? inWork()
                : FILM_TASK.FILM_ID.eq(film).and(FILM_TASK.STATE.eq(TaskState.FAILED.name())))
        .execute();
  }

  /** Returns how many tasks of a film are in a state. */
  int howMany(long film, TaskState s) {
    return db.select(count())
        .from(FILM_TASK)
        .where(FILM_TASK.FILM_ID.eq(film), FILM_TASK.STATE.eq(s.name()))
        .fetchSingle()
        .value1();
  }

  void move(long id, Film.State to) {
    db.update(FILM)
        .set(FILM.STATE, to.name())
        .set(FILM.ENDED_AT, to == Film.State.RUNNING ? null : LocalDateTime.now(clock))
        .where(FILM.ID.eq(id))
        .execute();
  }

  void remove(long id) {
    db.deleteFrom(FILM).where(FILM.ID.eq(id)).execute();
  }
}
