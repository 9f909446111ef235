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
import posada.formats.settings.Documents;
import posada.formats.settings.ShotDocument;
import posada.server.app.ConflictException;

/** Keeps shots. */
@Repository
class ShotRepository {
  private final DSLContext db;

  ShotRepository(DSLContext db) {
    this.db = db;
  }

  /** Returns a production's shots in their order. */
  List<Shot> all(long production) {
    return db.selectFrom(SHOT)
        .where(SHOT.PRODUCTION_ID.eq(production), SHOT.REMOVED.isFalse())
        .orderBy(SHOT.PLACE, SHOT.ID)
        .fetch()
        .map(ShotRepository::shot);
  }

  Optional<Shot> find(long id) {
    return db.selectFrom(SHOT)
        .where(SHOT.ID.eq(id), SHOT.REMOVED.isFalse())
        .fetchOptional()
        .map(ShotRepository::shot);
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
        entry(SHOT.PLACE, s.place()),
        entry(SHOT.RECIPE_ID, s.recipeId()),
        entry(SHOT.DELIVERY_ID, s.deliveryId()),
        entry(SHOT.SETTINGS, Documents.write(s.settings())));
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

  /** Removes a shot; its row stays, under a name that nobody gives, for its runs and for undo. */
  void remove(long id) {
    db.update(SHOT)
        .set(SHOT.REMOVED, true)
        .set(SHOT.NAME, "/removed " + id)
        .where(SHOT.ID.eq(id))
        .execute();
  }

  /** Brings a shot to a state, whether it is removed or not. */
  void bring(Shot s) {
    try {
      db.update(SHOT)
          .set(values(s))
          .set(SHOT.REMOVED, false)
          .set(SHOT.VERSION, SHOT.VERSION.plus(1))
          .where(SHOT.ID.eq(s.id()))
          .execute();
    } catch (DuplicateKeyException e) {
      throw taken(s);
    }
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
        r.get(SHOT.PLACE),
        r.get(SHOT.RECIPE_ID),
        r.get(SHOT.DELIVERY_ID),
        Documents.read(r.get(SHOT.SETTINGS), ShotDocument.class));
  }
}
