package posada.server.review;

import static posada.server.storage.generated.Tables.APPROVAL;
import static posada.server.storage.generated.Tables.RUN_STRAND;

import java.time.LocalDateTime;
import java.time.ZoneOffset;
import java.util.List;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.server.storage.generated.tables.records.ApprovalRecord;

/** Keeps who approved what. */
@Repository
class ApprovalRepository {
  private final DSLContext db;

  ApprovalRepository(DSLContext db) {
    this.db = db;
  }

  /** Returns all decisions of a production, the newest first. */
  List<Approval> all(long production) {
    return db.select(APPROVAL.asterisk())
        .from(APPROVAL)
        .join(RUN_STRAND)
        .on(RUN_STRAND.ID.eq(APPROVAL.STRAND_ID))
        .where(RUN_STRAND.PRODUCTION_ID.eq(production))
        .orderBy(APPROVAL.ID.desc())
        .fetch(r -> approval(r.into(APPROVAL)));
  }

  long add(Approval a) {
    ApprovalRecord r = db.newRecord(APPROVAL);
    r.setStrandId(a.strandId());
    r.setApproved(a.approved());
    r.setWho(a.who());
    r.setNote(a.note());
    r.setSaidAt(LocalDateTime.ofInstant(a.saidAt(), ZoneOffset.UTC));
    r.store();
    return r.getId();
  }

  private static Approval approval(ApprovalRecord r) {
    return new Approval(
        r.getId(),
        r.getStrandId(),
        r.getApproved(),
        r.getWho(),
        r.getNote(),
        r.getSaidAt().toInstant(ZoneOffset.UTC));
  }
}
