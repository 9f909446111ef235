package posada.server.review;

import static posada.server.storage.generated.Tables.REMARK;

import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.server.storage.generated.tables.records.RemarkRecord;

/** Keeps notes on frames. */
@Repository
class RemarkRepository {
  private final DSLContext db;

  RemarkRepository(DSLContext db) {
    this.db = db;
  }

  /** Returns the notes of a production, by what they are on and by frame. */
  List<Remark> all(long production) {
    return db.selectFrom(REMARK)
        .where(REMARK.PRODUCTION_ID.eq(production))
        .orderBy(REMARK.FOOTAGE, REMARK.FRAME, REMARK.ID)
        .fetch(RemarkRepository::remark);
  }

  Optional<Remark> find(long id) {
    return db.selectFrom(REMARK).where(REMARK.ID.eq(id)).fetchOptional(RemarkRepository::remark);
  }

  /** Keeps a note, a new one if its number is 0; returns the number. */
  long put(Remark m) {
    RemarkRecord r =
        m.id() == 0 ? db.newRecord(REMARK) : db.fetchSingle(REMARK, REMARK.ID.eq(m.id()));
    r.setFootage(m.footage());
    r.setProductionId(m.productionId());
    r.setFrame(m.frame());
    r.setText(m.text());
    r.setX(m.x());
    r.setY(m.y());
    r.setWidth(m.width());
    r.setHeight(m.height());
    r.setWho(m.who());
    r.setWrittenAt(LocalDateTime.ofInstant(m.writtenAt(), ZoneOffset.UTC));
    r.setDone(m.done());
    r.store();
    return r.getId();
  }

  void remove(long id) {
    db.deleteFrom(REMARK).where(REMARK.ID.eq(id)).execute();
  }

  private static Remark remark(RemarkRecord r) {
    return new Remark(
        r.getId(),
        r.getFootage(),
        r.getProductionId(),
        r.getFrame(),
        r.getText(),
        r.getX(),
        r.getY(),
        r.getWidth(),
        r.getHeight(),
        r.getWho(),
        r.getWrittenAt().toInstant(ZoneOffset.UTC),
        r.getDone());
  }
}
