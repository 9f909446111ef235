package posada.server.shots;

import static posada.server.storage.generated.Tables.DEFINITION;
import static posada.server.storage.generated.Tables.SHOT;
import static posada.server.storage.generated.Tables.STRAND;

import java.util.List;
import java.util.Optional;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.core.settings.PassSettings;
import posada.formats.settings.Documents;
import posada.server.storage.generated.tables.records.StrandRecord;

/** Keeps what is said about strands. */
@Repository
class StrandRepository {
  private final DSLContext db;

  StrandRepository(DSLContext db) {
    this.db = db;
  }

  /** Returns what is said about the strands of a production's shots and layers. */
  List<Strand> all(long production) {
    return db.select(STRAND.fields())
        .from(STRAND)
        .join(SHOT)
        .on(SHOT.ID.eq(STRAND.SHOT_ID))
        .join(DEFINITION)
        .on(DEFINITION.ID.eq(STRAND.LAYER_ID))
        .where(
            SHOT.PRODUCTION_ID.eq(production), SHOT.REMOVED.isFalse(), DEFINITION.REMOVED.isFalse())
        .orderBy(STRAND.ID)
        .fetchInto(STRAND)
        .map(StrandRepository::strand);
  }

  Optional<Strand> find(long id) {
    return db.selectFrom(STRAND)
        .where(STRAND.ID.eq(id))
        .fetchOptional()
        .map(StrandRepository::strand);
  }

  /** Returns what is said about a strand; nothing if that is nothing. */
  Optional<Strand> find(long shot, long layer) {
    return db.selectFrom(STRAND)
        .where(STRAND.SHOT_ID.eq(shot), STRAND.LAYER_ID.eq(layer))
        .fetchOptional()
        .map(StrandRepository::strand);
  }

  /** Keeps what is said about a strand, whether anything was before or not. */
  Strand put(Strand s) {
    StrandRecord r = db.newRecord(STRAND);
    r.setShotId(s.shotId());
    r.setLayerId(s.layerId());
    r.setIsOn(s.on());
    r.setRecipeId(s.recipeId());
    r.setDeliveryId(s.deliveryId());
    r.setPasses(s.passes() == null ? null : Documents.write(s.passes()));
    Optional<Strand> there = find(s.shotId(), s.layerId());
    if (there.isPresent()) {
      db.update(STRAND).set(r).where(STRAND.ID.eq(there.get().id())).execute();
      return s.with(there.get().id());
    }
    r.store();
    return s.with(r.getId());
  }

  private static Strand strand(StrandRecord r) {
    return new Strand(
        r.getId(),
        r.getShotId(),
        r.getLayerId(),
        r.getIsOn(),
        r.getRecipeId(),
        r.getDeliveryId(),
        r.getPasses() == null ? null : Documents.read(r.getPasses(), PassSettings.class));
  }
}
