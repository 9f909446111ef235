package posada.server.review;

import static posada.server.storage.generated.Tables.OUTSIDE_SEQUENCE;

import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.server.storage.generated.tables.records.OutsideSequenceRecord;

/** Keeps which sequences from elsewhere are looked at. */
@Repository
class OutsideRepository {
  private final DSLContext db;

  OutsideRepository(DSLContext db) {
    this.db = db;
  }

  List<OutsideSequence> all(long production) {
    return db.selectFrom(OUTSIDE_SEQUENCE)
        .where(OUTSIDE_SEQUENCE.PRODUCTION_ID.eq(production))
        .orderBy(OUTSIDE_SEQUENCE.ID.desc())
        .fetch(OutsideRepository::sequence);
  }

  Optional<OutsideSequence> find(long id) {
    return db.selectFrom(OUTSIDE_SEQUENCE)
        .where(OUTSIDE_SEQUENCE.ID.eq(id))
        .fetchOptional(OutsideRepository::sequence);
  }

  long add(OutsideSequence s) {
    OutsideSequenceRecord r = db.newRecord(OUTSIDE_SEQUENCE);
    r.setProductionId(s.productionId());
    r.setName(s.name());
    r.setFolder(s.folder());
    r.setPattern(s.pattern());
    r.setFilm(s.film());
    r.setFrameRate(s.frameRate());
    r.setAddedAt(LocalDateTime.ofInstant(s.addedAt(), ZoneOffset.UTC));
    r.store();
    return r.getId();
  }

  void rate(long id, double rate) {
    db.update(OUTSIDE_SEQUENCE)
        .set(OUTSIDE_SEQUENCE.FRAME_RATE, rate)
        .where(OUTSIDE_SEQUENCE.ID.eq(id))
        .execute();
  }

  void remove(long id) {
    db.deleteFrom(OUTSIDE_SEQUENCE).where(OUTSIDE_SEQUENCE.ID.eq(id)).execute();
  }

  private static OutsideSequence sequence(OutsideSequenceRecord r) {
    return new OutsideSequence(
        r.getId(),
        r.getProductionId(),
        r.getName(),
        r.getFolder(),
        r.getPattern(),
        r.getFilm(),
        r.getFrameRate(),
        r.getAddedAt().toInstant(ZoneOffset.UTC));
  }
}
