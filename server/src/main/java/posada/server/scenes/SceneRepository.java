package posada.server.scenes;

import static posada.server.storage.generated.Tables.PRODUCTION;
import static posada.server.storage.generated.Tables.REVISION;

import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.Condition;
import org.jooq.DSLContext;
import org.jooq.Record;
import org.jooq.impl.DSL;
import org.springframework.stereotype.Repository;
import posada.core.plan.FrameRange;
import posada.formats.gltf.SceneReport;
import tools.jackson.databind.json.JsonMapper;

/** Keeps revisions of scenes. */
@Repository
class SceneRepository {
  private final DSLContext db;
  private final JsonMapper json;
  private final Clock clock = Clock.systemUTC();

  SceneRepository(DSLContext db, JsonMapper json) {
    this.db = db;
    this.json = json;
  }

  /**
   * A scene's files.
   *
   * @param origin the upload that they were made of; null if they are the upload
   */
  record Files(String fileName, String sha256, String origin) {
    static Files of(String fileName, String sha256, String origin) {
      return new Files(fileName, sha256, origin.equals(sha256) ? null : origin);
    }
  }

  /**
   * Adds the next revision of a scene and returns it.
   *
   * @param waiting true if it is not taken yet
   */
  Revision add(long production, String scene, Files files, SceneReport report, boolean waiting) {
    int number =
        1
            + db.select(DSL.coalesce(DSL.max(REVISION.NUMBER), 0))
                .from(REVISION)
                .where(REVISION.PRODUCTION_ID.eq(production), REVISION.SCENE.eq(scene))
                .fetchSingle()
                .value1();
    Long id =
        db.insertInto(REVISION)
            .set(REVISION.PRODUCTION_ID, production)
            .set(REVISION.SCENE, scene)
            .set(REVISION.NUMBER, number)
            .set(REVISION.FILE_NAME, files.fileName)
            .set(REVISION.SHA256, files.sha256)
            .set(REVISION.ORIGIN, files.origin)
            .set(REVISION.WAITING, waiting)
            .set(REVISION.REPORT, json.writeValueAsString(report))
            .set(REVISION.IMPORTED_AT, LocalDateTime.now(clock))
            .returningResult(REVISION.ID)
            .fetchSingle()
            .value1();
    return find(id).orElseThrow();
  }

  /** Returns a revision, removed or not. */
  Optional<Revision> find(long id) {
    return revisions(REVISION.ID.eq(id)).stream().findFirst();
  }

  /** Returns a production's revisions, newest first. */
  List<Revision> all(long production) {
    return all(production, false);
  }

  /** Returns a production's revisions that wait to be taken, newest first. */
  List<Revision> waiting(long production) {
    return all(production, true);
  }

  private List<Revision> all(long production, boolean waiting) {
    return revisions(
        REVISION
            .PRODUCTION_ID
            .eq(production)
            .and(REVISION.REMOVED.isFalse())
            .and(REVISION.WAITING.eq(waiting)));
  }

  private List<Revision> revisions(Condition which) {
    return db.select(REVISION.fields())
        .select(PRODUCTION.FRAME_RATE)
        .from(REVISION)
        .join(PRODUCTION)
        .on(PRODUCTION.ID.eq(REVISION.PRODUCTION_ID))
        .where(which)
        .orderBy(REVISION.ID.desc())
        .fetch()
        .map(r -> revision(r, r.get(PRODUCTION.FRAME_RATE)));
  }

  /** Returns true if a revision is there and not removed. */
  boolean there(long id) {
    return db.fetchExists(
        REVISION, REVISION.ID.eq(id), REVISION.REMOVED.isFalse(), REVISION.WAITING.isFalse());
  }

  boolean waits(long id) {
    return db.fetchExists(
        REVISION, REVISION.ID.eq(id), REVISION.REMOVED.isFalse(), REVISION.WAITING.isTrue());
  }

  /** Takes one that waits. */
  void accept(long id) {
    db.update(REVISION).set(REVISION.WAITING, false).where(REVISION.ID.eq(id)).execute();
  }

  /** Forgets one that nothing has used. */
  void forget(long id) {
    db.deleteFrom(REVISION).where(REVISION.ID.eq(id)).execute();
  }

  /** Returns true if any revision, removed or not, is of these files. */
  boolean uses(String sha256) {
    return db.fetchExists(REVISION, REVISION.SHA256.eq(sha256).or(REVISION.ORIGIN.eq(sha256)));
  }

  /** Returns the folder of the upload that a revision was made of. */
  String origin(long id) {
    return db.select(DSL.coalesce(REVISION.ORIGIN, REVISION.SHA256))
        .from(REVISION)
        .where(REVISION.ID.eq(id))
        .fetchSingle()
        .value1();
  }

  /** Gives a revision other files, made of the same upload. */
  void mend(long id, String sha256, SceneReport report) {
    String origin = origin(id);
    db.update(REVISION)
        .set(REVISION.SHA256, sha256)
        .set(REVISION.ORIGIN, origin.equals(sha256) ? null : origin)
        .set(REVISION.REPORT, json.writeValueAsString(report))
        .where(REVISION.ID.eq(id))
        .execute();
  }

  void remove(long id, boolean removed) {
    db.update(REVISION).set(REVISION.REMOVED, removed).where(REVISION.ID.eq(id)).execute();
  }

  private Revision revision(Record r, double rate) {
    SceneReport report = json.readValue(r.get(REVISION.REPORT), SceneReport.class);
    FrameRange range = range(report, rate);
    return new Revision(
        r.get(REVISION.ID),
        r.get(REVISION.PRODUCTION_ID),
        r.get(REVISION.SCENE),
        r.get(REVISION.NUMBER),
        r.get(REVISION.FILE_NAME),
        r.get(REVISION.SHA256),
        report,
        r.get(REVISION.IMPORTED_AT).toInstant(ZoneOffset.UTC),
        range.first(),
        range.last());
  }

  private static FrameRange range(SceneReport report, double rate) {
    if (report.playing().isEmpty()) {
      return FrameRange.parse("1");
    }
    double start = report.playing().stream().mapToDouble(a -> a.start()).min().orElse(0);
    double end = report.playing().stream().mapToDouble(a -> a.end()).max().orElse(0);
    return FrameRange.ofAnimation(start, end, rate);
  }
}
