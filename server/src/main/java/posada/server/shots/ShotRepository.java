package posada.server.shots;

import static posada.server.storage.generated.Tables.SHOT;

import java.util.List;
import java.util.Map;
import java.util.Optional;
import org.jooq.DSLContext;
import org.jooq.Field;
import org.jooq.Record;
import org.springframework.dao.DuplicateKeyException;
import org.springframework.stereotype.Repository;
import posada.server.app.ConflictException;

/** Keeps shots. */
@Repository
class ShotRepository {
  private final DSLContext db;

  ShotRepository(DSLContext db) {
    this.db = db;
  }

  List<Shot> all() {
    return db.selectFrom(SHOT).orderBy(SHOT.ID).fetch(ShotRepository::shot);
  }

  Optional<Shot> find(long id) {
    return db.selectFrom(SHOT).where(SHOT.ID.eq(id)).fetchOptional(ShotRepository::shot);
  }

  private static Map<Field<?>, Object> values(Shot s) {
    return Map.of(
        SHOT.REVISION_ID, s.revisionId(),
        SHOT.NAME, s.name().strip(),
        SHOT.CAMERA, s.camera(),
        SHOT.FRAMES, s.frames().strip(),
        SHOT.WIDTH, s.width(),
        SHOT.HEIGHT, s.height(),
        SHOT.SCALE, s.scale(),
        SHOT.SAMPLES, s.samples(),
        SHOT.PASSES, String.join(",", s.passes()),
        SHOT.FORMATS, String.join(",", s.formats()));
  }

  Shot add(long productionId, Shot s) {
    try {
      Long id =
          db.insertInto(SHOT)
              .set(values(s))
              .set(SHOT.PRODUCTION_ID, productionId)
              .set(SHOT.VERSION, 1)
              .returningResult(SHOT.ID)
              .fetchSingle()
              .value1();
      return find(id).orElseThrow();
    } catch (DuplicateKeyException e) {
      throw taken(s);
    }
  }

  /** Changes a shot if nobody else did since its version was read. */
  Shot change(Shot s) {
    try {
      int rows =
          db.update(SHOT)
              .set(values(s))
              .set(SHOT.VERSION, s.version() + 1)
              .where(SHOT.ID.eq(s.id()), SHOT.VERSION.eq(s.version()))
              .execute();
      if (rows == 0) {
        throw new ConflictException(
            "Shot \"" + s.name() + "\" was changed or removed elsewhere; load it again.");
      }
      return find(s.id()).orElseThrow();
    } catch (DuplicateKeyException e) {
      throw taken(s);
    }
  }

  private static ConflictException taken(Shot s) {
    return new ConflictException(
        "There is a shot named \"" + s.name() + "\" already; choose another name.");
  }

  void remove(long id) {
    db.deleteFrom(SHOT).where(SHOT.ID.eq(id)).execute();
  }

  private static Shot shot(Record r) {
    return new Shot(
        r.get(SHOT.ID),
        r.get(SHOT.VERSION),
        r.get(SHOT.REVISION_ID),
        r.get(SHOT.NAME),
        r.get(SHOT.CAMERA),
        r.get(SHOT.FRAMES),
        r.get(SHOT.WIDTH),
        r.get(SHOT.HEIGHT),
        r.get(SHOT.SCALE),
        r.get(SHOT.SAMPLES),
        List.of(r.get(SHOT.PASSES).split(",")),
        List.of(r.get(SHOT.FORMATS).split(",")));
  }
}
