package posada.server.scenes;

import static posada.server.storage.generated.Tables.PRODUCTION;
import static posada.server.storage.generated.Tables.REVISION;

import java.time.Clock;
import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.DSLContext;
import org.jooq.Record;
import org.jooq.impl.DSL;
import org.springframework.stereotype.Repository;
import posada.core.plan.FrameRange;
import posada.formats.gltf.SceneReport;
import tools.jackson.databind.json.JsonMapper;

/** Keeps productions and revisions. */
@Repository
public class SceneRepository {
  private final DSLContext db;
  private final JsonMapper json;
  private final Clock clock = Clock.systemUTC();

  public SceneRepository(DSLContext db, JsonMapper json) {
    this.db = db;
    this.json = json;
  }

  /** Returns the production; the database begins with one. */
  public Production production() {
    return db.selectFrom(PRODUCTION)
        .orderBy(PRODUCTION.ID)
        .limit(1)
        .fetchSingle(SceneRepository::production);
  }

  void change(Production p) {
    db.update(PRODUCTION)
        .set(PRODUCTION.NAME, p.name())
        .set(PRODUCTION.FRAME_RATE, p.frameRate())
        .set(PRODUCTION.WIDTH, p.width())
        .set(PRODUCTION.HEIGHT, p.height())
        .where(PRODUCTION.ID.eq(p.id()))
        .execute();
  }

  private static Production production(Record r) {
    return new Production(
        r.get(PRODUCTION.ID),
        r.get(PRODUCTION.NAME),
        r.get(PRODUCTION.FRAME_RATE),
        r.get(PRODUCTION.WIDTH),
        r.get(PRODUCTION.HEIGHT));
  }

  /** Adds the next revision of a scene and returns it. */
  Revision add(Production p, String scene, String fileName, String sha256, SceneReport report) {
    int number =
        1
            + db.select(DSL.coalesce(DSL.max(REVISION.NUMBER), 0))
                .from(REVISION)
                .where(REVISION.PRODUCTION_ID.eq(p.id()), REVISION.SCENE.eq(scene))
                .fetchSingle()
                .value1();
    Long id =
        db.insertInto(REVISION)
            .set(REVISION.PRODUCTION_ID, p.id())
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

  /** Returns a revision. */
  public Optional<Revision> find(long id) {
    double rate = production().frameRate();
    return db.selectFrom(REVISION).where(REVISION.ID.eq(id)).fetchOptional(r -> revision(r, rate));
  }

  /** Returns all revisions, newest first. */
  public List<Revision> all() {
    double rate = production().frameRate();
    return db.selectFrom(REVISION).orderBy(REVISION.ID.desc()).fetch(r -> revision(r, rate));
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
