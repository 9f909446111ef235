package posada.server.shots;

import static java.util.Map.entry;
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
import tools.jackson.databind.json.JsonMapper;

/** Keeps shots. */
@Repository
class ShotRepository {
  private final DSLContext db;

  private final JsonMapper json;

  ShotRepository(DSLContext db, JsonMapper json) {
    this.db = db;
    this.json = json;
  }

  List<Shot> all() {
    return db.selectFrom(SHOT).orderBy(SHOT.ID).fetch(this::shot);
  }

  Optional<Shot> find(long id) {
    return db.selectFrom(SHOT).where(SHOT.ID.eq(id)).fetchOptional(this::shot);
  }

  private Map<Field<?>, Object> values(Shot s) {
    return Map.ofEntries(
        entry(SHOT.REVISION_ID, s.revisionId()),
        entry(SHOT.NAME, s.name().strip()),
        entry(SHOT.CAMERA, s.camera()),
        entry(SHOT.FRAMES, s.frames().strip()),
        entry(SHOT.WIDTH, s.width()),
        entry(SHOT.HEIGHT, s.height()),
        entry(SHOT.SCALE, s.scale()),
        entry(SHOT.SAMPLES, s.samples()),
        entry(SHOT.PASSES, String.join(",", s.passes())),
        entry(SHOT.FORMATS, String.join(",", s.formats())),
        entry(SHOT.SETTINGS, json.writeValueAsString(s.settings())));
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

  @SuppressWarnings("unchecked")
  private Shot shot(Record r) {
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
        List.of(r.get(SHOT.FORMATS).split(",")),
        json.readValue(r.get(SHOT.SETTINGS), Map.class));
  }
}
