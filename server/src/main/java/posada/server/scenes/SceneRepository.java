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

  /** Adds the next revision of a scene and returns it. */
  Revision add(long production, String scene, String fileName, String sha256, SceneReport report) {
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
            .set(REVISION.FILE_NAME, fileName)
            .set(REVISION.SHA256, sha256)
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
    return revisions(REVISION.PRODUCTION_ID.eq(production).and(REVISION.REMOVED.isFalse()));
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
    return db.fetchExists(REVISION, REVISION.ID.eq(id), REVISION.REMOVED.isFalse());
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
    if (report.animations().isEmpty()) {
      return FrameRange.parse("1");
    }
    double start = report.animations().stream().mapToDouble(a -> a.start()).min().orElse(0);
    double end = report.animations().stream().mapToDouble(a -> a.end()).max().orElse(0);
    return FrameRange.ofAnimation(start, end, rate);
  }
}
