package posada.server.estimates;

import static posada.server.storage.generated.Tables.TRIAL;

import java.util.List;
import org.jooq.DSLContext;
import org.springframework.stereotype.Repository;
import posada.core.plan.Estimate.Trial;
import posada.server.storage.generated.tables.records.TrialRecord;

/** Keeps what trials found. */
@Repository
class TrialRepository {
  private final DSLContext db;

  TrialRepository(DSLContext db) {
    this.db = db;
  }

  List<Trial> of(String basis) {
    return db.selectFrom(TRIAL)
        .where(TRIAL.BASIS.eq(basis))
        .orderBy(TRIAL.FRAME)
        .fetch(
            r ->
                new Trial(
                    r.getFrame(),
                    r.getBuilding(),
                    r.getPerSample(),
                    r.getPerPixel(),
                    r.getBytesPerPixel(),
                    r.getNoise()));
  }

  void put(String basis, Trial t) {
    TrialRecord r = db.newRecord(TRIAL);
    r.setBasis(basis);
    r.setFrame(t.frame());
    r.setBuilding(t.building());
    r.setPerSample(t.perSample());
    r.setPerPixel(t.perPixel());
    r.setBytesPerPixel(t.bytesPerPixel());
    r.setNoise(t.noise());
    r.merge();
  }
}
